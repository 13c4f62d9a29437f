<script setup lang="ts">
/** All songs in one list, however many: only the rows in sight are there. A click plays from that song on. */
import { useInfiniteQuery } from '@tanstack/vue-query'
import { useWindowVirtualizer } from '@tanstack/vue-virtual'
import { refDebounced } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type SongRow } from '@/api/client'
import { usePlayer } from '@/composables/usePlayer'
import { useKeys } from '@/composables/useKeys'
import { clock } from '@/composables/words'
import ChooseOne from '@/parts/ChooseOne.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ShelfTop from './ShelfTop.vue'
import ShelfWays from './ShelfWays.vue'

const ROW_PX = 40
/** So many songs from the chosen one on are put into the queue. */
const QUEUED = 300
const SORTS = ['title', 'added'] as const
const { t, n } = useI18n()
const route = useRoute()
const router = useRouter()
const player = usePlayer()
const words = computed(() => (typeof route.query.filter === 'string' ? route.query.filter : ''))
const typed = refDebounced(words, 250)
const sort = computed(() => SORTS.find((one) => one === route.query.sort) ?? 'title')
const { data, error, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['shelf', 'songs', typed, sort],
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/songs', {
        params: { query: { words: typed.value, sort: sort.value, after: pageParam } },
      }),
    ),
  initialPageParam: '',
  getNextPageParam: (last) => last.following ?? undefined,
})
const songs = computed(() => data.value?.pages.flatMap((page) => page.songs) ?? [])
const total = computed(() => data.value?.pages[0]?.total ?? 0)
const list = useTemplateRef<HTMLElement>('list')
const at = ref(0)
const rows = useWindowVirtualizer(
  computed(() => ({
    count: songs.value.length,
    estimateSize: () => ROW_PX,
    overscan: 12,
    scrollMargin: list.value?.offsetTop ?? 0,
  })),
)
watch(
  () => rows.value.getVirtualItems().at(-1)?.index ?? 0,
  (last) => {
    if (last > songs.value.length - 40 && hasNextPage.value && !isFetchingNextPage.value)
      void fetchNextPage()
  },
)
const item = (song: SongRow) => ({
  file_id: song.file_id ?? 0,
  label: song.title,
  entry_id: song.id,
  seconds: song.seconds,
  extra: false,
  by: song.artist,
  picture: song.picture,
})
function playFrom(index: number): void {
  const there = songs.value.slice(index, index + QUEUED).filter((song) => song.file_id)
  if (!there.length) return
  player.play({
    title: t('songs.title'),
    subtitle: '',
    picture: null,
    entryId: there[0]!.id,
    items: there.map(item),
  })
}
function toQueue(song: SongRow): void {
  const { title, artist, picture, id } = song
  player.add({ title, subtitle: artist, picture, entryId: id, items: [item(song)] }, 'end')
}
function go(to: number): void {
  at.value = Math.min(Math.max(to, 0), songs.value.length - 1)
  rows.value.scrollToIndex(at.value, { align: 'auto' })
}
useKeys({
  j: () => go(at.value + 1),
  k: () => go(at.value - 1),
  Enter: () => playFrom(at.value),
})
function set(query: Record<string, string | undefined>): void {
  at.value = 0
  void router.replace({ query: { ...route.query, ...query } })
}
const isOn = (song: SongRow) =>
  song.file_id !== null && player.current.value?.fileId === song.file_id
</script>

