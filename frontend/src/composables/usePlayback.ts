/** One playing: asks how a thing comes to this browser, brings it into the element, says that it is there, and leaves. */
import type Hls from 'hls.js'
import type { FragmentLoaderContext, LoaderContext } from 'hls.js'
import { useEventListener } from '@vueuse/core'
import { ref, shallowRef, watch } from 'vue'
import { api, ask, at, Problem, type Playback } from '@/api/client'
import { whatPlays } from './canPlay'

const BEAT_MS = 20_000
/** So often is a playing that broke off begun again before a person is asked. */
const TRIES = 2
const WELL_AFTER_MS = 20_000

export interface Wish {
  entryId: number
  maxHeight?: number | null
  /** What the line is known to carry, in thousand bits a second. */
  maxKbps?: number | null
  /** Measures the line meanwhile, and says what it bears; what is thicker is asked for anew. */
  bear?: () => Promise<number | null>
  sound?: number | null
  /** Number of a text of pictures, which is drawn in. */
  text?: number | null
  fileId?: number | null
  /** Where to begin, in the time of the whole thing. */
  from?: number
  /** The playlist that is played through. */
  listId?: number | null
}

/** Who uses it leaves when it goes, after having kept where it was. */
export function usePlayback(element: () => HTMLMediaElement | null) {
  const told = shallowRef<Playback>()
  const problem = shallowRef<Problem>()
  /** Where this browser refuses sound before a click. */
  const isMuted = ref(false)
  const isLoading = ref(false)
  /** Where it was asked to begin, in the time of the whole thing; also where it goes on after it broke off. */
  const startAt = ref<number>()
  let wish: Wish = { entryId: 0 }
  let hls: Hls | undefined
  let beats: ReturnType<typeof setInterval> | undefined
  let tries = 0
  let began = 0
  let asked = 0

  /** Begin to play; `from` is where, else where one stopped. */
  async function begin(next: Wish): Promise<void> {
    wish = next
    startAt.value = next.from
    const own = ++asked
    leave()
    problem.value = undefined
    isLoading.value = true
    try {
      const line = next.bear?.() // measured beside the call; sound alone does not wait for it
      let found = await call(next)
      const bears = found.width === null ? null : await line
      if (bears != null && (found.kbps ?? 0) > bears) {
        end(found.key)
        wish = next = { ...next, maxKbps: bears }
        found = await call(next)
      }
      const part = partAt(found, next.from ?? found.position_seconds)
      if (part && part.file_id !== found.file_id && next.fileId == null) {
        end(found.key)
        found = await call({ ...next, fileId: part.file_id })
      }
      if (own !== asked) return end(found.key)
      told.value = found
      began = Date.now()
      beats = setInterval(() => void beat(), BEAT_MS)
    } catch (reason) {
      if (own === asked) fail(reason)
    } finally {
      if (own === asked) isLoading.value = false
    }
  }

  function call(next: Wish): Promise<Playback> {
    const body = {
      can: whatPlays(),
      max_height: next.maxHeight ?? null,
      max_kbps: next.maxKbps ?? null,
      sound: next.sound ?? null,
      text: next.text ?? null,
      file_id: next.fileId ?? null,
      hls: true,
      from_seconds: next.from ?? null,
      list_id: next.listId ?? null,
    }
    return ask(
      api.POST('/api/entries/{entry_id}/playback', {
        params: { path: { entry_id: next.entryId } },
        body,
      }),
    )
  }

  /** Bring what was told into the element, at a moment of the file; what waits is ready then, and does not begin. */
  async function attach(from: number, waits = false): Promise<void> {
    const [media, what] = [element(), told.value]
    if (!media || !what) return
    if (what.mode === 'direct') {
      media.src = what.url
      if (from > 0) media.currentTime = from
    } else {
      const { default: Player } = await import('hls.js')
      if (told.value !== what) return
      if (Player.isSupported()) {
        const player = (hls = new Player({
          startPosition: from,
          progressive: true,
          maxBufferLength: 30,
          maxMaxBufferLength: 60,
          backBufferLength: 60,
          fetchSetup: (context, init) => new Request(waitedFor(context, media, from), init),
          renderTextTracksNatively: false,
          fragLoadPolicy: {
            default: {
              maxTimeToFirstByteMs: 30_000,
              maxLoadTimeMs: 90_000,
              timeoutRetry: { maxNumRetry: 1, retryDelayMs: 500, maxRetryDelayMs: 2_000 },
              errorRetry: { maxNumRetry: 2, retryDelayMs: 500, maxRetryDelayMs: 4_000 },
            },
          },
        }))
        hls.on(Player.Events.ERROR, (_, error) => {
          if (error.fatal) broke(error.response?.text || error.error.message)
        })
        // What comes in one piece is not taken bit by bit: its later bits would be taken for a gap, and its end never come.
        hls.on(Player.Events.LEVEL_LOADED, (_, level) => {
          if (level.details.fragments.length === 1) player.config.progressive = false
        })
        hls.subtitleDisplay = false // texts are tracks of the element itself
        hls.loadSource(what.url)
        hls.attachMedia(media)
      } else {
        media.src = what.url
        if (from > 0) media.currentTime = from
      }
    }
    if (!waits) await start(media)
  }

  async function start(media: HTMLMediaElement): Promise<void> {
    try {
      await media.play()
    } catch (reason) {
      if ((reason as Error).name !== 'NotAllowedError') return
      media.muted = isMuted.value = true
      await media.play().catch(() => undefined)
    }
  }

  /** It broke off: begun again where it was, and after a few times a person is asked. */
  function broke(why: string): void {
    if (Date.now() - began > WELL_AFTER_MS) tries = 0
    if (tries++ < TRIES) void again()
    else problem.value = new Problem('broke-off', why, '', 0)
  }

  function again(): Promise<void> {
    const start = told.value?.parts.find((part) => part.file_id === told.value?.file_id)
    const at = (element()?.currentTime ?? 0) + (start?.start_seconds ?? 0)
    return begin({ ...wish, fileId: null, from: at || wish.from })
  }

  async function beat(): Promise<void> {
    const key = told.value?.key
    if (!key) return
    const answer = await api
      .POST('/api/playbacks/{key}/beat', { params: { path: { key } } })
      .catch(() => undefined)
    // A direct file goes on without its record; what is made in pieces would break off at the next.
    if (answer?.response.status === 404 && told.value?.key === key) void again()
  }

  function fail(reason: unknown): void {
    problem.value =
      reason instanceof Problem ? reason : new Problem('failed', String(reason), '', 0)
  }

  function end(key: string): void {
    navigator.sendBeacon(at(`playbacks/${key}/end`))
  }

  function leave(): void {
    clearInterval(beats)
    hls?.destroy()
    hls = undefined
    if (told.value) end(told.value.key)
    told.value = undefined
  }

  watch(told, (what) => what && (isMuted.value = false))
  // A page that is left, or closed, says so; one that comes back from the browser's memory goes on.
  useEventListener(window, 'pagehide', () => told.value && end(told.value.key))
  useEventListener(window, 'pageshow', (event: PageTransitionEvent) => {
    if (event.persisted && told.value) void again()
  })
  return { told, problem, isMuted, isLoading, startAt, begin, attach, again, leave, broke }
}

/** The part of a film that holds a moment. */
export function partAt(what: Playback, seconds: number) {
  return [...what.parts].reverse().find((part) => part.start_seconds <= seconds) ?? what.parts[0]
}

/** The address of a piece, with the moment that is waited for where the player jumped into its middle. */
export function waitedFor(
  context: LoaderContext | FragmentLoaderContext,
  media: Pick<HTMLMediaElement, 'currentTime' | 'buffered'>,
  from: number,
): string {
  const piece = 'frag' in context ? context.frag : undefined
  if (piece?.type !== 'main' || piece.sn === 'initSegment') return context.url
  const { buffered } = media
  const at = buffered.length ? media.currentTime : Math.max(media.currentTime, from)
  for (let part = 0; part < buffered.length; part++)
    if (buffered.start(part) <= at && at < buffered.end(part)) return context.url
  if (at <= piece.start || at >= piece.end) return context.url
  return `${context.url}?moment=${at.toFixed(2)}`
}
