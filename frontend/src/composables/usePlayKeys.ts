/** What each key does while something plays over the whole window. */
import type { Ref } from 'vue'
import type { Playback } from '@/api/client'
import { useKeys } from './useKeys'
import type { Output } from './useOutput'

/** Browsers do not say how long a picture lasts: most films have 25 a second, about. */
const FRAME_SECONDS = 1 / 25
const STEP_SECONDS = 10

export interface Played {
  told: Readonly<Ref<Playback | null | undefined>>
  now: Readonly<Ref<number>>
  /** Number of the text that is shown; -1: none. */
  text: Readonly<Ref<number>>
  output: Output
  texts: { move: (by: number) => void; grow: (by: number) => void }
  toggle: () => void
  halt: () => void
  seek: (seconds: number) => void
  next: () => void
  choose: (name: 'sound' | 'text', value: number) => void
  full: () => void
  facts: () => void
  leave: () => void
}

/** What stands behind one in a list, in a ring. */
export function following(list: readonly number[], from: number): number {
  return list[(list.indexOf(from) + 1) % list.length] ?? from
}

export function usePlayKeys(played: Played): void {
  const { told, now, text, output, texts, toggle, halt, seek, next, choose } = played
  const step = (seconds: number) => () => seek(now.value + seconds)
  const still = (seconds: number) => () => {
    halt()
    seek(now.value + seconds)
  }
  useKeys({
    ' ': toggle,
    k: toggle,
    ArrowLeft: step(-STEP_SECONDS),
    ArrowRight: step(STEP_SECONDS),
    ArrowUp: () => output.loud(output.volume.value + 0.05),
    ArrowDown: () => output.loud(output.volume.value - 0.05),
    Home: () => seek(0),
    ',': still(-FRAME_SECONDS),
    '.': still(FRAME_SECONDS),
    '<': () => output.pace(output.speed.value - 0.25),
    '>': () => output.pace(output.speed.value + 0.25),
    m: output.mute,
    f: played.full,
    i: played.facts,
    n: next,
    a: () => {
      const sounds = told.value?.sounds.map(({ index }) => index) ?? []
      if (told.value) choose('sound', following(sounds, told.value.sound ?? 0))
    },
    t: () => {
      const known = told.value?.texts.map(({ index }) => index) ?? []
      if (told.value) choose('text', following([-1, ...known], text.value))
    },
    '[': () => texts.move(-1),
    ']': () => texts.move(1),
    '-': () => texts.grow(-1),
    '+': () => texts.grow(1),
    Escape: played.leave,
  })
}
