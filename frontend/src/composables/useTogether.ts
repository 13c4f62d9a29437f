/** Watching together: hears where the film is for all, brings this player there, and says what is done here. */
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { onScopeDispose, shallowRef, watch } from 'vue'
import { api, ask, type Party } from '@/api/client'
import { Clock, stepTo } from './together'

const BEAT_MS = 2_000
const STEP_MS = 200
/** Some answers at once, so that one that was quick tells the server's clock. */
const QUICK_BEATS = 5
const QUICK_MS = 250

export interface Player {
  /** The moment that is shown, in the time of the whole; undefined while nothing is. */
  now: () => number | undefined
  media: () => HTMLMediaElement | null
  seek: (seconds: number) => void
  /** Another entry is watched from now on. */
  go: (entryId: number) => void
  entryId: () => number | undefined
}

const seconds = () => performance.now() / 1000

export function useTogether(key: () => string | undefined, player: Player) {
  const party = shallowRef<Party>()
  const isOver = shallowRef(false)
  const device = crypto.getRandomValues(new Uint32Array(3)).join('')
  const clock = new Clock()
  let source: EventSource | undefined
  let waiting: ReturnType<typeof setTimeout> | undefined
  let seeked = 0

  async function hear(question: Promise<Party>, asked: number): Promise<void> {
    const of = key()
    try {
      const told = await question
      if (of !== key()) return
      clock.hear(asked, seconds(), told.came_seconds, told.now_seconds)
      party.value = told
      isOver.value = false
      if (player.entryId() !== undefined && told.entry_id !== player.entryId())
        player.go(told.entry_id)
    } catch (reason) {
      if ((reason as { status?: number }).status === 404) {
        party.value = undefined
        isOver.value = true
      }
    }
  }
  function beat(): void {
    const of = key()
    if (!of || isOver.value) return
    const params = { path: { key: of } }
    void hear(ask(api.POST('/api/together/{key}/beat', { params, body: { device } })), seconds())
  }
  /** Say to all: from here on, or stop here, or go on to another. */
  function say(is_paused: boolean, position_seconds: number, entry_id: number | null = null): void {
    const of = key()
    if (!of) return
    const body = { is_paused, position_seconds, entry_id }
    const params = { path: { key: of } }
    void hear(ask(api.PUT('/api/together/{key}', { params, body })), seconds())
  }
  function step(): void {
    const [media, now] = [player.media(), player.now()]
    if (!party.value || !media || now === undefined) return
    if (media.seeking || media.readyState < 2 || seconds() - seeked < 0.5) return
    const told = stepTo(party.value, clock.at(seconds()), now)
    if (told.do === 'run') {
      media.playbackRate = told.rate
      if (media.paused) void media.play().catch(() => undefined)
      return
    }
    if (told.do === 'nothing') return
    if (told.do !== 'jump' && !media.paused) media.pause()
    if (told.to !== undefined) {
      seeked = seconds()
      player.seek(told.to)
    }
    if (told.do === 'wait') {
      clearTimeout(waiting)
      waiting = setTimeout(step, told.seconds * 1000)
    }
  }
  function leave(of = key()): void {
    if (!of) return
    const params = { path: { key: of } }
    void api
      .POST('/api/together/{key}/leave', { params, body: { device }, keepalive: true })
      .catch(() => undefined)
  }
  function listen(): void {
    source?.close()
    source = undefined
    if (!key()) return
    source = new EventSource('/api/events')
    source.onmessage = (event: MessageEvent<string>) => {
      if ((JSON.parse(event.data) as { topics: string[] }).topics.includes('together')) beat()
    }
  }
  watch(
    key,
    (_, before) => {
      leave(before ?? '')
      party.value = undefined
      isOver.value = false
      listen()
      beat()
      for (let one = 1; one <= QUICK_BEATS; one++) setTimeout(beat, one * QUICK_MS)
    },
    { immediate: true },
  )
  useIntervalFn(beat, BEAT_MS)
  useIntervalFn(step, STEP_MS)
  useEventListener(window, 'pagehide', () => leave())
  onScopeDispose(() => {
    clearTimeout(waiting)
    source?.close()
    leave()
  })
  return { party, isOver, say }
}
