import { describe, expect, it } from 'vitest'
import { bytes, clock, compareNames, markName } from '@/composables/words'

describe('compareNames', () => {
  it.each([
    ['a b.mkv', 'a b.mkv', [], []],
    ['Season 01/x.mkv', 'Season 02/x.mkv', ['01'], ['02']],
    ['x.mkv', 'Harbour/x.mkv', [], ['Harbour/']],
    ['夜市.mkv', '夜市 (2001).mkv', [], [' (2001)']],
  ])('%s → %s', (before, after, gone, come) => {
    const pieces = compareNames(before, after)
    expect(pieces.before.filter((p) => p.changed).map((p) => p.text)).toEqual(gone)
    expect(pieces.after.filter((p) => p.changed).map((p) => p.text)).toEqual(come)
    expect(pieces.before.map((p) => p.text).join('')).toBe(before)
    expect(pieces.after.map((p) => p.text).join('')).toBe(after)
  })
})

describe('markName', () => {
  const marks = [
    { field: 'title', value: 'Tin', spans: [[0, 3]], rule: 'title' },
    { field: 'year', value: 1978, spans: [[5, 9]], rule: 'year' },
  ]
  it('cuts a path into its parts', () => {
    expect(markName('Tin (1978).mkv', marks).map((p) => [p.text, p.field])).toEqual([
      ['Tin', 'title'],
      [' (', ''],
      ['1978', 'year'],
      [').mkv', ''],
    ])
  })
  it('counts letters, not code units', () => {
    expect(
      markName('🌊🌙 (1978)', [{ field: 'year', value: 1978, spans: [[4, 8]], rule: '' }]).map(
        (p) => p.text,
      ),
    ).toEqual(['🌊🌙 (', '1978', ')'])
  })
  it('begins where it is told', () => {
    expect(markName('Tin (1978).mkv', marks, 5)[0]).toMatchObject({ text: '1978', field: 'year' })
  })
})

describe('words', () => {
  it.each([
    [59, '0:59'],
    [215, '3:35'],
    [6240, '1:44:00'],
  ])('%d s is %s', (seconds, shown) => expect(clock(seconds)).toBe(shown))
  it.each([
    [999, '999 bytes'],
    [8_500_000, '8.5 MB'],
    [120_000_000_000, '120 GB'],
  ])('%d bytes are %s', (value, shown) => expect(bytes(value, 'en')).toBe(shown))
})
