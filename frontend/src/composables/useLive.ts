/** Live topics from the server: what changed is asked for again. */
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onScopeDispose, shallowRef } from 'vue'

const KEYS: Record<string, readonly string[]> = {
  jobs: ['jobs', 'today'],
  catalog: ['shelf', 'today', 'tree', 'files', 'entry', 'libraries', 'status'],
  findings: ['findings', 'today', 'tree', 'files', 'status'],
  matches: ['matches', 'today', 'status', 'entry'],
  sources: ['sources'],
  taught: ['taught'],
  arrivals: ['intakes'],
  plans: ['plans', 'findings'],
}
const PATIENCE_MS = 700

export function useLive(): { connected: Readonly<ReturnType<typeof shallowRef<boolean>>> } {
  const client = useQueryClient()
  const connected = shallowRef(false)
  const waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  let source: EventSource | undefined
  function refresh(topics: readonly string[]): void {
    for (const topic of topics) for (const key of KEYS[topic] ?? []) waiting.add(key)
    timer ??= setTimeout(() => {
      timer = undefined
      for (const key of waiting) void client.invalidateQueries({ queryKey: [key] })
      waiting.clear()
    }, PATIENCE_MS)
  }
  function open(): void {
    source?.close()
    source = new EventSource('/api/events')
    source.onopen = () => (connected.value = true)
    source.onerror = () => (connected.value = false)
    source.onmessage = (event: MessageEvent<string>) => refresh((JSON.parse(event.data) as { topics: string[] }).topics)
  }
  function close(): void {
    source?.close()
    source = undefined
    connected.value = false
  }
  open()
  // A page that the browser keeps for going back would hold its connection, of which a browser has six.
  useEventListener(window, 'pagehide', close)
  useEventListener(window, 'pageshow', (event: PageTransitionEvent) => event.persisted && (open(), refresh(Object.keys(KEYS))))
  onScopeDispose(() => {
    close()
    clearTimeout(timer)
  })
  return { connected }
}
