/** How much the line to the server carries, and what of a film it is worth asking for over it. */
import { useIntervalFn, useSessionStorage } from '@vueuse/core'
import { ref } from 'vue'
import { at, type Playback } from '@/api/client'

/** So long is a measured line believed. */
const FRESH_MS = 10 * 60_000
/** A slow line is not waited for longer: what came till then tells enough. */
const MOST_MS = 1_500
/** Of a line that is faster nothing has to be thought. */
export const ENOUGH_KBPS = 40_000
/** What is sent, of what the line carries: the rest is for sound, jumps and other people at home. */
const SHARE = 0.7
export const LEAST_KBPS = 400
/** A film that stops so often within a while, or once so long, comes too thick. */
const STOPS = 2
const WITHIN_MS = 60_000
const LONG_MS = 5_000
/** After a change it is left alone for so long. */
const SETTLE_MS = 15_000
const BETTER_AFTER_MS = 120_000

interface Line {
  kbps: number
  at: number
}

/** The bound that a line of so many thousand bits a second puts; null for none. */
export function boundOf(kbps: number | null): number | null {
  return kbps === null || kbps >= ENOUGH_KBPS
    ? null
    : Math.max(Math.round(kbps * SHARE), LEAST_KBPS)
}

/** The bound after a film stopped: what the line carries now, and less than what stopped. */
export function lowered(line: number | null, sent: number | null): number | null {
  const bounds = [boundOf(line), sent === null ? null : Math.max(sent * 0.6, LEAST_KBPS)]
  const known = bounds.filter((one) => one !== null)
  return known.length ? Math.round(Math.min(...known)) : null
}

/** Whether a line carries so much more than is sent that asking anew is worth the blink. */
export function isWorthMore(line: number, sent: number | null): boolean {
  const bound = boundOf(line)
  return bound === null || (sent !== null && bound > sent * 1.7)
}

/** Stops of a film, and whether they ask for less; moments are milliseconds. */
export class Stops {
  private stops: number[] = []
  private since: number | null = null
  private changed = 0

  /** It waits for more since now. */
  wait(now: number): void {
    this.since ??= now
  }
  /** It goes on. */
  go(): void {
    this.since = null
  }
  /** A person jumped, or it was asked for anew: waiting then says nothing of the line. */
  settle(now: number): void {
    this.stops = []
    this.since = null
    this.changed = now
  }
  /** A stop that lasts counts once; true when there was one too many. */
  isTooMuch(now: number): boolean {
    if (this.since === null || now - this.changed < SETTLE_MS) return false
    if (this.stops.at(-1) !== this.since && now - this.since > 700) this.stops.push(this.since)
    this.stops = this.stops.filter((one) => now - one < WITHIN_MS)
    return this.stops.length >= STOPS || now - this.since > LONG_MS
  }
  /** It has gone on well for long. */
  isSteady(now: number): boolean {
    return this.since === null && now - (this.stops.at(-1) ?? this.changed) > BETTER_AFTER_MS
  }
}

/** Measures by taking a million bytes, as many as come in the time there is. */
export function useLine() {
  const kept = useSessionStorage<Line | null>('indice.line', null, {
    serializer: { read: (text) => JSON.parse(text) as Line | null, write: JSON.stringify },
  })

  async function take(): Promise<number | null> {
    const stop = new AbortController()
    const timer = setTimeout(() => stop.abort(), MOST_MS + 500)
    let bytes = 0
    let from = 0
    try {
      const answer = await fetch(at('line'), { signal: stop.signal, cache: 'no-store' })
      const reader = answer.ok ? answer.body?.getReader() : undefined
      if (!reader) return null
      from = performance.now()
      for (;;) {
        const { done, value } = await reader.read()
        if (done) break
        bytes += value.length
        if (performance.now() - from > MOST_MS) {
          stop.abort()
          break
        }
      }
    } catch {
      // What came till it broke off tells enough.
    } finally {
      clearTimeout(timer)
    }
    if (!bytes) return null
    // Bits in a millisecond are thousand bits in a second.
    return Math.round((bytes * 8) / Math.max(performance.now() - from, 1))
  }

  /** What the line carries, in thousand bits a second; null when nothing could be measured. */
  async function measure(isFresh = true): Promise<number | null> {
    if (isFresh && kept.value && Date.now() - kept.value.at < FRESH_MS) return kept.value.kbps
    const kbps = await take()
    if (kbps !== null) kept.value = { kbps, at: Date.now() }
    return kbps
  }
  return { kept, measure }
}

interface Watched {
  /** Whether a person lets the line choose. */
  isOn: () => boolean
  isPaused: () => boolean
  told: () => Playback | undefined
  /** Asks anew for what is played, at the moment where it is. */
  anew: () => void
}

/** Lets the line choose: less where a film stops, more when it has gone on well for long. */
export function useByLine(watched: Watched) {
  const { measure } = useLine()
  const stops = new Stops()
  /** What is asked for, in thousand bits a second; null for no bound. */
  const bound = ref<number | null>(null)
  let isBusy = false

  async function look(): Promise<void> {
    const told = watched.told()
    if (isBusy || !told || told.width === null) return
    if (!watched.isOn() || watched.isPaused()) return
    const now = Date.now()
    const isLess = stops.isTooMuch(now)
    if (!isLess && !(told.reasons.includes('kbps') && stops.isSteady(now))) return
    isBusy = true
    const line = await measure(false)
    isBusy = false
    if (watched.told() !== told) return
    stops.settle(Date.now())
    const next = isLess ? lowered(line, told.kbps) : boundOf(line)
    if (!isLess && !isWorthMore(line ?? 0, told.kbps)) return
    if (next === bound.value && isLess) return
    bound.value = next
    watched.anew()
  }
  useIntervalFn(() => void look(), 1_000)

  /** Ask with what the line was last known to carry; the rest of the page need not wait for a new measure. */
  async function first(): Promise<number | null> {
    return (bound.value = watched.isOn() ? boundOf(await measure()) : null)
  }
  return {
    bound,
    first,
    wait: () => stops.wait(Date.now()),
    go: () => stops.go(),
    settle: () => stops.settle(Date.now()),
  }
}
