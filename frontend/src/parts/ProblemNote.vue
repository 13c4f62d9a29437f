<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { Problem } from '@/api/client'

const props = defineProps<{ error: unknown; retry?: () => void }>()
const { t } = useI18n()
const problem = computed(() =>
  props.error instanceof Problem ? props.error : new Problem('failed', String(props.error), '', 0),
)
</script>

<template>
  <div class="note" role="alert">
    <b>{{ problem.message }}</b>
    <span v-if="problem.hint">{{ problem.hint }}</span>
    <button v-if="retry" class="link" @click="retry()">{{ t('error.again') }}</button>
  </div>
</template>

<style scoped>
.note {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  padding: 8px 12px;
  margin: 8px 0;
  border: 1px solid var(--stamp);
  border-inline-start-width: 4px;
  border-radius: 3px;
  background: var(--card);
}
b {
  font-weight: 500;
}
</style>
