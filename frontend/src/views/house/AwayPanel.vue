<script setup lang="ts">
/** From away: what works from where, in words, step by step. It looks, and changes nothing. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { day } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, locale } = useI18n()
const client = useQueryClient()
const open = ref(false)
const wished = ref(false)
const outside = ref(0)
const { data, error, refetch, isFetching } = useQuery({
  queryKey: ['from-away'],
  queryFn: () => ask(api.GET('/api/from-away')),
  enabled: open,
  // What was switched on is done a moment later, by the process that sees to it.
  refetchInterval: ({ state }) => (wished.value && !state.data?.is_settled ? 1000 : false),
})
const isBusy = computed(() => wished.value && data.value?.is_settled === false)
watch(data, (told) => {
  if (told && !outside.value) outside.value = told.outside_port || told.port
})
const {
  mutate: wish,
  error: refused,
  isPending,
} = useMutation({
  mutationFn: (body: { announce: boolean; outside_port: number }) =>
    ask(api.PUT('/api/from-away', { body })),
  onSuccess: () => {
    wished.value = true
    void refetch()
  },
})
/** Say what is wanted; the port is what stands in its field. */
function want(announce: boolean, opened: boolean): void {
  const body = { announce, outside_port: opened ? outside.value : 0 }
  if (data.value) client.setQueryData(['from-away'], { ...data.value, ...body, is_settled: false })
  wish(body)
}
</script>

<template>
  <section data-test="from-away">
    <div class="head">
      <h2>{{ t('away.title') }}</h2>
      <el-button :loading="isFetching" @click="open ? refetch() : (open = true)">{{
        open ? t('away.again') : t('away.look')
      }}</el-button>
    </div>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <ProblemNote v-if="refused" :error="refused" />
    <div v-if="data" class="card">
      <p class="row first">
        <span>{{ t('away.asked') }}</span> <span class="mono">{{ data.address }}</span>
      </p>
      <div v-for="step in data.steps" :key="step.name" class="row" :class="{ open: !step.fine }">
        <span class="sign" aria-hidden="true">{{ step.fine ? '✓' : '▲' }}</span>
        <div>
          <p>{{ t(`away.step.${step.name}.is`, step.values) }}</p>
          <p class="soft">{{ t(`away.step.${step.name}.how`, step.values) }}</p>
        </div>
      </div>
      <div v-if="data.certificate" class="row">
        <span></span>
        <div>
          <p>
            {{ t('away.until', { day: day(data.certificate.ends_at, locale) }) }}
            <span class="mono soft">{{ data.certificate.names.join(', ') }}</span>
          </p>
          <p class="mono soft print">SHA-256 {{ data.certificate.fingerprint }}</p>
        </div>
      </div>
      <div class="row fields-of">
        <label class="tick">
          <input
            type="checkbox"
            data-test="announce"
            :checked="data.announce"
            :disabled="isPending"
            @change="want(!data.announce, data.outside_port > 0)"
          />
          <span>
            {{ t('away.announce') }}
            <small class="soft">{{
              data.announced ? t('away.announced', { name: data.announced }) : t('away.announceHow')
            }}</small>
          </span>
        </label>
        <label class="tick">
          <input
            type="checkbox"
            data-test="open-port"
            :checked="data.outside_port > 0"
            :disabled="isPending"
            @change="want(data.announce, data.outside_port === 0)"
          />
          <span>
            {{ t('away.opened') }} <small class="soft">{{ t('away.openedHow') }}</small>
          </span>
        </label>
        <label class="port">
          {{ t('away.port') }}
          <input
            v-model.number="outside"
            type="number"
            min="1"
            max="65535"
            :disabled="data.outside_port > 0"
          />
        </label>
        <p v-if="isBusy" class="soft" role="status">{{ t('away.busy') }}</p>
      </div>
    </div>
    <p v-else class="soft">{{ t('away.lead') }}</p>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr);
  gap: 4px 8px;
  padding: 9px 14px;
  border-bottom: 1px solid var(--rule);
}
.row:last-child {
  border: 0;
}
.first {
  display: flex;
  gap: 10px;
  margin: 0;
}
.row p {
  margin: 0;
  overflow-wrap: anywhere;
}
.sign {
  color: var(--moss);
}
.open .sign {
  color: var(--ochre);
}
.fields-of {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 28px;
  align-items: start;
  background: var(--paper);
}
.tick {
  display: flex;
  gap: 9px;
  align-items: baseline;
  max-width: 330px;
}
.tick input {
  accent-color: var(--accent);
}
.tick small {
  display: block;
  font-size: 13px;
}
.port {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
.port input {
  width: 84px;
  height: 28px;
  padding: 0 8px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
.print {
  font-size: 12px;
}
</style>
