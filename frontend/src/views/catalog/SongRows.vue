<script setup lang="ts">
/** Songs in a list, however many: only the rows in sight are there. A click plays from that song on. */
import { useWindowVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import type { SongRow } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import { playableOf } from '@/composables/queue'
import { usePlayer } from '@/composables/usePlayer'
import { clock } from '@/composables/words'

const ROW_PX = 40
/** So many songs from the chosen one on are put into the queue. */
const QUEUED = 300
const props = defineProps<{
  songs: readonly SongRow[]
  total: number
  /** What the queue is called that they are played from. */
  title: string
}>()
/** The end is close: more of them, if there are. */
const emit = defineEmits<{ more: [] }>()
const { t } = useI18n()
const player = usePlayer()
const list = useTemplateRef<HTMLElement>('list')
const at = ref(0)
const rows = useWindowVirtualizer(
  computed(() => ({
    count: props.songs.length,
    estimateSize: () => ROW_PX,
    overscan: 12,
    scrollMargin: list.value?.offsetTop ?? 0,
  })),
)
watch(
  () => rows.value.getVirtualItems().at(-1)?.index ?? 0,
  (last) => last > props.songs.length - 40 && emit('more'),
)
watch(
  () => props.songs[0]?.id,
  () => (at.value = 0),
)
function playFrom(index: number): void {
  const there = props.songs.slice(index, index + QUEUED).filter((song) => song.file_id)
  if (!there.length) return
  player.play({
    title: props.title,
    subtitle: '',
    picture: null,
    entryId: there[0]!.id,
    items: there.map(playableOf),
  })
}
function toQueue(song: SongRow): void {
  const { title, artist, picture, id } = song
  player.add({ title, subtitle: artist, picture, entryId: id, items: [playableOf(song)] }, 'end')
}
function go(to: number): void {
  at.value = Math.min(Math.max(to, 0), props.songs.length - 1)
  rows.value.scrollToIndex(at.value, { align: 'auto' })
}
useKeys({
  j: () => go(at.value + 1),
  k: () => go(at.value - 1),
  Enter: () => playFrom(at.value),
})
const isOn = (song: SongRow) =>
  song.file_id !== null && player.current.value?.fileId === song.file_id
</script>

<template>
  <div
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
</template>

<style scoped>
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
