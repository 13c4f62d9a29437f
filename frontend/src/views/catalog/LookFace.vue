<script setup lang="ts">
/** The household's face: what it is, what it is about, who made it; play and marks. Nothing to administer. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask, type Entry } from '@/api/client'
import { useEntry } from '@/composables/useEntry'
import { useMarks } from '@/composables/useMarks'
import { clock, country, day, lasts } from '@/composables/words'
import AddToList from '@/parts/AddToList.vue'
import ShareSheet from '@/parts/ShareSheet.vue'
import FactLines from './FactLines.vue'
import OwnMarks from './OwnMarks.vue'
import PeopleRow from './PeopleRow.vue'

const props = defineProps<{ entry: Entry }>()
const { t, locale } = useI18n()
const router = useRouter()
const marking = useMarks()
const { card, fact, canPlay, isMusic, play, add, whole } = useEntry(() => props.entry)
const plot = computed(() => String(fact('plot') ?? ''))
const kind = computed(() => card.value.kind)
/** Kinds that one sees; music is heard over and over. */
const seeable = computed(() =>
  ['movie', 'series', 'season', 'episode', 'clip'].includes(kind.value),
)
const texts = (field: string) => {
  const said = fact(field)
  return (Array.isArray(said) ? said : said ? [said] : []).map(String)
}
const leads = computed(() =>
  [
    ...texts('genres').map((value) => ({ field: 'genres', value })),
    ...(kind.value === 'movie' || kind.value === 'series' ? texts('directors') : []).map(
      (value) => ({ field: 'directors', value }),
    ),
  ].slice(0, 6),
)
/** Where it was taken, in words, for the way to the map. */
const place = computed(() =>
  [texts('town')[0], country(texts('country')[0] ?? '', locale.value)].filter(Boolean).join(', '),
)
/** The few things that matter at once: when, how long, for whom. */
const column = computed(() => {
  const rows: string[] = []
  const moment = card.value.moment
  if (kind.value === 'episode' && fact('date')) rows.push(day(String(fact('date')), locale.value))
  else if (['photo', 'clip', 'event'].includes(kind.value) && moment)
    rows.push(day(moment, locale.value))
  else if (card.value.year) rows.push(String(card.value.year))
  const seconds = Number(fact('runtime') ?? 0)
  if (seconds && kind.value !== 'album') rows.push(lasts(seconds, t))
  const cells = props.entry.grid.flatMap((row) => row.cells)
  if (cells.length) {
    const missing = cells.filter((cell) => cell.state === 'missing').length
    rows.push(t('page.episodesHere', { n: cells.length - missing }))
    if (missing) rows.push(t('page.episodesMissing', { n: missing }))
  }
  if (kind.value === 'album') rows.push(t('catalog.tracks', props.entry.children.length))
  const age = /^\D*(\d{1,2})\b/.exec(String(fact('rating') ?? ''))?.[1]
  if (age) rows.push(t('page.fromAge', { n: Number(age) }))
  else if (fact('rating')) rows.push(String(fact('rating')).replace(/\s*\(.*\)$/, ''))
  return rows
})
const from = computed(() => card.value.mark?.position_seconds ?? 0)
const left = computed(() => {
  const whole = props.entry.versions[0]?.seconds ?? Number(fact('runtime') ?? 0)
  return from.value && whole > from.value ? Math.round((whole - from.value) / 60) : 0
})
async function together(): Promise<void> {
  const body = { entry_id: card.value.id, position_seconds: from.value }
  const { key } = await ask(api.POST('/api/together', { body }))
  await router.push(`/play/${card.value.id}?with=${key}`)
}
const label = computed(() => {
  if (['album', 'artist'].includes(kind.value)) return t('page.playAll')
  if (from.value) return t('marks.goOnAt', { at: clock(from.value) })
  return ['series', 'season'].includes(kind.value) ? t('page.playNext') : t('page.play')
})
</script>

