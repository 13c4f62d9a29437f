<script setup lang="ts">
/** All songs in one list, by title or the newest first. */
import { useInfiniteQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import ChooseOne from '@/parts/ChooseOne.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ShelfTop from './ShelfTop.vue'
import ShelfWays from './ShelfWays.vue'
import SongRows from './SongRows.vue'

const SORTS = ['title', 'added'] as const
const { t, n } = useI18n()
const route = useRoute()
const router = useRouter()
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
function more(): void {
  if (hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage()
}
function set(query: Record<string, string | undefined>): void {
  void router.replace({ query: { ...route.query, ...query } })
}
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
    <SongRows
      v-if="songs.length"
      :songs="songs"
      :total="total"
      :title="t('songs.title')"
      @more="more"
    />
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
@media (max-width: 760px) {
  .songs {
    padding: 0 12px 40px;
  }
}
</style>
