<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { useI18n } from 'vue-i18n'
import { api, ask, type Library } from '@/api/client'

type Loudness = 'off' | 'note' | 'advice' | 'problem' | null
const LEVELS = ['own', 'problem', 'advice', 'note', 'off'] as const
const props = defineProps<{ slug: string; libraries: readonly Library[] }>()
const { t } = useI18n()
const client = useQueryClient()
async function set(library: Library, event: Event): Promise<void> {
  const value = (event.target as HTMLSelectElement).value
  const loudness = (value === 'own' ? null : value) as Loudness
  await ask(
    api.PUT('/api/libraries/{library_id}/checks/{slug}', {
      params: { path: { library_id: library.id, slug: props.slug } },
      body: { loudness },
    }),
  ).catch((reason: Error) => ElMessage({ message: reason.message, type: 'warning' }))
  await client.invalidateQueries()
}
</script>

<template>
  <div class="settings">
    <label v-for="library in libraries" :key="library.id"
      ><span>{{ t('names.loud', { library: library.name }) }}</span>
      <select :value="library.checks[slug] ?? 'own'" @change="set(library, $event)">
        <option v-for="level in LEVELS" :key="level" :value="level">
          {{ t(`names.loudness.${level}`) }}
        </option>
      </select>
    </label>
  </div>
</template>

<style scoped>
.settings {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  margin-top: 10px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
  font-size: 12.5px;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
select {
  font: inherit;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  padding: 2px 4px;
}
</style>
