<script setup lang="ts">
/** What is accepted so far, and what one may do with it. */
import { useI18n } from 'vue-i18n'

defineProps<{ accepted: number; moving: number; mendable: number }>()
const emit = defineEmits<{ review: []; acceptAll: [] }>()
const { t, n } = useI18n()
</script>

<template>
  <div class="foot">
    <el-button type="primary" :disabled="!accepted" @click="emit('review')"
      >{{ t('names.review') }} <kbd>Enter</kbd></el-button
    >
    <b>{{
      accepted
        ? moving
          ? t('names.acceptedOf', { n: n(accepted), files: n(moving) }, moving)
          : t('names.acceptedMany', { n: n(accepted) })
        : t('names.nothingAccepted')
    }}</b>
    <button v-if="mendable" class="link" @click="emit('acceptAll')">
      {{ t('names.acceptAll', mendable) }} <kbd>A</kbd>
    </button>
    <span class="keys"
      ><kbd>a</kbd> {{ t('names.accept') }} <kbd>s</kbd> {{ t('names.skip') }} <kbd>e</kbd>
      {{ t('names.edit') }} <kbd>x</kbd> {{ t('names.excuse') }}</span
    >
  </div>
</template>

<style scoped>
.foot {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
  margin: auto -22px 0;
  padding: 12px 22px;
  background: var(--desk);
  border-top: 1px solid var(--rule);
}
.foot b {
  font-weight: 500;
}
.foot kbd {
  margin-inline-start: 4px;
}
.keys {
  margin-inline-start: auto;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.keys kbd {
  margin-inline: 8px 2px;
}
@media (max-width: 860px) {
  .foot {
    margin: 12px -12px 0;
  }
  .keys {
    display: none;
  }
}
</style>
