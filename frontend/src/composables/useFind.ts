/** What a search finds, as one list to go through: entries, names that several things share, and places of the house. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type EntryCard } from '@/api/client'
import { useStatus } from './useStatus'
import { useTraitWords } from './traitWords'

export interface FoundRow {
  key: string
  to: string
  title: string
  /** What it is, in a few words. */
  note: string
  /** The line that is sung, where it was found by that. */
  sung?: string
  entry?: EntryCard
}

const MOST_PLACES = 3
const CATALOG = ['films', 'series', 'music', 'photos', 'lists'] as const
/** Beyond the tabs: where else one may want to go, for who may. */
const KEPT_PLACES = {
  'missing.title': '/names/missing',
  'twice.title': '/names/twice',
  'convention.title': '/house/conventions',
} as const
const SHELF_PLACES = {
  'songs.title': '/catalog/songs',
  'ways.map': '/catalog/photos/map',
} as const

export function useFind(words: Ref<string>, places: () => readonly string[]) {
  const { t } = useI18n()
  const { data: status } = useStatus()
  const { say } = useTraitWords()
  const { data, isFetching } = useQuery({
    queryKey: ['find', words],
    queryFn: () => ask(api.GET('/api/search', { params: { query: { q: words.value } } })),
    enabled: () => words.value.trim().length > 0,
    placeholderData: (before) => before,
  })
  const entries = computed<FoundRow[]>(() =>
    (data.value?.entries ?? []).map((entry) => ({
      key: `entry-${entry.id}`,
      to: `/catalog/entry/${entry.id}`,
      title: entry.title,
      note: [t(`entry.${entry.kind}`), entry.year ?? entry.subtitle].filter(Boolean).join(', '),
      sung: data.value?.lines?.[entry.id],
      entry,
    })),
  )
  const named = computed<FoundRow[]>(() =>
    (data.value?.named ?? []).map(({ group, value, shelf, count }) => ({
      key: `${group}-${value}`,
      to:
        group === 'credit'
          ? `/catalog/with?field=directors&value=${encodeURIComponent(value)}`
          : `/catalog/${shelf}?with=${encodeURIComponent(`${group}:${value}`)}`,
      title: say(group, value),
      note: [t(`find.group.${group}`), t(`find.in.${shelf}`, { n: count }, count)].join(', '),
    })),
  )
  const rooms = computed<[string, string][]>(() => [
    ...places().map((place) => [t(`place.${place}`), `/${place}`] as [string, string]),
    ...CATALOG.map((shelf) => [t(`catalog.${shelf}`), `/catalog/${shelf}`] as [string, string]),
    ...Object.entries({ ...SHELF_PLACES, ...(status.value?.manages ? KEPT_PLACES : {}) }).map(
      ([key, path]) => [t(key), path] as [string, string],
    ),
  ])
  const there = computed<FoundRow[]>(() => {
    const begun = words.value.trim().toLocaleLowerCase()
    if (begun.length < 2) return []
    return rooms.value
      .filter(([name]) => name.toLocaleLowerCase().startsWith(begun))
      .slice(0, MOST_PLACES)
      .map(([name, path]) => ({ key: path, to: path, title: name, note: t('find.place') }))
  })
  /** What begins so comes first, whatever it is; within that, entries before names. */
  const rows = computed(() => {
    const begun = words.value.trim().toLocaleLowerCase()
    if (!begun) return []
    const all = [...entries.value, ...named.value]
    const isFirst = (row: FoundRow) => row.title.toLocaleLowerCase().startsWith(begun)
    return [...all.filter(isFirst), ...there.value, ...all.filter((row) => !isFirst(row))]
  })
  return { rows, isFetching }
}
