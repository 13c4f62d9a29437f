/** Music that plays on while one looks around: one queue for the whole house, kept by the browser, shown by the player that stays. */
import { computed, shallowRef, watch } from 'vue'
import {
  added,
  cut,
  moved,
  nextKey,
  NOTHING,
  readQueue,
  shuffle,
  songsOf,
  stepped,
  unshuffle,
  without,
  type Item,
  type Queue,
  type Repeat,
  type Source,
} from './queue'

const KEPT = 'indice.queue'
const MOMENT = 'indice.queue.moment'
const OWNER = 'indice.queue.of'

const queue = shallowRef<Queue>(readQueue(localStorage.getItem(KEPT)))
/** Whether somebody has pressed play since the page was loaded: a queue that was kept waits until then. */
const isWanted = shallowRef(false)
/** Grows when the same song is to begin again. */
const again = shallowRef(0)
watch(queue, (now) => {
  try {
    if (now.songs.length) localStorage.setItem(KEPT, JSON.stringify(now))
    else localStorage.removeItem(KEPT)
  } catch {
    // a browser that keeps nothing plays all the same
  }
})

/** Forget the queue: who signs out takes it along. */
export function forgetQueue(): void {
  isWanted.value = false
  queue.value = NOTHING
  localStorage.removeItem(MOMENT)
}

/** The queue is somebody's: who signs in after another in the same browser finds none. */
export function claimQueue(person: string): void {
  try {
    if (localStorage.getItem(OWNER) !== person) forgetQueue()
    localStorage.setItem(OWNER, person)
  } catch {
    forgetQueue()
  }
}

/** Where a song was left when the page went: songs are too short for the catalog to keep it. */
export function keepMoment(key: number, seconds: number): void {
  try {
    localStorage.setItem(MOMENT, JSON.stringify([key, Math.floor(seconds)]))
  } catch {
    // it begins anew, then
  }
}

export function keptMoment(key: number): number | undefined {
  try {
    const [of, seconds] = JSON.parse(localStorage.getItem(MOMENT) ?? '[]') as number[]
    return of === key && Number.isFinite(seconds) ? seconds : undefined
  } catch {
    return undefined
  }
}

export function usePlayer() {
  const current = computed(() => queue.value.songs[queue.value.place])
  const hasNext = computed(
    () => queue.value.place < queue.value.songs.length - 1 || queue.value.repeat === 'all',
  )
  function play(what: Source & { items: readonly Item[] }, at = 0): void {
    const { repeat, shuffled } = queue.value
    const fresh: Queue = { songs: songsOf(what.items, what, 1), place: at, repeat, shuffled }
    isWanted.value = true
    queue.value = shuffled ? shuffle(fresh) : fresh
    again.value += 1
  }
  function add(what: Source & { items: readonly Item[] }, where: 'next' | 'end'): void {
    if (!queue.value.songs.length) return play(what)
    queue.value = added(queue.value, songsOf(what.items, what, nextKey(queue.value)), where)
  }
  /** False when nothing follows. */
  function step(by: 1 | -1, ended = false): boolean {
    const next = stepped(queue.value, by, ended)
    if (!next) return false
    isWanted.value = true
    if (next.songs[next.place] === current.value) again.value += 1
    queue.value = next
    return true
  }
  function playAt(at: number): void {
    isWanted.value = true
    if (at === queue.value.place) again.value += 1
    queue.value = { ...queue.value, place: at }
  }
  function mix(): void {
    queue.value = queue.value.shuffled ? unshuffle(queue.value) : shuffle(queue.value)
  }
  function turnRepeat(): void {
    const following: Record<Repeat, Repeat> = { none: 'all', all: 'one', one: 'none' }
    queue.value = { ...queue.value, repeat: following[queue.value.repeat] }
  }
  function close(): void {
    isWanted.value = false
    queue.value = { ...NOTHING, repeat: queue.value.repeat, shuffled: queue.value.shuffled }
  }
  return {
    queue,
    current,
    isWanted,
    again,
    hasNext,
    play,
    add,
    step,
    playAt,
    mix,
    turnRepeat,
    close,
    move: (from: number, to: number) => (queue.value = moved(queue.value, from, to)),
    drop: (at: number) => (queue.value = without(queue.value, at)),
    clear: () => (queue.value = cut(queue.value)),
  }
}
