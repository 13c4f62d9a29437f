/** Songs as loud as each other, by what their tags say (ReplayGain, R128). */
import { useLocalStorage } from '@vueuse/core'
import type { Playback } from '@/api/client'

export type Loudness = Playback['loudness']
/** Not at all; each song for itself; or albums as a whole, so that their quiet songs stay quiet. */
export type Evened = 'no' | 'song' | 'album'

/** A gain that a person would hear as broken, or that would hurt, is none. */
const MOST_DB = 15

/** Whether this browser evens songs out. */
export const isEvened = useLocalStorage('indice.evened', true)

/** What the sound is multiplied by; never so much that its loudest moment would be cut off. */
export function factorOf(told: Loudness, by: Evened): number {
  if (!told || by === 'no') return 1
  const [db, peak] =
    by === 'album' && told.album !== null
      ? [told.album, told.album_peak]
      : [told.track ?? told.album, told.track_peak ?? told.album_peak]
  if (db === null) return 1
  const factor = 10 ** (Math.min(db, MOST_DB) / 20)
  return Math.min(factor, Math.max(1 / (peak ?? 1), Math.min(factor, 1)))
}

let context: AudioContext | undefined
const gains = new WeakMap<HTMLMediaElement, GainNode>()

/** What makes an element louder than it is; a browser lets that be only where somebody has pressed a key. */
async function gainOf(element: HTMLMediaElement): Promise<GainNode | undefined> {
  const held = gains.get(element)
  if (held) return held
  try {
    context ??= new AudioContext()
    if (context.state !== 'running') await context.resume()
    const gain = context.createGain()
    context.createMediaElementSource(element).connect(gain).connect(context.destination)
    gains.set(element, gain)
    return gain
  } catch {
    return undefined
  }
}

export function useLoudness(element: () => HTMLMediaElement | null) {
  let asked = 0
  /** As long as nothing is louder than it was recorded the element's own volume does; it needs no leave. */
  return async function even(told: Loudness, by: Evened): Promise<void> {
    const own = ++asked
    const media = element()
    if (!media) return
    const factor = factorOf(told, by)
    media.volume = Math.min(factor, 1)
    const gain = gains.get(media) ?? (factor > 1 && !isAsleep() ? await gainOf(media) : undefined)
    if (gain && own === asked) gain.gain.value = Math.max(factor, 1)
  }
}

/** Before the first key that was pressed no sound may be made by that way, and the element's own would be lost with it. */
function isAsleep(): boolean {
  return !('AudioContext' in window) || navigator.userActivation?.hasBeenActive === false
}
