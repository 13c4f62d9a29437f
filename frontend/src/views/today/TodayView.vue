<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import CarePanel from './CarePanel.vue'
import DoorPanel from './DoorPanel.vue'
import { api, ask } from '@/api/client'
import { bytes, day } from '@/composables/words'
import CoverImage from '@/parts/CoverImage.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import JobRow from '@/parts/JobRow.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateBar from '@/parts/StateBar.vue'
import StateSign from '@/parts/StateSign.vue'

const { t, locale } = useI18n()
const { data, error, refetch } = useQuery({
  queryKey: ['today'],
  queryFn: () => ask(api.GET('/api/today')),
})
const calm = computed(() => !data.value?.waiting.matches && !data.value?.waiting.names)
const scanning = useMutation({
  mutationFn: (id: number) =>
    ask(api.POST('/api/libraries/{library_id}/scan', { params: { path: { library_id: id } } })),
  onSuccess: () => refetch(),
})
const total = (states: Record<string, number>) =>
  Object.values(states).reduce((sum, n) => sum + n, 0)
</script>

<template>
  <div class="today">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="data">
      <section class="came">
        <DoorPanel />
        <div class="head">
          <h1>{{ t('today.came') }}</h1>
          <span class="soft">{{
            data.since ? t('today.since', { date: day(data.since, locale) }) : t('today.sinceEver')
          }}</span>
        </div>
        <EmptyPlace
          v-if="!data.arrivals.length"
          :title="t('today.nothing')"
          :how="t('today.nothingHow')"
        />
        <div
          v-for="arrival in data.arrivals"
          :key="arrival.at + arrival.library"
          class="card arrival"
        >
          <p class="group">
            <b>{{ arrival.library }}</b><span class="faint">{{ day(arrival.at, locale) }}</span
            ><span class="mono faint count">{{ arrival.total }}</span>
          </p>
          <ul>
            <li v-for="entry in arrival.entries" :key="entry.id">
              <RouterLink :to="`/catalog/entry/${entry.id}`">
                <CoverImage
                  :picture="entry.picture"
                  :title="entry.title"
                  :kind="entry.kind"
                  :size="240"
                  class="tiny"
                  :class="{ square: entry.kind === 'album' || entry.kind === 'event' }"
                />
                <b :title="entry.title">{{ entry.title }}</b><span class="soft">{{
                  entry.kind === 'album'
                    ? entry.subtitle
                    : (entry.year ?? (entry.moment ?? '').slice(0, 4))
                }}</span>
                <StateSign :state="entry.kind === 'event' ? 'settled' : entry.state" />
              </RouterLink>
            </li>
          </ul>
          <p v-if="arrival.total > arrival.entries.length" class="more faint">
            {{ t('today.more', { n: arrival.total - arrival.entries.length }) }}
          </p>
        </div>
      </section>
      <aside>
        <CarePanel :guesses="data.guesses" :absences="data.absences" :newcomers="data.newcomers" />
        <h2>{{ t('today.waits') }}</h2>
        <div class="card waits">
          <p v-if="calm" class="soft pad">{{ t('today.calm') }}</p>
          <RouterLink v-if="data.waiting.matches" to="/matches"
            ><StateSign state="waiting" />{{ t('today.decisions', data.waiting.matches)
            }}<span aria-hidden="true">→</span></RouterLink
          >
          <RouterLink v-if="data.waiting.names" to="/names"
            ><StateSign state="name" />{{ t('today.mends', data.waiting.names)
            }}<span aria-hidden="true">→</span></RouterLink
          >
        </div>
        <h2>{{ t('today.runs') }}</h2>
        <div class="card">
          <JobRow v-for="job in data.jobs" :key="job.id" :job="job" />
          <p v-if="!data.jobs.length" class="soft pad">{{ t('today.noJobs') }}</p>
        </div>
        <h2>{{ t('today.stands') }}</h2>
        <div class="card stands">
          <div v-for="library in data.libraries" :key="library.id" class="library">
            <b>{{ library.name }}</b><span class="mono soft">{{
              t('folders.files', total(library.states))
            }}</span
            ><span class="mono faint">{{ bytes(library.size_bytes, locale) }}</span>
            <button class="link" @click="scanning.mutate(library.id)">{{ t('today.scan') }}</button>
            <StateBar :states="library.states" class="bar" />
          </div>
          <p class="legend faint">
            <span v-for="state in ['settled', 'waiting', 'name', 'unseen', 'away']" :key="state"
              ><StateSign :state="state" />{{ t(`state.${state}`) }}</span
            >
          </p>
        </div>
        <p v-if="data.little_room !== null" class="card pad room" role="alert" data-test="room">
          {{ t('today.littleRoom', { free: bytes(data.little_room, locale) }) }}
          <RouterLink to="/house">{{ t('today.toStorage') }}</RouterLink>
        </p>
        <template v-if="data.troubles.length">
          <h2>{{ t('today.troubles') }}</h2>
          <ul class="card troubles">
            <li v-for="(line, index) in data.troubles" :key="index">
              <span class="mono">{{ line.path.split('/').slice(-1)[0] }}</span><span class="soft">{{
                line.text
              }}</span>
            </li>
          </ul>
        </template>
      </aside>
    </template>
  </div>
