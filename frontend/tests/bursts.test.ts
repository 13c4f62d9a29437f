/** Bursts lie folded under their best picture. */
import { describe, expect, it } from 'vitest'
import type { EntryCard } from '@/api/client'
import { foldBursts, withinBursts } from '@/composables/bursts'

function shot(id: number, moment: string | null, more: Partial<EntryCard> = {}): EntryCard {
  return {
    id,
    moment,
    kind: 'photo',
    title: `${id}`,
    picture: { digest: 'd', width: 300, height: 200, blur: '' },
    mark: null,
    ...more,
  } as EntryCard
}
const at = (second: number) => `2019-07-20T10:15:${String(second).padStart(2, '0')}`
const told = (...shots: EntryCard[]) =>
  foldBursts(shots).map(({ best, frames }) => `${best.id}/${frames.length}`)

describe('bursts', () => {
  it('fold what was taken right after each other, under what was taken first', () => {
    expect(told(shot(4, at(30)), shot(3, at(12)), shot(2, at(11)), shot(1, at(10)))).toEqual([
      '4/1',
      '1/3',
    ])
  })
  it('leave two alone, and what is two seconds and more apart', () => {
    expect(told(shot(2, at(11)), shot(1, at(10)))).toEqual(['2/1', '1/1'])
    expect(told(shot(3, at(16)), shot(2, at(13)), shot(1, at(10)))).toEqual(['3/1', '2/1', '1/1'])
  })
  it('show what one likes best', () => {
    const mark = (more: object) => ({ mark: { favourite: false, rating: null, ...more } as never })
    const [first, second, third] = [shot(1, at(10)), shot(2, at(11)), shot(3, at(12))]
    expect(told({ ...third, ...mark({ rating: 8 }) }, second, first)).toEqual(['3/3'])
    expect(
      told(
        { ...third, ...mark({ rating: 8 }) },
        { ...second, ...mark({ favourite: true }) },
        first,
      ),
    ).toEqual(['2/3'])
  })
  it('need the second, one shape, and pictures', () => {
    const day = '2019-07-20'
    expect(told(shot(3, day), shot(2, day), shot(1, day))).toHaveLength(3)
    expect(told(shot(3, null), shot(2, null), shot(1, null))).toHaveLength(3)
    const tall = { picture: { digest: 'd', width: 200, height: 300, blur: '' } as never }
    expect(told(shot(3, at(12)), shot(2, at(11), tall), shot(1, at(10)))).toHaveLength(3)
    expect(told(shot(3, at(12)), shot(2, at(11), { kind: 'clip' }), shot(1, at(10)))).toHaveLength(
      3,
    )
    expect(told(shot(3, at(12)), shot(2, at(11), { picture: null }), shot(1, at(10)))).toHaveLength(
      3,
    )
  })
})

describe('bursts over the edge of a block', () => {
  /** The wall as it is shown: best and number of frames, block by block. */
  const walled = (blocks: EntryCard[][]) =>
    blocks.map((block, n) => told(...withinBursts(blocks[n - 1] ?? [], block, blocks[n + 1] ?? [])))
  const row = (...moments: number[]) => moments.map((second) => shot(second, at(second)))

  it('lie folded where they begin', () => {
    expect(walled([row(50, 12, 11), row(10, 2)])).toEqual([['50/1', '10/3'], ['2/1']])
    expect(walled([row(50, 12), row(11, 10, 5), row(1)])).toEqual([
      ['50/1', '10/3'],
      ['5/1'],
      ['1/1'],
    ])
  })
  it('leave two alone at an edge, too', () => {
    expect(walled([row(50, 12), row(11, 2)])).toEqual([
      ['50/1', '12/1'],
      ['11/1', '2/1'],
    ])
  })
  it('stay in a block that they fill', () => {
    expect(walled([row(50, 13), row(12, 11, 10), row(9, 2)])).toEqual([
      ['50/1', '13/1'],
      ['9/4'],
      ['2/1'],
    ])
  })
  it('lose and double nothing, however the wall is cut', () => {
    let seed = 7
    const dice = (sides: number) => (seed = (seed * 48271) % 2147483647) % sides
    for (let turn = 0; turn < 300; turn += 1) {
      let second = 0
      const shots = Array.from({ length: 5 + dice(25) }, () => {
        second += 1 + dice(4)
        const iso = new Date(Date.UTC(2019, 6, 20, 10, 0, second)).toISOString().slice(0, 19)
        return shot(second, iso)
      }).toReversed()
      const blocks: EntryCard[][] = []
      for (let from = 0; from < shots.length;) {
        const size = 1 + dice(8)
        blocks.push(shots.slice(from, from + size))
        from += size
      }
      const shown = blocks.flatMap((block, n) =>
        foldBursts(withinBursts(blocks[n - 1] ?? [], block, blocks[n + 1] ?? [])),
      )
      expect(shown.flatMap(({ frames }) => frames.map(({ id }) => id))).toEqual(
        shots.map(({ id }) => id),
      )
    }
  })
})
