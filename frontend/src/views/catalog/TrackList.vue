<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { EntryCard, Playable } from '@/api/client'
import { usePlayer } from '@/composables/usePlayer'
import { clock } from '@/composables/words'

const props = defineProps<{ tracks: readonly EntryCard[]; plays: readonly Playable[] }>()
const emit = defineEmits<{ play: [at: number] }>()
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
      :class="{ on: row.play && current?.file_id === row.play.file_id }"
    >
      <button
        class="plain play"
        :aria-label="`${t('page.play')}: ${row.track.title}`"
        @click="emit('play', row.at)"
      >
        {{ row.play && current?.file_id === row.play.file_id ? '♪' : '▸' }}
      </button>
      <span class="mono faint">{{ row.at + 1 }}</span>
      <RouterLink :to="`/catalog/entry/${row.track.id}`">{{ row.track.title }}</RouterLink>
      <span class="mono soft">{{ row.play?.seconds ? clock(row.play.seconds) : '' }}</span>
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
  grid-template-columns: 28px 30px minmax(0, 1fr) auto;
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
.on a {
  font-weight: 500;
}
</style>
