<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'

const { t } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['excuses'], queryFn: () => ask(api.GET('/api/excuses')) })
async function forget(id: number): Promise<void> {
  await ask(api.DELETE('/api/excuses/{excuse_id}', { params: { path: { excuse_id: id } } })).catch(
    () => undefined,
  )
  await client.invalidateQueries()
}
</script>

<template>
  <section v-if="data?.excuses.length">
    <div class="head">
      <h2>{{ t('house.excuses') }}</h2>
    </div>
    <div class="card">
      <div v-for="row in data.excuses" :key="row.id" class="row">
        <span class="mono">{{ row.library }} / {{ row.path }}</span
        ><code class="soft">{{ row.check }}</code
        ><button class="link" @click="forget(row.id)">{{ t('house.forget') }}</button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 24px;
  align-items: center;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.row:last-child {
  border: 0;
}
</style>
