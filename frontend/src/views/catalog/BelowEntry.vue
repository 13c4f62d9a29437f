<script setup lang="ts">
/** What lies below an entry, in the form that suits it: a grid of episodes, tracks, tiles. */
import { computed } from 'vue'
import type { Entry } from '@/api/client'
import { useEntry } from '@/composables/useEntry'
import EntryTile from '@/parts/EntryTile.vue'
import EpisodeGrid from './EpisodeGrid.vue'
import TrackList from './TrackList.vue'

const props = defineProps<{ entry: Entry }>()
const { card, playable, play, add } = useEntry(() => props.entry)
const isSquare = computed(() => ['artist', 'event', 'season'].includes(card.value.kind))
</script>

<template>
  <div class="below">
    <EpisodeGrid v-if="entry.grid.length" :rows="entry.grid" />
    <TrackList
      v-if="card.kind === 'album'"
      :tracks="entry.children"
      :plays="playable"
      @play="play"
      @add="(at) => add('end', at)"
    />
    <div v-else-if="entry.children.length" class="tiles">
      <EntryTile
        v-for="child in entry.children"
        :key="child.id"
        :entry="child"
        :square="isSquare"
      />
    </div>
  </div>
</template>

<style scoped>
.below {
  margin-top: 22px;
}
.below:empty {
  display: none;
}
.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(124px, 1fr));
  gap: 12px;
}
</style>
