/** One's own marks of entries: set at the server, then asked again where they are shown. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { api, ask } from '@/api/client'

export interface Wish {
  entry_ids: number[]
  seen?: boolean
  favourite?: boolean
  /** From 1 to 10; 0 takes it back. */
  rating?: number
  tags?: string[]
  /** For oneself; an empty one takes it back. */
  note?: string
}

export function useMarks() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: Wish) =>
      ask(
        api.PUT('/api/marks', {
          body: { seen: null, favourite: null, rating: null, tags: null, note: null, ...wish },
        }),
      ),
    onSuccess: () =>
      Promise.all(
        ['entry', 'shelf', 'going-on'].map((key) => client.invalidateQueries({ queryKey: [key] })),
      ),
    onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
  })
}
