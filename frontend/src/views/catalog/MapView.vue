<script setup lang="ts">
/** Photos where they were taken; a heap that is chosen shows its photos beside the map. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Heap } from '@/api/client'
import {
  boxOf,
  narrowedTo,
  union,
  type Box,
  type Lying,
  type Pile,
  type View,
} from '@/composables/earth'
import { calledFrom } from '@/composables/placeWords'
import { useKeys } from '@/composables/useKeys'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import EarthMap from './EarthMap.vue'
import HeapPanel from './HeapPanel.vue'
import NarrowBar from './NarrowBar.vue'
import ShelfTop from './ShelfTop.vue'
import ShelfWays from './ShelfWays.vue'

const A_PAUSE_MS = 180
const { t, n, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const said = (name: string) => computed(() => (route.query[name] as string | undefined) ?? '')
const [words, traits, year] = [said('filter'), said('with'), said('year')]
const typed = refDebounced(words, 250)
const view = ref<View>()
const looked = ref<Box>()
const box = refDebounced(looked, A_PAUSE_MS)
const map = useTemplateRef<{
  whole: (places: readonly Lying[]) => void
  show: (places: readonly Lying[]) => void
}>('map')
const asked = computed(() => ({
  words: typed.value,
  traits: traits.value,
  year: year.value,
  ...box.value,
}))
const { data, error, refetch, isFetching } = useQuery({
  queryKey: ['shelf', 'photos', 'map', asked],
  queryFn: () => ask(api.GET('/api/map', { params: { query: asked.value } })),
  placeholderData: (before) => before,
})
const heaps = computed(() => data.value?.heaps ?? [])
const total = computed(() => heaps.value.reduce((sum, heap) => sum + heap.count, 0))
const isEmpty = computed(() => !!data.value && !isFetching.value && !view.value && !total.value)
const chosen = ref<Pile<Heap>>()
/** What lies in a pile, taken apart into smaller heaps: all of them are had in sight. */
async function comeCloser(): Promise<void> {
  const pile = chosen.value
  if (!pile) return
  const within = narrowedTo(traits.value, pile.cells)
  const query = { ...asked.value, traits: within, ...union(pile.cells.map(boxOf)) }
  const { heaps: parts } = await ask(api.GET('/api/map', { params: { query } }))
  map.value?.show(parts)
}
/** All that is asked for; what is in sight now may be none of it. */
async function showWhole(): Promise<void> {
  const query = { words: typed.value, traits: traits.value, year: year.value }
  const { heaps: all } = await ask(api.GET('/api/map', { params: { query } }))
  map.value?.whole(all)
}
const called = ref('')
function choose(pile: Pile<Heap>): void {
  called.value = calledFrom(pile.first, view.value?.scale ?? 0, locale.value, pile.cells.length)
  chosen.value = pile
}
function set(query: Record<string, string | undefined>): void {
  void router.replace({ query: { ...route.query, ...query } })
}
useKeys({ Escape: () => (chosen.value = undefined), '0': showWhole })
</script>

<template>
  <div class="place">
    <ShelfTop
      class="flat"
      shelf="photos"
      :filter="words"
      :total="n(total)"
      @filter="(now) => set({ filter: now })"
    />
    <NarrowBar
      shelf="photos"
      :traits="traits"
      :year="year"
      until=""
      :words="typed"
      @choose="(chosen) => set({ with: chosen || undefined })"
    >
      <ShelfWays class="to-end" of="photos" at="map" />
    </NarrowBar>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <EmptyPlace v-if="isEmpty && (words || traits || year)" :title="t('app.nothingFound')" />
    <EmptyPlace v-else-if="isEmpty" :title="t('map.empty')" :how="t('map.emptyHow')" />
    <div v-else class="desk" :class="{ open: chosen }">
      <EarthMap
        ref="map"
        v-model:view="view"
        :heaps="heaps"
        :pile="chosen"
        @look="(now) => (looked = now)"
        @choose="choose"
      />
      <HeapPanel
        v-if="chosen"
        :pile="chosen"
        :called="called"
        :traits="traits"
        :words="typed"
        :year="year"
        @closer="comeCloser"
        @close="chosen = undefined"
      />
    </div>
  </div>
</template>

<style scoped>
.to-end {
  margin-inline-start: auto;
}
.place > .flat {
  margin-bottom: 0;
}
.place {
  display: flex;
  flex-direction: column;
  height: calc(100dvh - 54px - var(--player-space, 0px));
  min-height: 420px;
  padding: 0 24px 16px;
}
.desk {
  display: grid;
  flex: 1;
  grid-template: minmax(0, 1fr) / minmax(0, 1fr);
  gap: 14px;
  min-height: 0;
}
.desk.open {
  grid-template-columns: minmax(0, 1fr) 316px;
}
@media (max-width: 760px) {
  .place {
    padding: 0 12px 12px;
  }
  .desk.open {
    grid-template: minmax(0, 1.1fr) minmax(0, 1fr) / minmax(0, 1fr);
  }
}
</style>
