<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Job } from '@/api/client'
import { clock, moment } from '@/composables/words'

const props = defineProps<{ job: Job; detailed?: boolean }>()
const { t, locale } = useI18n()
const opened = ref(false)
const stopping = ref(false)
const active = computed(() => props.job.state === 'running' || props.job.state === 'queued')
const share = computed(() => (props.job.total ? (100 * props.job.done) / props.job.total : 0))
const { data: log } = useQuery({
  queryKey: ['jobs', 'log', toRef(() => props.job.id)],
  queryFn: () =>
    ask(api.GET('/api/jobs/{job_id}/log', { params: { path: { job_id: props.job.id } } })),
  enabled: () => opened.value,
})
async function stop(): Promise<void> {
  stopping.value = true
  await ask(
    api.POST('/api/jobs/{job_id}/stop', { params: { path: { job_id: props.job.id } } }),
  ).catch(() => (stopping.value = false))
}
</script>

<template>
  <div class="job" :class="job.state">
    <div class="top">
      <b>{{ job.title }}</b>
      <span class="soft step">{{ active ? job.step : job.message }}</span>
      <span v-if="job.state === 'running' && job.total" class="mono">{{
        t('job.of', { done: job.done, total: job.total })
      }}</span>
      <span v-if="job.state === 'running' && job.rate" class="mono soft">{{
        t('job.rate', { n: job.rate })
      }}</span>
      <span v-if="job.seconds_left !== null && job.state === 'running'" class="mono soft">{{
        t('job.left', { time: clock(job.seconds_left) })
      }}</span>
      <span v-if="job.state === 'failed' || job.state === 'stopped'" class="stamp red">{{
        t(`job.state.${job.state}`)
      }}</span>
      <span v-else-if="!active && detailed" class="faint">{{
        moment(job.finished_at ?? job.created_at, locale)
      }}</span>
      <span v-else-if="job.state === 'queued'" class="faint">{{ t('job.queued') }}</span>
      <button v-if="active" class="link" :disabled="stopping" @click="stop">
        {{ stopping ? t('job.stopping') : t('job.stop') }}
      </button>
      <button v-if="detailed" class="link" :aria-expanded="opened" @click="opened = !opened">
        {{ t('job.log') }}
      </button>
    </div>
    <div
      v-if="job.state === 'running'"
      class="track"
      role="progressbar"
      :aria-valuenow="job.done"
      :aria-valuemax="job.total"
      :aria-label="job.title"
    >
      <i :class="{ unknown: !job.total }" :style="{ width: job.total ? `${share}%` : '30%' }" />
    </div>
    <div v-if="job.current && job.state === 'running'" class="mono faint current">
      {{ job.current }}
    </div>
    <ul v-if="opened" class="log mono">
      <li v-for="(line, index) in log?.lines ?? []" :key="index" :class="line.level">
        <span v-if="line.path">{{ line.path }}: </span>{{ line.text }}
      </li>
      <li v-if="log && !log.lines.length" class="faint">{{ t('job.noLines') }}</li>
    </ul>
  </div>
</template>

<style scoped>
.job {
  padding: 7px 12px;
  border-bottom: 1px solid var(--rule);
}
.job:last-child {
  border-bottom: 0;
}
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 12px;
  min-height: 20px;
}
.top b {
  font-weight: 500;
}
.step {
  flex: 1;
  min-width: 120px;
}
.track {
  height: 5px;
  margin: 6px 0 4px;
  background: var(--rule);
  border-radius: 1px;
  overflow: hidden;
}
.track i {
  display: block;
  height: 100%;
  background: var(--accent);
  transition: width 0.3s;
}
.unknown {
  animation: to-and-fro 1.6s ease-in-out infinite alternate;
}
@keyframes to-and-fro {
  from {
    margin-inline-start: 0;
  }
  to {
    margin-inline-start: 70%;
  }
}
.current {
  font-size: 11.5px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  direction: rtl;
  text-align: start;
}
.log {
  margin: 8px 0 4px;
  padding: 8px 10px;
  list-style: none;
  max-height: 240px;
  overflow: auto;
  background: var(--paper);
  border-radius: 3px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
.log .warning {
  color: var(--ochre);
}
.log .error {
  color: var(--stamp);
}
</style>
