/** Folders of music or photos as they lie: the level one stands on, and what lies there itself. */
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, ask } from '@/api/client'

/** `told` is the library's folder that the address names; `path` what lies below it. */
export function useLying(
  shelf: Ref<'music' | 'photos'>,
  told: Ref<number | null>,
  path: Ref<string>,
) {
  const roots = useQuery({
    queryKey: ['shelf', 'lying', shelf],
    queryFn: () =>
      ask(api.GET('/api/shelves/{shelf}/folders', { params: { path: { shelf: shelf.value } } })),
  })
  /** Where there is one folder only, one stands in it at once. */
  const at = computed(() => {
    const all = roots.data.value?.folders ?? []
    return told.value ?? (all.length === 1 ? all[0]!.folder_id : null)
  })
  const enabled = computed(() => at.value !== null)
  const where = computed(() => ({ folder_id: at.value ?? 0, path: path.value }))
  const folders = useInfiniteQuery({
    queryKey: ['shelf', 'lying', shelf, where],
    queryFn: ({ pageParam }) =>
      ask(
        api.GET('/api/shelves/{shelf}/folders', {
          params: { path: { shelf: shelf.value }, query: { ...where.value, after: pageParam } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.following ?? undefined,
    enabled,
  })
  const pieces = useInfiniteQuery({
    queryKey: ['shelf', 'lying', 'pieces', shelf, where],
    queryFn: ({ pageParam }) =>
      ask(
        api.GET('/api/shelves/{shelf}/folders/pieces', {
          params: { path: { shelf: shelf.value }, query: { ...where.value, after: pageParam } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.following ?? undefined,
    enabled,
  })
  const below = computed(
    () =>
      (at.value === null
        ? roots.data.value?.folders
        : folders.data.value?.pages.flatMap((page) => page.folders)) ?? [],
  )
  const songs = computed(() => pieces.data.value?.pages.flatMap((page) => page.songs) ?? [])
  const shots = computed(() => pieces.data.value?.pages.flatMap((page) => page.entries) ?? [])
  const isEmpty = computed(
    () => !below.value.length && !songs.value.length && !shots.value.length && !isLoading.value,
  )
  const isLoading = computed(() =>
    at.value === null ? roots.isLoading.value : folders.isLoading.value || pieces.isLoading.value,
  )
  const error = computed(() => roots.error.value ?? folders.error.value ?? pieces.error.value)
  const root = computed(() => folders.data.value?.pages[0]?.root ?? '')
  const isOneOfMany = computed(() => (roots.data.value?.folders.length ?? 0) > 1)
  function more(): void {
    for (const list of [folders, pieces])
      if (list.hasNextPage.value && !list.isFetchingNextPage.value) void list.fetchNextPage()
  }
  const retry = () => [roots, folders, pieces].forEach((one) => one.error.value && one.refetch())
  return { at, where, root, isOneOfMany, below, songs, shots, isEmpty, error, more, retry }
}
