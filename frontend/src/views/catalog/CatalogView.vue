<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import { useBlocks } from '@/composables/useBlocks'
import { useLooks } from '@/composables/useLooks'
import { useStatus } from '@/composables/useStatus'
import { usePicks } from '@/composables/usePicking'
import { useShelfQuery } from '@/composables/useShelfQuery'
import ChooseOne from '@/parts/ChooseOne.vue'
import EntryTile from '@/parts/EntryTile.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import GoingOn from './GoingOn.vue'
import GroupBy from './GroupBy.vue'
import KeepNarrowing from './KeepNarrowing.vue'
import ManyBar from './ManyBar.vue'
import MusicShelf from './MusicShelf.vue'
import NarrowBar from './NarrowBar.vue'
import PhotoCalendar from './PhotoCalendar.vue'
import PhotoWall from './PhotoWall.vue'
import ShelfBlock from './ShelfBlock.vue'
import ShelfTop from './ShelfTop.vue'
import ShelfWays from './ShelfWays.vue'
import YearRuler from './YearRuler.vue'

/** Numbers of columns that divide a page of 120. */
const COLUMNS = [2, 3, 4, 5, 6, 8, 10, 12, 15] as const
const LEAST_PX = 146
const LEAST_NARROW_PX = 108
const GAP_PX = 14
const { t, n } = useI18n()
const { shelf, year, words, until, typed, traits, sorts, sort, wanted, rule, set } = useShelfQuery()
const {
  data: ruler,
  error,
  refetch,
} = useQuery({
  queryKey: ['shelf', shelf, 'ruler', typed, traits],
  queryFn: () =>
    ask(
      api.GET('/api/shelves/{shelf}/ruler', {
        params: {
          path: { shelf: shelf.value },
          query: { words: typed.value, traits: traits.value },
        },
      }),
    ),
  placeholderData: (before, asked) => (asked?.queryKey[1] === shelf.value ? before : undefined),
})
const total = computed(() => {
  const steps = Object.entries(ruler.value?.steps ?? {})
  return steps
    .filter(([step]) => !year.value || step.startsWith(year.value))
    .reduce((sum, [, count]) => sum + count, 0)
})
/** Of photos the ruler counts months, the bar above the wall years. */
const years = computed(() => {
  const found: Record<string, number> = {}
  for (const [step, count] of Object.entries(ruler.value?.steps ?? {}))
    found[step.slice(0, 4)] = (found[step.slice(0, 4)] ?? 0) + count
  return found
})
const blocks = useBlocks(() => [shelf.value, wanted.value])
const { cursors, loaded } = blocks
const wall = useTemplateRef<HTMLElement>('wall')
const { width } = useElementSize(wall)
/** As many tiles a row as fit, of the numbers that divide a page: no row is left half. */
const columns = computed(
  () =>
    COLUMNS.findLast(
      (n) =>
        n * (width.value < 600 ? LEAST_NARROW_PX : LEAST_PX) * cardFactor.value <=
        width.value + GAP_PX,
    ) ?? COLUMNS[0],
)
const { data: status } = useStatus()
const { cardFactor } = useLooks()
const { picking, picked, stop: stopPicking } = usePicks(() => loaded.value)
watch(shelf, stopPicking)
async function pickAll(): Promise<void> {
  const found = await ask(
    api.GET('/api/shelves/{shelf}/ids', {
      params: { path: { shelf: shelf.value }, query: wanted.value },
    }),
  )
  picked.value = found.ids
}
</script>

<template>
  <div class="catalog">
    <ShelfTop
      :shelf="shelf"
      :filter="words"
      :total="n(total)"
      @filter="(now) => set({ filter: now })"
    >
      <YearRuler
        v-if="Object.keys(years).length"
        :years="years"
        :chosen="year"
        @choose="(y) => set({ year: y || undefined, until: undefined })"
      />
      <template #acts>
        <button
          v-if="status?.person_id && total"
          class="link"
          :aria-pressed="picking"
          data-test="pick"
          @click="picking ? stopPicking() : (picking = true)"
        >
          {{ t('many.title') }}
        </button>
      </template>
    </ShelfTop>
    <NarrowBar
      v-if="ruler && (ruler.total || traits)"
      :key="shelf"
      :shelf="shelf"
      :traits="traits"
      :year="year"
      :until="until"
      :words="typed"
      @choose="(chosen) => set({ with: chosen || undefined })"
    >
      <ChooseOne
        v-if="sorts.length"
        class="at-end"
        name="sort"
        :label="t('catalog.sort')"
        :value="sort"
        :options="sorts.map((one) => [one, t(`narrow.sort.${one}`)] as const)"
        @choose="(one) => set({ sort: one })"
      />
      <GroupBy :shelf="shelf" :class="{ 'at-end': !sorts.length }" />
      <KeepNarrowing v-if="rule" :rule="rule" />
      <ShelfWays v-if="shelf === 'music'" of="music" at="music" />
      <ShelfWays v-else-if="shelf === 'photos'" of="photos" at="days" />
    </NarrowBar>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="ruler">
      <EmptyPlace
        v-if="!ruler.total && !words && !traits"
        :title="t('catalog.empty')"
        :how="t('catalog.emptyHow')"
        ><RouterLink to="/house">{{ t('place.house') }}</RouterLink></EmptyPlace
      >
      <EmptyPlace v-else-if="!ruler.total" :title="t('app.nothingFound')" />
      <GoingOn v-if="!words && !year && !until && !traits && !picking" :shelf="shelf" />
      <div v-if="ruler.total" :class="{ dated: shelf === 'photos' }">
        <PhotoCalendar
          v-if="shelf === 'photos'"
          :months="ruler.steps"
          :at="until"
          @jump="(month) => set({ until: month || undefined, year: undefined })"
        />
        <div ref="wall">
          <ShelfBlock
            v-for="(after, index) in cursors"
            :key="index"
            :shelf="shelf"
            :after="after"
            :first="index === 0"
            v-bind="wanted"
            @found="(entries, following) => blocks.found(index, entries, following)"
          >
            <template #default="{ entries }">
              <PhotoWall
                v-if="shelf === 'photos'"
                :entries="entries"
                :above="blocks.held(index - 1)"
                :below="blocks.held(index + 1)"
                :all="loaded"
              />
              <MusicShelf v-else-if="shelf === 'music'" :entries="entries" />
              <div v-else class="wall" :style="{ '--columns': columns }">
                <EntryTile v-for="entry in entries" :key="entry.id" :entry="entry" :by="sort" />
              </div>
            </template>
          </ShelfBlock>
        </div>
      </div>
      <ManyBar
        v-if="picking"
        :key="shelf"
        :shelf="shelf"
        :manages="!!status?.manages"
        :chosen="picked"
        :total="total"
        @all="pickAll"
        @none="picked = []"
        @done="stopPicking"
      />
    </template>
  </div>
</template>

<style scoped>
.at-end {
  margin-inline-start: auto;
}
.catalog {
  padding: 0 24px 40px;
}
.wall {
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
  gap: 16px 14px;
  margin-bottom: 16px;
}
.dated {
  display: grid;
  grid-template-columns: 118px minmax(0, 1fr);
  gap: 18px;
}
@media (max-width: 760px) {
  .catalog {
    padding: 0 12px 40px;
  }
  .wall {
    gap: 10px 8px;
    margin-bottom: 10px;
  }
  .dated {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
