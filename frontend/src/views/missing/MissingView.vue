<script setup lang="ts">
/** What series, albums and films in parts lack: to look at, to print, to take along. */
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, at } from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import LackingRow from './LackingRow.vue'

const { t } = useI18n()
const library = ref<number>()
const { data: libraries } = useQuery({
  queryKey: ['libraries'],
  queryFn: () => ask(api.GET('/api/libraries')),
})
const { data, error, isPending, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } =
  useInfiniteQuery({
    queryKey: ['missing', library],
    queryFn: ({ pageParam }) =>
      ask(
        api.GET('/api/missing', {
          params: {
            query: { after: pageParam, ...(library.value ? { library_id: library.value } : {}) },
          },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (page) => page.following,
  })
const rows = computed(() => data.value?.pages.flatMap((page) => page.rows) ?? [])
const list = computed(() =>
  at(`missing/list.csv${library.value ? `?library_id=${library.value}` : ''}`),
)
const print = () => window.print()
const withNumbers = computed(() =>
  (libraries.value?.libraries ?? []).filter((one) =>
    ['series', 'music', 'movies', 'mixed'].includes(one.kind),
  ),
)
</script>

<template>
  <div class="missing">
    <header>
      <div>
        <h1>{{ t('missing.title') }}</h1>
        <RouterLink class="back" to="/names">{{ t('missing.toNames') }}</RouterLink>
      </div>
      <div class="acts">
        <select v-model="library" class="field" :aria-label="t('missing.of')">
          <option :value="undefined">{{ t('missing.everywhere') }}</option>
          <option v-for="one in withNumbers" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
        <a v-if="rows.length" class="link" :href="list" download data-test="csv">{{
          t('missing.csv')
        }}</a>
        <button v-if="rows.length" class="link" @click="print">{{ t('missing.print') }}</button>
      </div>
    </header>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <p v-else-if="isPending" class="soft" role="status">{{ t('missing.looks') }}</p>
    <EmptyPlace
      v-else-if="!rows.length && !hasNextPage"
      :title="t('missing.none')"
      :how="t('missing.noneHow')"
    />
    <ul v-if="rows.length" class="card">
      <LackingRow
        v-for="(row, place) in rows"
        :key="`${row.kind}${row.entry_id ?? place}`"
        :row="row"
      />
    </ul>
    <button
      v-if="hasNextPage"
      class="link more"
      :disabled="isFetchingNextPage"
      @click="fetchNextPage()"
    >
      {{ t('missing.more') }}
    </button>
  </div>
</template>

<style scoped>
.missing {
  max-width: 1120px;
  margin: 0 auto;
  padding: 20px 24px 48px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: end;
  justify-content: space-between;
  margin-bottom: 14px;
}
h1 {
  margin: 0 0 2px;
}
.acts {
  display: flex;
  gap: 16px;
  align-items: center;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.more {
  margin-top: 14px;
}
@media print {
  .acts,
  .back,
  .more {
    display: none;
  }
}
</style>
