/** Where one is in playing: kept every ten seconds, at a pause, and when one leaves. */
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { api } from '@/api/client'

const EVERY_SECONDS = 10
/** Of songs nobody wants the middle; of what lasts longer than this one does. */
const LONG_SECONDS = 600
/** So far one begins before the moment where one stopped. */
export const BACK_SECONDS = 3

export interface Moment {
  entryId: number
  /** Seconds from the beginning of the whole thing, and how long that is. */
  seconds: number
  duration: number
  audio: boolean
}

export function isKept(moment: Moment): boolean {
  return (
    Number.isFinite(moment.duration) &&
    moment.duration > 0 &&
    (!moment.audio || moment.duration >= LONG_SECONDS)
  )
}

/** `now` is where one is, or nothing while that is not known: before the old moment is reached nothing is kept. */
export function usePosition(now: () => Moment | undefined) {
  const client = useQueryClient()
  let kept = { entryId: 0, seconds: 0 }
  function keep(stale = ['going-on']): void {
    const moment = now()
    if (!moment || !isKept(moment)) return
    kept = { entryId: moment.entryId, seconds: moment.seconds }
    const body = { seconds: moment.seconds, duration_seconds: moment.duration }
    void api
      .POST('/api/entries/{entry_id}/position', {
        params: { path: { entry_id: moment.entryId } },
        body,
        keepalive: true, // also when the page is left
      })
      .then(() => Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: [key] }))))
      .catch(() => undefined) // who plays is not disturbed; it is kept again in a moment
  }
  function move(): void {
    const moment = now()
    if (!moment) return
    if (kept.entryId !== moment.entryId) kept = { entryId: moment.entryId, seconds: moment.seconds }
    if (Math.abs(moment.seconds - kept.seconds) >= EVERY_SECONDS) keep()
  }
  function stop(): void {
    keep(['going-on', 'entry', 'shelf'])
  }
  useEventListener(window, 'pagehide', () => keep())
  return { keep, move, stop }
}
