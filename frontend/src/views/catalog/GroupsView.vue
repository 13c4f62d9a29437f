<script setup lang="ts">
/** A shelf in groups, one beneath the other: films by genre, albums by composer, photos by lens. */
import { useInfiniteQuery } from '@tanstack/vue-query'
import { useIntersectionObserver } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { traitsOf, useTraitWords } from '@/composables/traitWords'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import EntryTile from '@/parts/EntryTile.vue'
import LackingTiles from '@/parts/LackingTiles.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import GroupBy from './GroupBy.vue'
import NarrowBar from './NarrowBar.vue'
import PhotoStrip from './PhotoStrip.vue'
import ShelfTop from './ShelfTop.vue'

const { t, n } = useI18n()
const route = useRoute()
const router = useRouter()
const said = useTraitWords()
const text = (name: string) => {
  const told = route.query[name]
  return typeof told === 'string' ? told : ''
}
const shelf = computed(() => String(route.params.shelf))
const group = computed(() => String(route.params.group))
const wanted = computed(() => ({
  traits: text('with'),
  words: text('filter'),
  year: text('year'),
}))
const { data, error, refetch, hasNextPage, isFetching, isFetchingNextPage, fetchNextPage } =
  useInfiniteQuery({
    queryKey: ['shelf', shelf, 'groups', group, wanted],
    queryFn: ({ pageParam }) =>
      ask(
        api.GET('/api/shelves/{shelf}/by/{group}', {
          params: {
            path: { shelf: shelf.value, group: group.value },
            query: { ...wanted.value, after: pageParam },
          },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.following ?? undefined,
  })
const groups = computed(() => data.value?.pages.flatMap((page) => page.groups) ?? [])
const end = useTemplateRef<HTMLElement>('end')
useIntersectionObserver(
  end,
  ([seen]) => {
    if (seen?.isIntersecting && hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage()
  },
  { rootMargin: '600px' },
)
/** The shelf, narrowed down to a group besides what it is narrowed down to. */
function whole(value: string) {
  const others = traitsOf(wanted.value.traits)
    .filter((one) => one.group !== group.value)
    .map((one) => `${one.group}:${one.value}`)
  const { words, year } = wanted.value
  return {
    path: `/catalog/${shelf.value}`,
    query: {
      with: [...others, `${group.value}:${value}`].join('|'),
      ...(words && { filter: words }),
      ...(year && { year }),
    },
  }
}
function narrow(chosen: string): void {
  void router.replace({ query: { ...route.query, with: chosen || undefined } })
}
</script>

<template>
  <div class="groups">
    <ShelfTop :shelf="shelf" :total="data && n(data.pages[0]?.total ?? 0)" />
    <NarrowBar
      :key="shelf"
      :shelf="shelf"
      :traits="wanted.traits"
      :year="wanted.year"
      until=""
      :words="wanted.words"
      @choose="narrow"
    >
      <GroupBy :shelf="shelf" :at="group" class="at-end" />
    </NarrowBar>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <EmptyPlace
      v-else-if="data && !groups.length"
      :title="t('groups.empty')"
      :how="t('groups.emptyHow')"
    />
    <section v-for="one in groups" :key="one.value" data-test="group">
      <header>
        <h2>
          <RouterLink :to="whole(one.value)">{{ said.say(group, one.value) }}</RouterLink>
        </h2>
        <span class="mono faint">{{ n(one.count) }}</span>
      </header>
      <PhotoStrip v-if="shelf === 'photos'" :entries="one.entries" />
      <div v-else class="row" :class="{ covers: shelf === 'music' }">
        <EntryTile
          v-for="entry in one.entries"
          :key="entry.id"
          :entry="entry"
          :square="shelf === 'music'"
        />
        <LackingTiles :lacks="one.lacks" />
      </div>
    </section>
    <p v-if="isFetching && !groups.length" class="soft" role="status">{{ t('app.loading') }}</p>
    <div ref="end" aria-hidden="true"></div>
  </div>
</template>

<style scoped>
.groups {
  padding: 0 24px 40px;
}
.at-end {
  margin-inline-start: auto;
}
section {
  margin-bottom: 22px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 1px solid var(--rule-strong);
}
h2 {
  margin: 0;
  font-size: 17px;
}
h2 a {
  color: var(--ink);
}
.row {
  display: flex;
  gap: 14px;
  overflow-x: auto;
  margin: -3px;
  padding: 3px 3px 8px;
}
.row > * {
  flex: none;
  width: 132px;
}
.covers > * {
  width: 146px;
}
@media (max-width: 760px) {
  .groups {
    padding: 0 12px 40px;
  }
  .row {
    gap: 8px;
  }
  .row > * {
    width: 104px;
  }
}
</style>
