/** One's own playlists: what is put into them, made, and taken out. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed } from 'vue'
import { api, ask } from '@/api/client'

export function useLists() {
  const { data, error, refetch } = useQuery({
    queryKey: ['lists'],
    queryFn: () => ask(api.GET('/api/lists')),
  })
  const lists = computed(() => data.value?.lists ?? [])
  const own = computed(() => lists.value.filter((one) => one.is_own))
  return { data, lists, own, error, refetch }
}

/** Put entries into a list of one's own, or into a new one; `said` tells what came of it. */
export function useListing(said: (name: string, count: number) => void) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (wish: { entryIds: number[]; listId?: number; name: string }) => {
      const { count } =
        wish.listId === undefined
          ? await ask(
              api.POST('/api/lists', {
                body: { name: wish.name, entry_ids: wish.entryIds, rule: null },
              }),
            )
          : await ask(
              api.POST('/api/lists/{list_id}/places', {
                params: { path: { list_id: wish.listId } },
                body: { entry_ids: wish.entryIds },
              }),
            )
      return { name: wish.name, count }
    },
    onSuccess: ({ name, count }) => {
      said(name, count)
      return client.invalidateQueries({ queryKey: ['lists'] })
    },
    onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
  })
}
