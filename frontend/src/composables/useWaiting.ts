/** What waits for a person to say what it is: the list, where one stands in it, and all of what is at hand. */
import { useQueries, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type EntryCard } from '@/api/client'

const A_LOOK_MS = 400
const AHEAD = 2

/** Albums of one artist belong together; other entries to none. */
export const groupOf = (card: EntryCard | undefined) =>
  card?.kind === 'album' ? card.subtitle : ''

export function useWaiting() {
  const route = useRoute()
  const client = useQueryClient()
  const marks = ref<number[]>([])
  const first = useQuery({ queryKey: ['matches'], queryFn: () => ask(api.GET('/api/matches')) })
  const more = useQueries({
    queries: computed(() =>
      marks.value.map((after) => ({
        queryKey: ['matches', 'after', after],
        queryFn: () => ask(api.GET('/api/matches', { params: { query: { after } } })),
      })),
    ),
  })
  /** Whether one looks once more at what was taken without a person. */
  const again = computed(() => route.query.list === 'again')
  const { data: taken } = useQuery({
    queryKey: ['matches', 'again'],
    queryFn: () => ask(api.GET('/api/matches/again')),
  })
  const single = computed(() => (route.query.entry ? Number(route.query.entry) : undefined))
  const read = (id: number) => ({
    queryKey: ['matches', 'one', id],
    queryFn: () =>
      ask(api.GET('/api/entries/{entry_id}/match', { params: { path: { entry_id: id } } })),
  })
  const { data: asked } = useQuery({
    queryKey: ['matches', 'one', single],
    queryFn: () => read(single.value!).queryFn(),
    enabled: () => !!single.value,
  })
  const waiting = computed<EntryCard[]>(() => {
    const pages = [
      ...(first.data.value?.waiting ?? []),
      ...more.value.flatMap((page) => page.data?.waiting ?? []),
    ]
    const all = (again.value ? taken.value?.entries : pages) ?? []
    return asked.value && single.value && !all.some((card) => card.id === single.value)
      ? [asked.value.entry, ...all]
      : all
  })
  const total = computed(() =>
    again.value
      ? waiting.value.length
      : Math.max(first.data.value?.total ?? 0, waiting.value.length),
  )
  function loadMore(): void {
    const last = waiting.value.at(-1)
    if (last && !again.value) marks.value.push(last.id)
  }
  const chosenId = ref<number>()
  const at = computed(() =>
    Math.max(
      0,
      waiting.value.findIndex((card) => card.id === chosenId.value),
    ),
  )
  const current = computed(() => waiting.value[at.value])
  const { data: match } = useQuery({
    queryKey: ['matches', 'one', () => current.value?.id],
    queryFn: () => read(current.value!.id).queryFn(),
    enabled: () => !!current.value,
  })
  /** The next ones are fetched before they are needed, so that a key pressed at once finds them there. */
  watch(
    [at, waiting],
    () => {
      for (const card of waiting.value.slice(at.value + 1, at.value + 1 + AHEAD))
        void client.prefetchQuery({ ...read(card.id), staleTime: 10_000 })
    },
    { immediate: true },
  )
  watch(again, () => (chosenId.value = undefined))
  watch(single, (id) => (chosenId.value = id), { immediate: true })
  const group = computed(() =>
    groupOf(current.value)
      ? waiting.value.filter((card) => groupOf(card) === groupOf(current.value))
      : [],
  )
  function step(by: number): void {
    const place = Math.min(Math.max(at.value + by, 0), waiting.value.length - 1)
    chosenId.value = waiting.value[place]?.id
  }
  /** Away from what is decided on, to the one behind it, or before it where it is the last. */
  function leave(entry: EntryCard): void {
    const next = waiting.value[at.value + 1] ?? waiting.value[at.value - 1]
    chosenId.value = next?.id === entry.id ? undefined : next?.id
  }

  /** Entries whose candidates were asked about already: it is done once, when a person looks. */
  const looked = new Set<number>()
  watch(match, async (now) => {
    if (!now || looked.has(now.entry.id) || now.candidates.every((one) => one.is_looked_at)) return
    looked.add(now.entry.id)
    await new Promise((later) => setTimeout(later, A_LOOK_MS)) // who only passes by does not look
    if (match.value?.entry.id !== now.entry.id) return void looked.delete(now.entry.id)
    await ask(
      api.POST('/api/entries/{entry_id}/look', { params: { path: { entry_id: now.entry.id } } }),
    ).catch(() => undefined)
    await client.invalidateQueries({ queryKey: ['matches'] })
  })
  return {
    ...{ data: first.data, error: first.error, refetch: first.refetch, again, taken },
    ...{ waiting, total, loadMore, chosenId, at, current, match, group, step, leave },
  }
}
export type Waiting = ReturnType<typeof useWaiting>
