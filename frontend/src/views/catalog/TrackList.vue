<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { EntryCard, Playable } from '@/api/client'
import { usePlayer } from '@/composables/usePlayer'
import { clock } from '@/composables/words'

const props = defineProps<{ tracks: readonly EntryCard[]; plays: readonly Playable[] }>()
const emit = defineEmits<{ play: [at: number]; add: [at: number] }>()
const { t } = useI18n()
const { current } = usePlayer()
const rows = computed(() =>
  props.tracks.map((track, index) => ({ track, play: props.plays[index], at: index })),
)
</script>

<template>
  <ol class="card tracks">
    <li
      v-for="row in rows"
      :key="row.track.id"
      :class="{ on: row.play && current?.fileId === row.play.file_id }"
    >
      <button
        class="plain play"
        :aria-label="`${t('page.play')}: ${row.track.title}`"
        @click="emit('play', row.at)"
      >
        {{ row.play && current?.fileId === row.play.file_id ? '♪' : '▸' }}
      </button>
      <span class="mono faint">{{ row.at + 1 }}</span>
      <RouterLink :to="`/catalog/entry/${row.track.id}`">{{ row.track.title }}</RouterLink>
      <span class="mono soft">{{ row.play?.seconds ? clock(row.play.seconds) : '' }}</span>
      <button
        v-if="row.play"
        class="plain add"
        :title="t('queue.end')"
        :aria-label="`${t('queue.end')}: ${row.track.title}`"
        @click="emit('add', row.at)"
      >
        ＋
      </button>
    </li>
  </ol>
</template>

<style scoped>
.tracks {
  list-style: none;
  margin: 0 0 22px;
  padding: 0;
  max-width: 720px;
}
li {
  display: grid;
  grid-template-columns: 28px 30px minmax(0, 1fr) auto 30px;
  align-items: center;
  height: var(--row);
  padding: 0 10px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border: 0;
}
li:hover,
.on {
  background: var(--accent-soft);
}
.play {
  text-align: center;
  color: var(--accent);
  height: 100%;
}
a {
  color: var(--ink);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.add {
  height: 100%;
  text-align: center;
  color: var(--ink-faint);
}
.add:hover,
.add:focus-visible {
  color: var(--accent);
}
.on a {
  font-weight: 500;
}
</style>
