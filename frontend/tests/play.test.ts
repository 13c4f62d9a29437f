/** What plays over the whole window: how loud, how fast, by which keys, and when the controls go. */
import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import type { Playback } from '@/api/client'
import { type Output, useOutput } from '@/composables/useOutput'
import { following, type Played, usePlayKeys } from '@/composables/usePlayKeys'
import { useQuiet } from '@/composables/useQuiet'

/** Something that uses what a page would use. */
function within<T>(use: () => T): { used: T; leave: () => void } {
  let used!: T
  const page = mount(defineComponent({ setup: () => ((used = use()), () => h('div')) }))
  return { used, leave: () => page.unmount() }
}
const leaves: (() => void)[] = []
function used<T>(use: () => T): T {
  const made = within(use)
  leaves.push(made.leave)
  return made.used
}
beforeEach(() => localStorage.clear())
afterEach(() => {
  leaves.splice(0).forEach((leave) => leave())
  vi.useRealTimers()
})

/** An element as far as it is asked. */
const element = (more: object = {}) =>
  ({ volume: 1, muted: false, playbackRate: 1, ...more }) as unknown as HTMLMediaElement

describe('how loud and how fast', () => {
  it('is kept within what there is, and lifts the mute', () => {
    const media = ref<HTMLMediaElement | null>(element({ muted: true }))
    const isMuted = ref(true)
    const output = used(() => useOutput(media, isMuted))
    for (const [wanted, got] of [
      [0.4, 0.4],
      [-2, 0],
      [7, 1],
    ] as const) {
      output.loud(wanted)
      expect([media.value?.volume, output.volume.value]).toEqual([got, got])
    }
    expect([media.value?.muted, isMuted.value]).toEqual([false, false])
    for (const [wanted, got] of [
      [1.5, 1.5],
      [0, 0.25],
      [9, 3],
    ] as const) {
      output.pace(wanted)
      expect([media.value?.playbackRate, output.speed.value]).toEqual([got, got])
    }
  })
  it('goes over to the next element', async () => {
    const media = ref<HTMLMediaElement | null>(element())
    const output = used(() => useOutput(media, ref(false)))
    output.loud(0.3)
    output.pace(1.25)
    media.value = element()
    output.begin()
    output.goOn()
    expect([media.value.volume, media.value.playbackRate]).toEqual([0.3, 1.25])
    await nextTick()
    expect(used(() => useOutput(ref(null), ref(false))).volume.value, 'and to the next film').toBe(
      0.3,
    )
  })
  it('asks whether it can go to another screen, where a browser says so', async () => {
    const remote = {
      watchAvailability: vi.fn((say: (is: boolean) => void) => Promise.resolve(say(true))),
    }
    const output = used(() => useOutput(ref(element({ remote })), ref(false)))
    output.goOn()
    expect(output.canCast.value).toBe(true)
    const refuses = { watchAvailability: () => Promise.reject(new Error('not here')) }
    const other = used(() => useOutput(ref(element({ remote: refuses })), ref(false)))
    other.goOn()
    await nextTick()
    expect(other.canCast.value).toBe(false)
  })
  it('bears that nothing is there yet', () => {
    const output = used(() => useOutput(ref(null), ref(true)))
    for (const act of [output.begin, output.goOn, output.mute, output.unmute]) act()
    output.loud(0.5)
    output.pace(2)
    expect([output.volume.value, output.speed.value]).toEqual([0.5, 2])
  })
})

describe('keys of what plays', () => {
  function pressed(more: Partial<Played> = {}) {
    const said: string[] = []
    const say =
      (what: string) =>
      (...told: unknown[]) =>
        void said.push([what, ...told.filter((one) => !(one instanceof Event))].join(' '))
    const output = {
      ...used(() => useOutput(ref(element()), ref(false))),
      loud: (share: number) => say('loud')(share.toFixed(2)),
      pace: say('pace'),
      mute: say('mute'),
    } as Output
    const told = ref({
      sounds: [{ index: 0 }, { index: 4 }],
      sound: 4,
      texts: [{ index: 2 }],
    } as unknown as Playback)
    used(() =>
      usePlayKeys({
        told,
        now: ref(100),
        text: ref(-1),
        output,
        texts: { move: say('move'), grow: say('grow') },
        toggle: say('toggle'),
        halt: say('halt'),
        seek: say('seek'),
        next: say('next'),
        choose: say('choose'),
        full: say('full'),
        facts: say('facts'),
        leave: say('leave'),
        ...more,
      }),
    )
    return (key: string) => {
      said.length = 0
      window.dispatchEvent(new KeyboardEvent('keydown', { key }))
      return [...said]
    }
  }
  it.each([
    [' ', ['toggle']],
    ['k', ['toggle']],
    ['ArrowLeft', ['seek 90']],
    ['ArrowRight', ['seek 110']],
    ['Home', ['seek 0']],
    ['.', ['halt', 'seek 100.04']],
    [',', ['halt', 'seek 99.96']],
    ['ArrowUp', ['loud 1.05']],
    ['ArrowDown', ['loud 0.95']],
    ['>', ['pace 1.25']],
    ['<', ['pace 0.75']],
    ['m', ['mute']],
    ['f', ['full']],
    ['i', ['facts']],
    ['n', ['next']],
    ['a', ['choose sound 0']],
    ['t', ['choose text 2']],
    ['[', ['move -1']],
    [']', ['move 1']],
    ['-', ['grow -1']],
    ['+', ['grow 1']],
    ['Escape', ['leave']],
    ['q', []],
  ])('%s', (key, said) => {
    expect(pressed()(key)).toEqual(said)
  })
  it('choose nothing before anything is told', () => {
    const press = pressed({ told: ref(undefined) })
    expect([...press('a'), ...press('t')]).toEqual([])
  })
  it('go round', () => {
    expect([following([3, 1, 2], 1), following([3, 1, 2], 2), following([3], 3)]).toEqual([2, 3, 3])
    expect([following([3, 1], 9), following([], 7)], 'of what is not there: the first').toEqual([
      3, 7,
    ])
  })
})

describe('quiet controls', () => {
  it('go after a while when they may, and come back', () => {
    vi.useFakeTimers()
    const may = ref(true)
    const { isQuiet, stir } = used(() => useQuiet(() => may.value))
    stir()
    vi.advanceTimersByTime(2900)
    expect(isQuiet.value).toBe(false)
    vi.advanceTimersByTime(200)
    expect(isQuiet.value).toBe(true)
    window.dispatchEvent(new Event('pointermove'))
    expect(isQuiet.value).toBe(false)
    may.value = false
    vi.advanceTimersByTime(4000)
    expect(isQuiet.value, 'not while it is paused').toBe(false)
  })
})
