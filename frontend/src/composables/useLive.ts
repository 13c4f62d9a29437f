/** Live topics from the server: what changed is asked for again. */
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onScopeDispose, shallowRef } from 'vue'

const KEYS: Record<string, readonly string[]> = {
  jobs: ['jobs', 'today'],
  catalog: ['front', 'shelf', 'today', 'tree', 'files', 'entry', 'libraries', 'status'],
  findings: ['findings', 'today', 'tree', 'files', 'status'],
  matches: ['matches', 'today', 'status', 'entry'],
  sources: ['sources'],
  taught: ['taught'],
  arrivals: ['intakes'],
  plans: ['plans', 'findings'],
  duplicates: ['duplicates'],
  marks: ['front', 'going-on'],
  playings: ['playings'],
  traits: ['shelf'],
  lists: ['lists', 'list'],
  shares: ['shares'],
  together: ['together'],
  people: ['people'],
}
const PATIENCE_MS = 700
/** Where the server has no room for one more listener, it is asked every now and then. */
const ASK_MS = 8_000
const TRY_AGAIN_MS = 60_000

export function useLive(): { connected: Readonly<ReturnType<typeof shallowRef<boolean>>> } {
  const client = useQueryClient()
  const connected = shallowRef(false)
  const waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  let source: EventSource | undefined
  let asking: ReturnType<typeof setInterval> | undefined
  let trying: ReturnType<typeof setTimeout> | undefined
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
    source.onopen = () => {
      connected.value = true
      clearInterval(asking)
    }
    source.onerror = () => {
      connected.value = false
      if (source?.readyState === EventSource.CLOSED) askInstead()
    }
    source.onmessage = (event: MessageEvent<string>) =>
      refresh((JSON.parse(event.data) as { topics: string[] }).topics)
  }
  function askInstead(): void {
    clearInterval(asking)
    asking = setInterval(() => refresh(Object.keys(KEYS)), ASK_MS)
    clearTimeout(trying)
    trying = setTimeout(open, TRY_AGAIN_MS)
  }
  function close(): void {
    source?.close()
    source = undefined
    clearInterval(asking)
    clearTimeout(trying)
    connected.value = false
  }
  open()
  // A page that the browser keeps for going back would hold its connection, of which a browser has six.
  useEventListener(window, 'pagehide', close)
  useEventListener(
    window,
    'pageshow',
    (event: PageTransitionEvent) => event.persisted && (open(), refresh(Object.keys(KEYS))),
  )
  onScopeDispose(() => {
    close()
    clearTimeout(timer)
  })
  return { connected }
}
