/** Where one is in playing: kept every ten seconds, at a pause, and when one leaves. */
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { api, type Playable } from '@/api/client'

const EVERY_SECONDS = 10
/** Of songs nobody wants the middle; of what lasts longer than this one does. */
const LONG_SECONDS = 600
/** So far one begins before the moment where one stopped. */
const BACK_SECONDS = 3

export function usePosition(
  playing: () => Playable | undefined,
  media: () => HTMLMediaElement | null,
) {
  const client = useQueryClient()
  /** Moments kept since the page was opened: newer than what the server said then. */
  const moments = new Map<number, number>()
  let kept = 0
  /** The element stands at its beginning until the old moment is reached: nothing is kept before. */
  let ready = false
  function isKept(
    item: Playable | undefined,
    length: number,
  ): item is Playable & { entry_id: number } {
    return !!item?.entry_id && Number.isFinite(length) && (!item.audio || length >= LONG_SECONDS)
  }
  function begin(): void {
    const [item, element] = [playing(), media()]
    kept = 0
    ready = true
    if (!item || !element || !isKept(item, element.duration)) return
    const from = moments.get(item.entry_id) ?? item.position_seconds ?? 0
    if (from > BACK_SECONDS) element.currentTime = from - BACK_SECONDS
  }
  function keep(stale = ['going-on']): void {
    const [item, element] = [playing(), media()]
    if (!ready || !element || !isKept(item, element.duration)) return
    kept = element.currentTime
    moments.set(item.entry_id, kept)
    const body = { seconds: kept, duration_seconds: element.duration }
    void api
      .POST('/api/entries/{entry_id}/position', {
        params: { path: { entry_id: item.entry_id } },
        body,
        keepalive: true, // also when the page is left
      })
      .then(() => Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: [key] }))))
      .catch(() => undefined) // who plays is not disturbed; it is kept again in a moment
  }
  function move(): void {
    const element = media()
    if (element && Math.abs(element.currentTime - kept) >= EVERY_SECONDS) keep()
  }
  function stop(): void {
    keep(['going-on', 'entry', 'shelf'])
    ready = false
  }
  useEventListener(window, 'pagehide', () => keep())
  return { begin, keep, move, stop }
}
