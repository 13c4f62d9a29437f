<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { useI18n } from 'vue-i18n'
import { api, ask, type Taught } from '@/api/client'
import { moment } from '@/composables/words'

const { t, te, locale } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['taught'], queryFn: () => ask(api.GET('/api/taught')) })
const { data: aliases } = useQuery({
  queryKey: ['aliases'],
  queryFn: () => ask(api.GET('/api/aliases')),
})
const KINDS: Record<string, string> = {
  drop: 'house.taughtDrop',
  cut: 'house.taughtCut',
  set: 'house.taughtSet',
}
const say = (row: Taught) =>
  t(KINDS[row.action] ?? 'house.taughtSet', {
    field: te(`field.${row.field}`) ? t(`field.${row.field}`) : row.field,
    value: String(row.value ?? ''),
  })
async function forget(row: Taught): Promise<void> {
  await ask(
    api.DELETE('/api/taught/{taught_id}', { params: { path: { taught_id: row.id } } }),
  ).catch((reason: Error) => ElMessage({ message: reason.message, type: 'warning' }))
  await client.invalidateQueries()
}
async function forgetAlias(id: number): Promise<void> {
  await ask(api.DELETE('/api/aliases/{alias_id}', { params: { path: { alias_id: id } } })).catch(
    (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
  )
  await client.invalidateQueries({ queryKey: ['aliases'] })
}
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('house.taught') }}</h2>
    </div>
    <div class="card">
      <div v-for="row in data?.taught ?? []" :key="row.id" class="row">
        <span class="what"
          ><b>{{ say(row) }}</b
          ><span class="mono soft">{{ row.library }} / {{ row.path }}</span></span
        >
        <span class="soft">{{ row.siblings ? t('house.taughtAll') : '' }}</span>
        <button class="link" @click="forget(row)">{{ t('house.forget') }}</button>
      </div>
      <div v-for="row in aliases?.aliases ?? []" :key="`a${row.id}`" class="row">
        <span class="what"
          ><b>{{
            row.source
              ? t('house.aliasMeans', { name: row.name, title: row.title })
              : t('house.aliasNothing', { name: row.name })
          }}</b
          ><span class="soft"
            >{{ t(`entry.${row.kind}`)
            }}<template v-if="row.source">, {{ row.source }}</template></span
          ></span
        >
        <span class="soft">{{ moment(row.at, locale) }}</span>
        <button class="link" @click="forgetAlias(row.id)">{{ t('house.forget') }}</button>
      </div>
      <p v-if="data && aliases && !data.taught.length && !aliases.aliases.length" class="pad soft">
        {{ t('house.taughtNone') }}
      </p>
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
}
.row:last-child {
  border: 0;
}
.what {
  display: flex;
  flex-direction: column;
  overflow-wrap: anywhere;
}
b {
  font-weight: 500;
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
</style>
