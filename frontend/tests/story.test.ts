/** The order in which a series is told: specials where they were aired. */
import { describe, expect, it } from 'vitest'
import type { GridCell } from '@/api/client'
import { inStory, type GridRow } from '@/composables/gridWords'

let ids = 0
const cell = (number: number, behind: [number, number] | null = null, state = 'here'): GridCell =>
  ({ number, behind, state, entry_id: (ids += 1), title: `${number}`, seen: false }) as GridCell
const row = (season: number | null, ...cells: GridCell[]): GridRow => ({
  season,
  month: '',
  first: 0,
  cells,
})
const told = (...rows: GridRow[]) =>
  inStory(rows).map((one) => `${one.row.season}x${one.cell.number}`)

describe('the order of the story', () => {
  it('is that of the rows where nothing is known of specials', () => {
    expect(told(row(1, cell(1), cell(2)), row(2, cell(1)), row(0, cell(1)))).toEqual([
      '1x1',
      '1x2',
      '2x1',
      '0x1',
    ])
  })
  it('puts specials behind the episode they were aired after', () => {
    expect(
      told(row(1, cell(1), cell(2)), row(2, cell(1)), row(0, cell(1, [1, 1]), cell(2, [1, 2]))),
    ).toEqual(['1x1', '0x1', '1x2', '0x2', '2x1'])
  })
  it('keeps two in one place in their own order, and the last behind all', () => {
    expect(told(row(1, cell(1)), row(0, cell(4, [1, 1]), cell(5, [1, 1]), cell(6)))).toEqual([
      '1x1',
      '0x4',
      '0x5',
      '0x6',
    ])
  })
  it('puts what was first before its season, and bears that the episode is missing', () => {
    expect(
      told(row(1, cell(1, null, 'missing'), cell(2)), row(0, cell(1, [1, 0]), cell(2, [1, 1]))),
    ).toEqual(['0x1', '0x2', '1x2'])
  })
})
