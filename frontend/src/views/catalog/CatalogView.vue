<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, provide, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import { PICKING, type Picking } from '@/composables/usePicking'
import EntryTile from '@/parts/EntryTile.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ManyBar from './ManyBar.vue'
import MusicShelf from './MusicShelf.vue'
import PhotoWall from './PhotoWall.vue'
import YearRuler from './YearRuler.vue'

const SHELVES = ['films', 'series', 'music', 'photos'] as const
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const shelf = computed(() => String(route.params.shelf))
const year = computed(() => (typeof route.query.year === 'string' ? route.query.year : ''))
const words = computed(() => (typeof route.query.filter === 'string' ? route.query.filter : ''))
const { data, error, refetch } = useQuery({ queryKey: ['shelf', shelf], queryFn: () => ask(api.GET('/api/shelves/{shelf}', { params: { path: { shelf: shelf.value } } })) })
const shown = computed(() =>
  (data.value?.entries ?? []).filter(
    (entry) => (!year.value || String(entry.year ?? (entry.moment ?? '').slice(0, 4)) === year.value) && (!words.value || `${entry.title} ${entry.subtitle}`.toLocaleLowerCase().includes(words.value.toLocaleLowerCase())),
  ),
)
const picking = ref(false)
const picked = ref<number[]>([])
let last = 0
/** With the shift key everything between this one and the last is taken along. */
function pick(id: number, range: boolean): void {
  const ids = shown.value.map((entry) => entry.id)
  const [from, to] = [ids.indexOf(last), ids.indexOf(id)].sort((a, b) => a - b) as [number, number]
  if (range && from >= 0) picked.value = [...new Set([...picked.value, ...ids.slice(from, to + 1)])]
  else picked.value = picked.value.includes(id) ? picked.value.filter((other) => other !== id) : [...picked.value, id]
  last = id
}
provide<Picking>(PICKING, { on: picking, picked, pick })
function stopPicking(): void {
  picking.value = false
  picked.value = []
}
watch(shelf, stopPicking)
function set(query: Record<string, string | undefined>): void {
  void router.replace({ query: { ...route.query, ...query } })
}
</script>

<template>
  <div class="catalog">
    <div class="top">
      <nav :aria-label="t('place.catalog')"><RouterLink v-for="s in SHELVES" :key="s" :to="`/catalog/${s}`" :class="{ at: s === shelf }">{{ t(`catalog.${s}`) }}</RouterLink></nav>
      <YearRuler v-if="data && Object.keys(data.years).length" :years="data.years" :chosen="year" @choose="(y) => set({ year: y || undefined })" />
      <input type="search" class="filter" :value="words" :placeholder="t('catalog.filter')" :aria-label="t('catalog.filter')" @input="set({ filter: ($event.target as HTMLInputElement).value || undefined })" />
      <span class="mono faint">{{ shown.length }}</span>
      <button v-if="data?.entries.length" class="link" :aria-pressed="picking" data-test="pick" @click="picking ? stopPicking() : (picking = true)">{{ t('many.title') }}</button>
    </div>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="data">
      <EmptyPlace v-if="!data.entries.length" :title="t('catalog.empty')" :how="t('catalog.emptyHow')"><RouterLink to="/house">{{ t('place.house') }}</RouterLink></EmptyPlace>
      <PhotoWall v-else-if="shelf === 'photos'" :entries="shown" />
      <MusicShelf v-else-if="shelf === 'music'" :entries="shown" />
      <div v-else class="wall"><EntryTile v-for="entry in shown" :key="entry.id" :entry="entry" /></div>
      <ManyBar v-if="picking" :key="shelf" :shelf="shelf" :chosen="picked" :total="shown.length" @all="picked = shown.map((entry) => entry.id)" @none="picked = []" @done="stopPicking" />
    </template>
  </div>
</template>

<style scoped>
.catalog { padding: 0 24px 40px; }
.top { position: sticky; top: 54px; z-index: 20; display: flex; align-items: center; gap: 18px; margin: 0 -24px 16px; padding: 9px 24px; background: var(--paper); border-bottom: 1px solid var(--rule); }
nav { display: flex; gap: 2px; flex: none; }
nav a { padding: 4px 11px; border-radius: 3px; color: var(--ink-soft); font: 700 14.5px/1.4 var(--serif); }
nav a:hover { text-decoration: none; color: var(--ink); }
nav a.at { color: var(--ink); box-shadow: inset 0 -2px 0 var(--accent); border-radius: 0; }
.filter { width: 150px; height: 30px; padding: 0 10px; border: 1px solid var(--rule-strong); border-radius: 4px; background: var(--card); color: var(--ink); font: inherit; }
.wall { display: grid; grid-template-columns: repeat(auto-fill, minmax(142px, 1fr)); gap: 16px 14px; }
@media (max-width: 760px) { .catalog { padding: 0 12px 40px; } .top { position: static; flex-wrap: wrap; margin: 0 -12px 12px; padding: 8px 12px; gap: 8px; } .filter { flex: 1; } .wall { grid-template-columns: repeat(auto-fill, minmax(104px, 1fr)); gap: 10px 8px; } }
</style>