<template>
  <div class="songs">
    <ShelfTop
      shelf="music"
      :filter="words"
      :total="`${n(total)}${data?.pages[0]?.is_more ? '+' : ''}`"
      @filter="(now) => set({ filter: now })"
    />
    <p class="bar">
      <ChooseOne
        name="sort"
        :label="t('catalog.sort')"
        :value="sort"
        :options="SORTS.map((one) => [one, t(`narrow.sort.${one}`)] as const)"
        @choose="(one) => set({ sort: one })"
      />
      <ShelfWays class="to-end" of="music" at="songs" />
    </p>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <EmptyPlace
      v-if="data && !songs.length"
      :title="words ? t('app.nothingFound') : t('catalog.empty')"
    />
    <div
      v-show="songs.length"
      ref="list"
      class="card list"
      role="table"
      :aria-label="t('songs.title')"
      :aria-rowcount="total"
    >
      <div :style="{ height: `${rows.getTotalSize()}px` }" role="rowgroup">
        <div
          v-for="row in rows.getVirtualItems()"
          :key="songs[row.index]!.id"
          class="row"
          role="row"
          :aria-rowindex="row.index + 1"
          :class="{ at: row.index === at, on: isOn(songs[row.index]!) }"
          :style="{
            transform: `translateY(${row.start - rows.options.scrollMargin}px)`,
          }"
          @click="at = row.index"
        >
          <span role="cell"
            ><button
              class="plain play"
              :disabled="!songs[row.index]!.file_id"
              :aria-label="`${t('page.play')}: ${songs[row.index]!.title}`"
              @click="playFrom(row.index)"
            >
              {{ isOn(songs[row.index]!) ? '♪' : '▸' }}
            </button></span
          >
          <span class="name" role="cell"
            ><RouterLink :to="`/catalog/entry/${songs[row.index]!.id}`">{{
              songs[row.index]!.title
            }}</RouterLink></span
          >
          <span class="soft" role="cell">{{ songs[row.index]!.artist }}</span>
          <span class="album" role="cell"
            ><RouterLink
              v-if="songs[row.index]!.album_id"
              :to="`/catalog/entry/${songs[row.index]!.album_id}`"
              >{{ songs[row.index]!.album }}</RouterLink
            ></span
          >
          <span class="mono soft year" role="cell">{{ songs[row.index]!.year ?? '' }}</span>
          <span class="mono soft" role="cell">{{
            songs[row.index]!.seconds ? clock(songs[row.index]!.seconds!) : ''
          }}</span>
          <span role="cell"
            ><button
              class="plain add"
              :disabled="!songs[row.index]!.file_id"
              :title="t('queue.end')"
              :aria-label="`${t('queue.end')}: ${songs[row.index]!.title}`"
              @click="toQueue(songs[row.index]!)"
            >
              ＋
            </button></span
          >
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.to-end {
  margin-inline-start: auto;
}
.songs {
  padding: 0 24px 40px;
}
.bar {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 0 0 14px;
}
.list > div {
  position: relative;
}
.row {
  position: absolute;
  inset: 0 0 auto;
  display: grid;
  grid-template-columns: 28px minmax(0, 3fr) minmax(0, 2fr) minmax(0, 2fr) 52px 56px 30px;
  gap: 0 14px;
  align-items: center;
  height: 40px;
  padding: 0 12px;
  border-bottom: 1px solid var(--rule);
}
.row > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.row:hover,
.row.on {
  background: var(--accent-soft);
}
.row.at {
  box-shadow: inset 3px 0 0 var(--accent);
}
.name a {
  color: var(--ink);
}
.on .name {
  font-weight: 500;
}
.album a {
  color: var(--ink-soft);
}
.play,
.add {
  width: 100%;
  height: 40px;
  color: var(--accent);
  text-align: center;
}
.add {
  color: var(--ink-faint);
}
.add:hover,
.add:focus-visible {
  color: var(--accent);
}
.play:disabled,
.add:disabled {
  color: var(--ink-faint);
  opacity: 0.4;
}
@media (max-width: 760px) {
  .songs {
    padding: 0 12px 40px;
  }
  .row {
    grid-template-columns: 24px minmax(0, 3fr) minmax(0, 2fr) 48px 26px;
    gap: 0 8px;
    padding: 0 8px;
  }
  .album,
  .year {
    display: none;
  }
}
</style>
