/** Bursts lie folded under their best picture. */
import { describe, expect, it } from 'vitest'
import type { EntryCard } from '@/api/client'
import { foldBursts } from '@/composables/bursts'

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
