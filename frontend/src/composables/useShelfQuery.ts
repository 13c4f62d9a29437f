/** What a shelf is asked for, as its address says: years, words, traits, order. */
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Rule } from '@/api/client'

/** A pause in typing after which the shelf is asked anew. */
export const A_PAUSE_MS = 250
const SORTS = {
  films: ['title', 'year', 'added', 'length', 'rating', 'resolution', 'size'],
  series: ['title', 'year', 'added', 'rating'],
} as const

export function useShelfQuery() {
  const route = useRoute()
  const router = useRouter()
  const text = (name: string) => {
    const value = route.query[name]
    return typeof value === 'string' ? value : ''
  }
  const shelf = computed(() => String(route.params.shelf))
  const year = computed(() => text('year'))
  const words = computed(() => text('filter'))
  const until = computed(() => text('until'))
  const typed = refDebounced(words, A_PAUSE_MS)
  const traits = computed(() => text('with'))
  const sorts = computed(() => SORTS[shelf.value as keyof typeof SORTS] ?? ([] as const))
  const sort = computed(() => sorts.value.find((one) => one === route.query.sort) ?? 'title')
  const wanted = computed(() => ({
    year: year.value,
    until: until.value,
    words: typed.value,
    traits: traits.value,
    sort: sort.value,
  }))
  /** What a list that fills itself would be asked for; nothing while all is shown. */
  const rule = computed<Rule | undefined>(() =>
    typed.value || traits.value || year.value
      ? {
          shelf: shelf.value as Rule['shelf'],
          year: year.value,
          words: typed.value,
          traits: traits.value,
          sort: sort.value,
        }
      : undefined,
  )
  function set(query: Record<string, string | undefined>): void {
    void router.replace({ query: { ...route.query, ...query } })
  }
  return { shelf, year, words, until, typed, traits, sorts, sort, wanted, rule, set }
}
