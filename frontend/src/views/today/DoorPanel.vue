<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Arrival } from '@/api/client'
import { bytes } from '@/composables/words'
import DiffName from '@/parts/DiffName.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const SHOWN = 3
const SIGNS: Record<string, string> = {
  growing: '○',
  proposed: '◐',
  filed: '●',
  left: '◌',
  unknown: '▲',
}
const { t, locale } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['intakes'], queryFn: () => ask(api.GET('/api/intakes')) })
const error = ref<Error>()
async function act(arrival: Arrival, how: 'file' | 'leave'): Promise<void> {
  error.value = undefined
  const params = { path: { arrival_id: arrival.id } }
  await (
    how === 'file'
      ? ask(api.POST('/api/arrivals/{arrival_id}/file', { params }))
      : ask(api.POST('/api/arrivals/{arrival_id}/leave', { params }))
  ).catch((reason: Error) => (error.value = reason))
  await client.invalidateQueries({ queryKey: ['intakes'] })
}
</script>

<template>
  <section v-if="data?.arrivals.length">
    <h2>{{ t('door.title') }}</h2>
    <ProblemNote v-if="error" :error="error" />
    <div class="card">
      <div
        v-for="arrival in data.arrivals"
        :key="arrival.id"
        class="arrival"
        :class="arrival.state"
      >
        <span class="sign" aria-hidden="true">{{ SIGNS[arrival.state] ?? '○' }}</span>
        <div class="what">
          <template v-if="arrival.state === 'proposed'"
            ><DiffName
              v-for="move in arrival.moves.slice(0, SHOWN)"
              :key="move.before"
              :before="move.before"
              :after="move.after"
          /></template>
          <span v-else class="mono">{{ arrival.path }}</span>
          <span class="soft"
            >{{
              [
                t(`door.${arrival.state}`),
                arrival.library && arrival.state === 'proposed'
                  ? t('door.into', { library: arrival.library })
                  : '',
              ]
                .filter(Boolean)
                .join(', ')
            }}, {{ t('door.files', arrival.files) }}, {{ bytes(arrival.size_bytes, locale) }}.
            {{ arrival.why }}</span
          >
        </div>
        <span v-if="arrival.state === 'proposed'" class="acts"
          ><el-button size="small" type="primary" @click="act(arrival, 'file')">{{
            t('door.file')
          }}</el-button
          ><button class="link" @click="act(arrival, 'leave')">{{ t('door.leave') }}</button></span
        >
      </div>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 24px;
}
h2 {
  margin-bottom: 8px;
}
.arrival {
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) auto;
  gap: 8px;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
.arrival:last-child {
  border: 0;
}
.what {
  display: flex;
  flex-direction: column;
  gap: 2px;
  overflow-wrap: anywhere;
  min-width: 0;
}
.sign {
  font-family: 'DejaVu Sans', var(--sans);
  color: var(--ochre);
}
.filed .sign {
  color: var(--moss);
}
.unknown .sign {
  color: var(--stamp);
}
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
}
@media (max-width: 860px) {
  .arrival {
    grid-template-columns: 18px minmax(0, 1fr);
  }
  .acts {
    grid-column: 2;
  }
}
</style>
