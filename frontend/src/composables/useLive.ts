/** Live topics from the server: what changed is asked for again. */
import { useQueryClient } from '@tanstack/vue-query'
import { onScopeDispose, shallowRef } from 'vue'

const KEYS: Record<string, readonly string[]> = {
  jobs: ['jobs', 'today'],
  catalog: ['shelf', 'today', 'tree', 'files', 'entry', 'libraries', 'status'],
  findings: ['findings', 'today', 'tree', 'files', 'status'],
  matches: ['matches', 'today', 'status', 'entry'],
  sources: ['sources'],
}
const PATIENCE_MS = 700

export function useLive(): { connected: Readonly<ReturnType<typeof shallowRef<boolean>>> } {
  const client = useQueryClient()
  const connected = shallowRef(false)
  const waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  const source = new EventSource('/api/events')
  source.onopen = () => {
    connected.value = true
  }
  source.onerror = () => {
    connected.value = false
  }
  source.onmessage = (event: MessageEvent<string>) => {
    const { topics } = JSON.parse(event.data) as { topics: string[] }
    for (const topic of topics) for (const key of KEYS[topic] ?? []) waiting.add(key)
    timer ??= setTimeout(() => {
      timer = undefined
      for (const key of waiting) void client.invalidateQueries({ queryKey: [key] })
      waiting.clear()
    }, PATIENCE_MS)
  }
  onScopeDispose(() => {
    source.close()
    clearTimeout(timer)
  })
  return { connected }
}
