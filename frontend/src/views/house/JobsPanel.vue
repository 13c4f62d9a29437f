<script setup lang="ts">
/** What runs and what ran, and which machines do it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import JobRow from '@/parts/JobRow.vue'

/** So many are shown at first; what runs is always among them. */
const SHOWN = 6
const { t, n } = useI18n()
const all = ref(false)
const { data } = useQuery({ queryKey: ['jobs'], queryFn: () => ask(api.GET('/api/jobs')) })
const { data: machines } = useQuery({
  queryKey: ['jobs', 'machines'],
  queryFn: () => ask(api.GET('/api/jobs/machines')),
  refetchInterval: (query) => ((query.state.data?.machines.length ?? 0) > 1 ? 5000 : false),
})
const jobs = computed(() => data.value?.jobs ?? [])
const shown = computed(() => {
  const running = jobs.value.filter((job) => ['running', 'queued'].includes(job.state)).length
  return all.value ? jobs.value : jobs.value.slice(0, Math.max(SHOWN, running))
})
/** Where nobody works along there is nothing to tell. */
const workers = computed(() =>
  machines.value?.machines.some((one) => !one.is_home) ? machines.value.machines : [],
)
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('house.jobs') }}</h2>
      <button
        v-if="jobs.length > shown.length || all"
        class="link"
        :aria-expanded="all"
        @click="all = !all"
      >
        {{ all ? t('house.fewerJobs') : t('house.allJobs', { n: jobs.length }) }}
      </button>
    </div>
    <ul v-if="workers.length" class="card machines" data-test="machines">
      <li v-for="one in workers" :key="one.id">
        <b>{{ one.name }}</b>
        <span class="soft">{{ t(one.is_home ? 'machine.home' : 'machine.along') }}</span>
        <span>
          <template v-if="one.is_silent">{{ t('machine.silent') }}</template>
          <template v-else-if="one.job">{{
            t(one.helps ? 'machine.helps' : 'machine.does', { job: one.job })
          }}</template>
          <template v-else>{{ t('machine.waits') }}</template>
        </span>
        <span class="faint">{{
          one.is_home
            ? ''
            : t('machine.can', { what: one.can.map((w) => t(`machine.${w}`)).join(', ') })
        }}</span>
        <span v-if="one.done" class="mono faint">{{ t('machine.done', { n: n(one.done) }) }}</span>
      </li>
    </ul>
    <div class="card">
      <JobRow v-for="job in shown" :key="job.id" :job="job" detailed />
      <p v-if="data && !jobs.length" class="pad soft">{{ t('house.noJobs') }}</p>
    </div>
  </section>
</template>

<style scoped>
.machines {
  list-style: none;
  margin: 0 0 14px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(90px, 150px) 110px minmax(0, 1fr) auto auto;
  gap: 4px 16px;
  align-items: baseline;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border: 0;
}
b {
  font-weight: 500;
  overflow-wrap: anywhere;
}
@media (max-width: 760px) {
  li {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
