/** Two places for a song: while one plays, the other has the following one ready, so that no pause is heard between them. */
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import type { Song } from './queue'
import { useLoudness, type Evened } from './useLoudness'
import { usePlayback } from './usePlayback'
import { BACK_SECONDS, isKept } from './usePosition'

/** So long before the end the following song is made ready. */
const READY_SECONDS = 20
/** So long before the end the moment of the change is set, as no event comes just then. */
const SET_SECONDS = 1.2
/** A browser takes about so long to begin what it has ready. */
const LEAD_MS = 15

interface Acts {
  /** The song that plays by itself after this one; nothing where none does, or chance decides. */
  following: () => Song | undefined
  /** The song is over, and the next one is to begin. */
  over: () => void
  /** By what songs are evened out. */
  evened: () => Evened
}

export function useDecks(elements: () => readonly (HTMLAudioElement | null)[], acts: Acts) {
  const places = [0, 1] as const
  const decks = places.map((place) => usePlayback(() => elements()[place] ?? null))
  const loudness = places.map((place) => useLoudness(() => elements()[place] ?? null))
  const live = ref<0 | 1>(0)
  /** Key of the song that the other deck has. */
  const readied = shallowRef<number>()
  const deck = computed(() => decks[live.value]!)
  const idle = computed(() => decks[1 - live.value]!)
  const media = () => elements()[live.value] ?? null
  /** Whether this browser plays in one place only. */
  let isAlone = false
  let change: ReturnType<typeof setTimeout> | undefined

  for (const place of places)
    watch(decks[place]!.told, async (what) => {
      if (!what) return empty(place)
      await nextTick()
      const moment = {
        entryId: what.entry_id,
        seconds: what.position_seconds,
        duration: what.duration_seconds,
        audio: true,
      }
      const kept = isKept(moment) ? Math.max(what.position_seconds - BACK_SECONDS, 0) : 0
      even(place)
      await decks[place]!.attach(decks[place]!.startAt.value ?? kept, place !== live.value)
    })
  watch(acts.evened, () => places.forEach(even))
  function even(place: 0 | 1): void {
    const what = decks[place]!.told.value
    if (what) loudness[place]!(what.loudness, acts.evened())
  }
  function empty(place: 0 | 1): void {
    const element = elements()[place]
    if (!element?.src) return
    element.pause()
    element.removeAttribute('src')
    element.load()
  }

  /** Play a song: the one that stands ready at once, any other as soon as it comes. */
  async function play(song: Song, from?: number): Promise<void> {
    clearTimeout(change)
    change = undefined
    if (readied.value === song.key && from === undefined && idle.value.told.value)
      return takeOver(song)
    drop()
    await deck.value.begin({ entryId: song.entryId, fileId: song.fileId, ...(from && { from }) })
  }
  async function takeOver(song: Song): Promise<void> {
    const before = live.value
    live.value = before ? 0 : 1
    readied.value = undefined
    even(live.value)
    const old = elements()[before]
    const rest = old ? old.duration - old.currentTime : 0
    // Who goes on to the next song hears no more of this one; at the end what is left of it is heard out.
    if (rest > SET_SECONDS) decks[before]!.leave()
    else
      setTimeout(() => {
        if (live.value !== before && readied.value === undefined) decks[before]!.leave()
      }, SET_SECONDS * 1000)
    try {
      await media()?.play()
    } catch (reason) {
      if ((reason as Error).name !== 'NotAllowedError') return
      // Some browsers let only that element be heard which a person has started.
      isAlone = true
      live.value = before
      await play(song)
    }
  }
  function drop(): void {
    readied.value = undefined
    idle.value.leave()
  }
  function leave(): void {
    clearTimeout(change)
    drop()
    deck.value.leave()
  }

  /** Called as the song goes on: makes the following one ready, and changes to it in time. */
  function move(): void {
    const element = media()
    if (isAlone || !element || element.paused || !Number.isFinite(element.duration)) return
    const rest = element.duration - element.currentTime
    if (rest > READY_SECONDS) return
    const next = acts.following()
    if (next?.key !== readied.value) {
      drop()
      readied.value = next?.key
      if (next) void idle.value.begin({ entryId: next.entryId, fileId: next.fileId })
    } else if (next && rest < SET_SECONDS && change === undefined)
      change = setTimeout(turn, Math.max(rest * 1000 - LEAD_MS, 0))
  }
  /** At the very end; not where somebody has gone back meanwhile, or the following song is not there yet. */
  function turn(): void {
    change = undefined
    const element = media()
    const next = elements()[1 - live.value]
    if (!element || element.paused || element.duration - element.currentTime > SET_SECONDS / 4)
      return
    if (next && next.readyState > 2) acts.over()
  }
  onBeforeUnmount(() => clearTimeout(change))

  return {
    live,
    media,
    told: computed(() => deck.value.told.value),
    problem: computed(() => deck.value.problem.value),
    isMuted: computed(() => deck.value.isMuted.value),
    unmute: () => {
      deck.value.isMuted.value = false
      const element = media()
      if (element) element.muted = false
    },
    broke: (why: string) => deck.value.broke(why),
    play,
    leave,
    move,
  }
}