</template>

<style scoped>
.today {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 390px;
  gap: 26px;
  padding: 20px 24px 40px;
  max-width: 1560px;
  margin: 0 auto;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
  margin-bottom: 12px;
}
h2 {
  margin: 22px 0 8px;
}
aside h2:first-child {
  margin-top: 5px;
}
.arrival {
  margin-bottom: 14px;
}
.group {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin: 0;
  padding: 7px 12px 6px;
  border-bottom: 1px solid var(--rule);
  background: color-mix(in srgb, var(--paper) 60%, var(--card));
}
.group b {
  font: 700 14px/1.3 var(--serif);
}
.count {
  margin-inline-start: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.arrival ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
}
.arrival li {
  min-width: 0;
  border-bottom: 1px solid var(--rule);
}
.arrival a {
  display: grid;
  grid-template-columns: 30px 1fr auto 16px;
  gap: 10px;
  align-items: center;
  height: 46px;
  padding: 0 12px;
  color: inherit;
}
.arrival a:hover {
  background: var(--accent-soft);
  text-decoration: none;
}
.arrival li b {
  font-weight: 500;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.arrival .soft {
  font-size: 12.5px;
  max-width: 130px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.tiny {
  width: 26px;
  height: 38px;
}
.tiny.square {
  width: 30px;
  height: 30px;
}
.more {
  margin: 0;
  padding: 6px 12px;
}
.waits a {
  display: flex;
  align-items: center;
  gap: 10px;
  height: 38px;
  padding: 0 12px;
  color: var(--ink);
  font-weight: 500;
  border-bottom: 1px solid var(--rule);
}
.waits a:last-child {
  border: 0;
}
.waits a span:last-child {
  margin-inline-start: auto;
  color: var(--accent);
}
.pad {
  margin: 0;
  padding: 9px 12px;
}
.library {
  display: grid;
  grid-template-columns: 1fr auto auto auto;
  gap: 5px 12px;
  align-items: baseline;
  padding: 8px 12px;
  border-bottom: 1px solid var(--rule);
}
.library b {
  font-weight: 500;
}
.bar {
  grid-column: 1 / -1;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 0;
  padding: 8px 12px;
  font-size: 12px;
}
.legend span {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.room {
  margin-top: 14px;
  color: var(--red);
}
.troubles li {
  display: flex;
  flex-direction: column;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
.troubles li:last-child {
  border: 0;
}
@media (max-width: 980px) {
  .today {
    grid-template-columns: 1fr;
    padding: 14px 12px 40px;
  }
  aside {
    grid-row: 1;
  }
}
</style>
