import type { FragmentLoaderContext } from 'hls.js'
import { waitedFor } from '@/composables/usePlayback'
import { describe, expect, it } from 'vitest'
import {
  boundOf,
  ENOUGH_KBPS,
  isWorthMore,
  LEAST_KBPS,
  lowered,
  Stops,
} from '@/composables/useLine'

describe('what a line bears', () => {
  it('is nothing to think of where it is fast, or unknown', () =>
    expect([boundOf(null), boundOf(ENOUGH_KBPS), boundOf(900_000)]).toEqual([null, null, null]))
  it('leaves room for others, and stays something to look at', () => {
    expect(boundOf(10_000)).toBe(7_000)
    expect(boundOf(20)).toBe(LEAST_KBPS)
  })
  it('after a stop is less than what stopped, whatever the line says', () => {
    expect(lowered(900_000, 5_000)).toBe(3_000) // the server was slow, not the line
    expect(lowered(2_000, 5_000)).toBe(1_400)
    expect(lowered(null, null)).toBeNull()
  })
  it('is worth asking for more only when it is much more', () => {
    expect(isWorthMore(2_100, 1_400)).toBe(false)
    expect(isWorthMore(6_000, 1_400)).toBe(true)
    expect(isWorthMore(ENOUGH_KBPS, 1_400)).toBe(true)
  })
})

describe('stops of a film', () => {
  const START = 1_000_000
  function stopped(...moments: [from: number, till: number][]) {
    const stops = new Stops()
    stops.settle(START - 60_000)
    for (const [from, till] of moments) {
      stops.wait(START + from)
      stops.isTooMuch(START + till)
      stops.go()
    }
    return stops
  }
  it('count when they last: a blink is none', () => {
    expect(stopped([0, 300], [2_000, 2_400]).isSteady(START + 200_000)).toBe(true)
    const stops = stopped([0, 1_500])
    stops.wait(START + 20_000)
    expect(stops.isTooMuch(START + 20_500)).toBe(false)
    expect(stops.isTooMuch(START + 21_000)).toBe(true)
  })
  it('of long ago are forgotten, and one long stop is enough', () => {
    const stops = stopped([0, 1_500])
    stops.wait(START + 90_000)
    expect(stops.isTooMuch(START + 91_500)).toBe(false)
    expect(stops.isTooMuch(START + 95_500)).toBe(true)
  })
  it('say nothing right after a jump', () => {
    const stops = stopped()
    stops.settle(START)
    stops.wait(START + 10)
    expect(stops.isTooMuch(START + 9_000)).toBe(false)
    expect(stops.isTooMuch(START + 16_000)).toBe(true)
  })
  it('are over when it has gone on for two minutes', () => {
    const stops = stopped([0, 1_500])
    expect([stops.isSteady(START + 100_000), stops.isSteady(START + 125_000)]).toEqual([
      false,
      true,
    ])
  })
})

describe('a piece that is asked for', () => {
  const held = (...spans: [number, number][]) =>
    ({
      length: spans.length,
      start: (at: number) => spans[at]![0],
      end: (at: number) => spans[at]![1],
    }) as TimeRanges
  const piece = (start: number, type = 'main', sn: number | 'initSegment' = 7) =>
    ({ url: '7.m4s', frag: { start, end: start + 6, type, sn } }) as FragmentLoaderContext
  const at = (currentTime: number, ...spans: [number, number][]) => ({
    currentTime,
    buffered: held(...spans),
  })
  it('names the moment that was jumped to', () => {
    expect(waitedFor(piece(42), at(45.256, [0, 12]), 0)).toBe('7.m4s?moment=45.26')
    expect(waitedFor(piece(42), at(0), 44.5)).toBe('7.m4s?moment=44.50')
  })
  it('names none where one waits for all of it, or for nothing', () => {
    expect(waitedFor(piece(42), at(20, [0, 12]), 0)).toBe('7.m4s')
    expect(waitedFor(piece(42), at(41.9, [36, 42]), 0)).toBe('7.m4s')
    expect(waitedFor(piece(42), at(42, [0, 12]), 0)).toBe('7.m4s')
    expect(waitedFor(piece(42), at(43, [36, 44]), 0)).toBe('7.m4s')
    expect(waitedFor(piece(42, 'audio'), at(45, [0, 12]), 0)).toBe('7.m4s')
    expect(waitedFor(piece(42, 'main', 'initSegment'), at(45), 0)).toBe('7.m4s')
    expect(waitedFor({ url: 'main.m3u8' } as FragmentLoaderContext, at(45), 0)).toBe('main.m3u8')
  })
})