<template>
  <section class="card face">
    <div class="head">
      <div class="names">
        <h1>{{ card.title }}</h1>
        <p v-if="leads.length" class="leads">
          <RouterLink
            v-for="one in leads"
            :key="one.field + one.value"
            :to="{ path: '/catalog/with', query: one }"
            >{{ one.value }}</RouterLink
          >
        </p>
        <p v-if="entry.cell" class="leads">
          <RouterLink
            data-test="to-map"
            :to="{ path: '/catalog/photos/map', query: { with: `near:${entry.cell}` } }"
            >{{ place || t('map.onMap') }}</RouterLink
          >
        </p>
      </div>
      <p class="column mono">
        <span v-for="row in column" :key="row">{{ row }}</span>
      </p>
    </div>
    <p v-if="plot" class="plot">{{ plot }}</p>
    <p class="acts">
      <el-button v-if="canPlay" type="primary" size="large" data-test="play" @click="play()"
        >▶&nbsp; {{ label
        }}<small v-if="left">, {{ t('page.left', { n: left }) }}</small></el-button
      >
      <button
        v-if="from"
        class="pill"
        data-test="from-start"
        @click="router.push(`/play/${card.id}?from=0`)"
      >
        {{ t('page.fromStart') }}
      </button>
      <button
        v-if="seeable"
        class="pill"
        :aria-pressed="whole"
        data-test="seen"
        @click="marking.mutate({ entry_ids: [card.id], seen: !whole })"
      >
        <span aria-hidden="true">{{ whole ? '✓' : '○' }}</span> {{ t('marks.seen') }}
      </button>
      <button
        class="pill fond"
        :aria-pressed="!!card.mark?.favourite"
        data-test="favourite"
        @click="marking.mutate({ entry_ids: [card.id], favourite: !card.mark?.favourite })"
      >
        <span aria-hidden="true">{{ card.mark?.favourite ? '♥' : '♡' }}</span>
        {{ t('marks.favourite') }}
      </button>
      <template v-if="isMusic && canPlay">
        <button class="pill" data-test="play-next" @click="add('next')">
          <span aria-hidden="true">⤷</span> {{ t('queue.next') }}
        </button>
        <button class="pill" data-test="to-queue" @click="add('end')">
          <span aria-hidden="true">≡</span> {{ t('queue.end') }}
        </button>
      </template>
      <button
        v-if="canPlay && ['movie', 'episode', 'clip'].includes(kind)"
        class="pill"
        data-test="watch-together"
        @click="together"
      >
        {{ t('together.begin') }}
      </button>
      <AddToList v-if="kind !== 'artist'" :entry-ids="[card.id]" />
      <ShareSheet :key="card.id" :entry-id="card.id" :title="card.title" />
    </p>
    <OwnMarks :card="card" class="own" />
    <PeopleRow v-if="entry.credits.length" :credits="entry.credits" />
    <FactLines :entry="entry" />
  </section>
</template>

<style scoped>
.face {
  padding: 22px 28px 24px;
}
.head {
  display: flex;
  gap: 24px;
  justify-content: space-between;
}
.names {
  min-width: 0;
}
h1 {
  margin: 0;
  font-size: 34px;
  line-height: 1.15;
  overflow-wrap: anywhere;
}
.leads {
  display: flex;
  flex-wrap: wrap;
  margin: 5px 0 0;
  font-size: 15px;
}
.leads a {
  color: var(--ink-soft);
}
.leads a:not(:last-child)::after {
  content: '·';
  display: inline-block;
  margin: 0 8px;
  color: var(--ink-faint);
}
.column {
  display: flex;
  flex: none;
  flex-direction: column;
  gap: 3px;
  margin: 6px 0 0;
  color: var(--ink-soft);
  text-align: end;
}
.plot {
  max-width: 66ch;
  margin: 16px 0 0;
  font: 16px/1.6 var(--serif);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
  margin: 20px 0 12px;
}
.acts small {
  font-size: 12.5px;
  font-weight: 400;
}
@media (max-width: 760px) {
  .face {
    padding: 16px 14px 18px;
  }
  .head {
    flex-direction: column;
    gap: 4px;
  }
  h1 {
    font-size: 26px;
  }
  .column {
    flex-flow: row wrap;
    gap: 3px 14px;
    margin: 0;
    text-align: start;
  }
}
</style>
