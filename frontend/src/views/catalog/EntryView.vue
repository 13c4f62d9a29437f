<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Fact } from '@/api/client'
import { usePlayer } from '@/composables/usePlayer'
import { useMarks } from '@/composables/useMarks'
import { useStatus } from '@/composables/useStatus'
import { bytes, clock, day } from '@/composables/words'
import AddToList from '@/parts/AddToList.vue'
import CoverImage from '@/parts/CoverImage.vue'
import EntryTile from '@/parts/EntryTile.vue'
import LightTable from '@/parts/LightTable.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ShareSheet from '@/parts/ShareSheet.vue'
import StateSign from '@/parts/StateSign.vue'
import EntryFiles from './EntryFiles.vue'
import EpisodeGrid from './EpisodeGrid.vue'
import FactList from './FactList.vue'
import OwnMarks from './OwnMarks.vue'
import PictureShelf from './PictureShelf.vue'
import TrackList from './TrackList.vue'

const { t, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const player = usePlayer()
const { data: status } = useStatus()
const id = computed(() => Number(route.params.id))
const {
  data: entry,
  error,
  refetch,
} = useQuery({
  queryKey: ['entry', id],
  queryFn: () =>
    ask(api.GET('/api/entries/{entry_id}', { params: { path: { entry_id: id.value } } })),
  placeholderData: undefined,
})
const card = computed(() => entry.value?.card)
const fact = (name: string): unknown =>
  entry.value?.facts.find((f: Fact) => f.field === name)?.shown.value
const plot = computed(() => String(fact('plot') ?? ''))
const large = ref(-1)
const square = computed(() => ['album', 'track', 'artist'].includes(card.value?.kind ?? ''))
const meta = computed(() => {
  const e = entry.value
  if (!e || !card.value) return ''
  const parts: string[] = []
  const when =
    card.value.kind === 'episode' && fact('date')
      ? day(String(fact('date')), locale.value)
      : ['photo', 'clip', 'event'].includes(card.value.kind) && card.value.moment
        ? day(card.value.moment, locale.value)
        : card.value.year
  if (when) parts.push(String(when))
  const seconds = Number(fact('runtime') ?? 0)
  if (seconds && card.value.kind !== 'album')
    parts.push(t('matches.minutes', { n: Math.round(seconds / 60) }))
  const cells = e.grid.flatMap((row) => row.cells)
  if (cells.length) {
    const missing = cells.filter((c) => c.state === 'missing').length
    parts.push(t('page.episodesHere', { n: cells.length - missing }))
    if (missing) parts.push(t('page.episodesMissing', { n: missing }))
  }
  const genres = fact('genres')
  if (Array.isArray(genres)) parts.push(genres.join(', '))
  return parts.join(' · ')
})
const size = computed(() => entry.value?.files.reduce((sum, f) => sum + f.size_bytes, 0) ?? 0)
const playable = computed(() => entry.value?.plays.filter((one) => !one.extra) ?? [])
const extras = computed(() => entry.value?.plays.filter((one) => one.extra) ?? [])
const isMusic = computed(() => ['artist', 'album', 'track'].includes(card.value?.kind ?? ''))
/** Of a series and a season the next episode plays, where there is one. */
const canPlay = computed(
  () =>
    playable.value.length > 0 ||
    (card.value?.kind === 'series' &&
      entry.value?.grid.some((row) => row.cells.some((cell) => cell.state !== 'missing'))) ||
    (card.value?.kind === 'season' && (entry.value?.children.length ?? 0) > 0),
)
function play(at = 0): void {
  if (!entry.value || !card.value) return
  if (!isMusic.value) void router.push(`/play/${card.value.id}`)
  else
    player.play(
      {
        title: card.value.title,
        subtitle: card.value.subtitle,
        picture: card.value.picture,
        entryId: card.value.id,
        items: playable.value,
      },
      at,
    )
}
const marking = useMarks()
const whole = computed(() => {
  const cells = entry.value?.grid.flatMap((row) => row.cells).filter((c) => c.entry_id) ?? []
  if (cells.length) return cells.every((cell) => cell.seen)
  const below = card.value?.kind === 'season' ? (entry.value?.children ?? []) : []
  return below.length ? below.every((child) => child.mark?.seen) : !!card.value?.mark?.seen
})
/** Kinds that one sees; music is heard over and over. */
const seeable = computed(() =>
  ['movie', 'series', 'season', 'episode', 'clip'].includes(card.value?.kind ?? ''),
)
const from = computed(() => card.value?.mark?.position_seconds ?? 0)
const undoing = useMutation({
  mutationFn: () =>
    ask(
      api.DELETE('/api/entries/{entry_id}/decision', { params: { path: { entry_id: id.value } } }),
    ),
  onSuccess: async () => {
    ElMessage({ message: t('matches.undone'), type: 'info' })
    await client.invalidateQueries()
  },
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
const fetching = useMutation({
  mutationFn: () =>
    ask(api.POST('/api/entries/{entry_id}/refresh', { params: { path: { entry_id: id.value } } })),
  onSuccess: async () => {
    ElMessage({ message: t('page.fetched'), type: 'info' })
    await client.invalidateQueries()
  },
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
const searching = useMutation({
  mutationFn: async () => {
    if (!entry.value?.candidates)
      await ask(
        api.POST('/api/entries/{entry_id}/candidates', {
          params: { path: { entry_id: id.value } },
          body: { words: card.value?.title ?? '', source: null },
        }),
      )
    await client.invalidateQueries({ queryKey: ['matches'] })
    await router.push(`/matches?entry=${id.value}`)
  },
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
watch(card, (now) => now && (document.title = `${now.title} · Indice`))
</script>

<template>
  <div class="page">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="entry && card">
      <div
        v-if="entry.backdrop"
        class="backdrop"
        :style="{ backgroundImage: `url(/api/pictures/${entry.backdrop.digest}/1280)` }"
        aria-hidden="true"
      ></div>
      <aside>
        <button
          v-if="card.kind === 'photo' && card.picture"
          class="plain shown"
          :aria-label="t('page.large')"
          @click="large = 0"
        >
          <CoverImage
            :picture="card.picture"
            :title="card.title"
            :kind="card.kind"
            :size="480"
            class="front photo"
            :style="{ aspectRatio: `${card.picture.width} / ${card.picture.height}` }"
          />
        </button>
        <CoverImage
          v-else
          :picture="card.picture"
          :title="card.title"
          :kind="card.kind"
          :size="480"
          class="front"
          :class="{ square, wide: ['episode', 'clip', 'event'].includes(card.kind) }"
        />
        <dl v-if="status?.manages">
          <template v-if="entry.source"
            ><dt>{{ t('page.known') }}</dt>
            <dd>
              {{ entry.source }} <StateSign state="settled" />{{ ' '
              }}<span class="faint">{{
                entry.decided_by ? t(`page.by.${entry.decided_by}`) : t('page.settled')
              }}</span>
            </dd></template
          >
          <template v-else-if="['movie', 'series', 'album'].includes(card.kind)"
            ><dt>{{ t('page.known') }}</dt>
            <dd><StateSign :state="card.state" /> {{ t(`state.${card.state}`) }}</dd></template
          >
          <template
            v-if="
              entry.files.length && !['series', 'season', 'artist', 'album'].includes(card.kind)
            "
            ><dt>{{ t('page.disk') }}</dt>
            <dd>
              {{ t('folders.files', entry.files.length) }}, {{ bytes(size, locale) }}
            </dd></template
          >
        </dl>
        <p v-if="status?.manages" class="acts">
          <button
            v-if="['movie', 'series', 'album'].includes(card.kind)"
            class="link"
            :disabled="searching.isPending.value"
            @click="searching.mutate()"
          >
            {{ card.state === 'waiting' ? t('page.decide') : t('page.something') }}
          </button>
          <button
            v-if="entry.source && ['movie', 'series', 'album'].includes(card.kind)"
            class="link"
            :disabled="fetching.isPending.value"
            @click="fetching.mutate()"
          >
            {{ t('page.fetch') }}
          </button>
          <button
            v-if="entry.decided_by && card.kind !== 'artist'"
            class="link"
            @click="undoing.mutate()"
          >
            {{ t('page.undo') }}
          </button>
        </p>
      </aside>
      <section>
        <p class="trail">
          <RouterLink
            v-for="parent in entry.parents"
            :key="parent.id"
            :to="`/catalog/entry/${parent.id}`"
            >{{ parent.title }}</RouterLink><span class="faint">{{ t(`entry.${card.kind}`) }}</span>
        </p>
        <h1>{{ card.title }}</h1>
        <p class="meta soft">{{ meta }}</p>
        <p v-if="plot" class="plot">{{ plot }}</p>
        <p v-if="canPlay" class="play">
          <el-button type="primary" data-test="play" @click="play()"
            >▶&nbsp;
            {{
              card.kind === 'album' || card.kind === 'artist'
                ? t('page.playAll')
                : from
                  ? t('marks.goOnAt', { at: clock(from) })
                  : ['series', 'season'].includes(card.kind)
                    ? t('page.playNext')
                    : t('page.play')
            }}</el-button
          >
          <RouterLink
            v-for="extra in extras"
            :key="extra.file_id"
            class="extra"
            :to="`/play/${card.id}?file=${extra.file_id}`"
            >▸ {{ extra.label }}</RouterLink
          >
        </p>
        <p class="marks">
          <button
            v-if="seeable"
            class="mark"
            :aria-pressed="whole"
            data-test="seen"
            @click="marking.mutate({ entry_ids: [card.id], seen: !whole })"
          >
            <span aria-hidden="true">{{ whole ? '✓' : '○' }}</span> {{ t('marks.seen') }}
          </button>
          <button
            class="mark fond"
            :aria-pressed="!!card.mark?.favourite"
            data-test="favourite"
            @click="marking.mutate({ entry_ids: [card.id], favourite: !card.mark?.favourite })"
          >
            <span aria-hidden="true">{{ card.mark?.favourite ? '♥' : '♡' }}</span>
            {{ t('marks.favourite') }}
          </button>
          <OwnMarks :card="card" />
          <AddToList v-if="card.kind !== 'artist'" :entry-ids="[card.id]" />
          <ShareSheet :key="card.id" :entry-id="card.id" :title="card.title" />
        </p>
        <EpisodeGrid v-if="entry.grid.length" :rows="entry.grid" />
        <TrackList
          v-if="card.kind === 'album'"
          :tracks="entry.children"
          :plays="playable"
          @play="play"
        />
        <div
          v-else-if="entry.children.length"
          class="below"
          :class="{ wide: ['event', 'season'].includes(card.kind) }"
        >
          <EntryTile
            v-for="child in entry.children"
            :key="child.id"
            :entry="child"
            :square="card.kind === 'artist' || card.kind === 'event' || card.kind === 'season'"
          />
        </div>
        <FactList
          v-if="entry.facts.length"
          :entry-id="id"
          :facts="entry.facts"
          :editable="entry.editable"
          :changes="entry.changes"
        />
        <PictureShelf
          v-if="
            status?.manages &&
            (entry.artworks.length ||
              entry.offers.length ||
              ['movie', 'series', 'album', 'artist'].includes(entry.card.kind))
          "
          :entry-id="id"
          :kind="entry.card.kind"
          :artworks="entry.artworks"
          :offers="entry.offers"
          :frames="entry.frames"
        />
        <EntryFiles v-if="entry.files.length" :files="entry.files" />
        <p v-if="!entry.files.length && card.kind === 'episode'" class="soft">
          {{ t('page.noFile') }}
        </p>
      </section>
      <LightTable v-if="large >= 0" v-model:at="large" :entries="[card]" @close="large = -1" />
    </template>
    <p v-else-if="!error" class="faint pad">{{ t('app.loading') }}</p>
  </div>
</template>

<style scoped>
.page {
  position: relative;
  display: grid;
  grid-template-columns: 236px minmax(0, 1fr);
  gap: 30px;
  padding: 24px;
  max-width: 1280px;
}
.backdrop {
  position: absolute;
  inset: 0 auto auto 0;
  height: 240px;
  width: 100vw;
  background: center 30% / cover;
  opacity: 0.16;
  mask-image: linear-gradient(#000, transparent);
  pointer-events: none;
}
aside,
section {
  position: relative;
  min-width: 0;
}
.front {
  width: 100%;
  aspect-ratio: 2 / 3;
  border: 6px solid var(--card);
  box-shadow: var(--shadow);
  border-radius: 3px;
}
.front.square {
  aspect-ratio: 1;
}
.front.wide {
  aspect-ratio: 16 / 9;
}
.shown {
  display: block;
  width: 100%;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 5px 12px;
  margin: 14px 0 8px;
  font-size: 13px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
.marks {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 0 0 18px;
}
.mark {
  appearance: none;
  padding: 3px 11px 3px 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: none;
  color: var(--ink-soft);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}
.mark:hover {
  border-color: var(--accent);
  color: var(--ink);
}
.mark[aria-pressed='true'] {
  background: var(--moss-soft);
  border-color: color-mix(in srgb, var(--moss) 45%, var(--card));
  color: var(--ink);
}
.mark.fond[aria-pressed='true'] {
  background: color-mix(in srgb, var(--stamp) 12%, var(--card));
  border-color: color-mix(in srgb, var(--stamp) 45%, var(--card));
}
.acts {
  display: flex;
  flex-direction: column;
  gap: 5px;
  margin: 10px 0;
  font-size: 13px;
  align-items: start;
}
.trail {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 0 0 2px;
  font-size: 13px;
}
.trail a::after {
  content: ' /';
  color: var(--ink-faint);
  white-space: pre;
}
h1 {
  font-size: 30px;
  overflow-wrap: anywhere;
}
.meta {
  margin: 4px 0 12px;
}
.plot {
  font: 16px/1.6 var(--serif);
  max-width: 66ch;
  margin: 0 0 14px;
}
.play {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  margin: 0 0 20px;
}
.below {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(124px, 1fr));
  gap: 12px;
  margin-bottom: 22px;
}
.pad {
  padding: 20px;
}
@media (max-width: 760px) {
  .page {
    grid-template-columns: 1fr;
    padding: 14px 12px;
    gap: 14px;
  }
  aside {
    display: grid;
    grid-template-columns: 110px 1fr;
    gap: 0 14px;
    align-content: start;
  }
  aside > :first-child {
    grid-row: span 2;
  }
  dl {
    margin-top: 0;
  }
  .acts {
    margin: 0;
    text-align: start;
  }
  .front {
    width: 110px;
  }
  h1 {
    font-size: 24px;
  }
}
</style>
