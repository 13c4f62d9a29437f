/** The sheet of pictures under a film's time line: asked for until it is drawn, and cut into the picture of a moment. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, ask, byLink, type Sheet } from '@/api/client'

const ASK_AGAIN_MS = 4_000

/** What is shown of a sheet, as styles: the picture of a moment, in its own size. */
export function cut(sheet: Sheet, seconds: number): Record<string, string> {
  const place = Math.min(Math.max(Math.floor(seconds / sheet.step_seconds), 0), sheet.count - 1)
  const [column, row] = [place % sheet.columns, Math.floor(place / sheet.columns)]
  return {
    width: `${sheet.width}px`,
    height: `${sheet.height}px`,
    backgroundImage: `url(${sheet.url})`,
    backgroundPosition: `${-column * sheet.width}px ${-row * sheet.height}px`,
  }
}

/** The sheet of a file; undefined while it is drawn, and where there is none, such as for who came by a link. */
export function useSheet(fileId: Ref<number | undefined>) {
  const { data } = useQuery({
    queryKey: ['sheet', fileId],
    queryFn: () =>
      ask(
        api.GET('/api/files/{file_id}/sheet', { params: { path: { file_id: fileId.value ?? 0 } } }),
      ),
    enabled: () => fileId.value !== undefined && !byLink(),
    refetchInterval: (query) => (query.state.data?.is_there === false ? ASK_AGAIN_MS : false),
    staleTime: Infinity,
    retry: false,
  })
  return computed(() => (data.value?.is_there ? data.value : undefined))
}
