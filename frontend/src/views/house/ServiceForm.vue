<script setup lang="ts">
/** The profile of a service and its key, as they are added. */
import { useI18n } from 'vue-i18n'
import ProblemNote from '@/parts/ProblemNote.vue'

defineProps<{ hint: string; rows: number; pending: boolean; error: unknown; test: string }>()
defineEmits<{ add: [] }>()
const profile = defineModel<string>('profile', { required: true })
const key = defineModel<string>('secret', { required: true })
const { t } = useI18n()
</script>

<template>
  <form class="card adding" @submit.prevent="$emit('add')">
    <slot />
    <label
      >{{ t('house.profile') }}<span class="faint">{{ hint }}</span
      ><el-input
        v-model="profile"
        type="textarea"
        :rows="rows"
        class="mono"
        spellcheck="false"
        :data-test="test"
    /></label>
    <label>{{ t('house.key') }}<el-input v-model="key" type="password" autocomplete="off" /></label>
    <ProblemNote v-if="error" :error="error" />
    <el-button
      type="primary"
      native-type="submit"
      :loading="pending"
      :disabled="!profile.trim()"
      :data-test="`${test}-add`"
      >{{ t('house.add') }}</el-button
    >
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: start;
  margin-bottom: 14px;
  padding: 16px;
}
form :deep(label) {
  display: flex;
  flex-direction: column;
  gap: 3px;
  width: 100%;
  font-size: 13px;
}
</style>
