/** What the rows and cells of a series' grid are called. */
import type { Entry, GridCell } from '@/api/client'
import { day, month } from './words'

export type GridRow = Entry['grid'][number]
type Speak = (key: string) => string

/** Of a row: its season, its month, its ten running numbers. */
export function rowName(row: GridRow, t: Speak, locale: string): string {
  if (row.month) return month(row.month, locale)
  if (row.first) return `${row.first}–${row.first + 9}`
  if (row.season === null) return t('page.loose')
  return row.season === 0 ? t('page.specials') : `${t('page.season')} ${row.season}`
}

/** Of a cell: its number, or its day. */
export function cellName(row: GridRow, cell: GridCell, locale: string): string {
  if (!row.month) return String(cell.number)
  return day(`${row.month}-${String(cell.number).padStart(2, '0')}`, locale)
}

export interface Told {
  row: GridRow
  cell: GridCell
}
/** What is there of a series, in the order of its story: specials behind the episode that they were aired after. */
export function inStory(rows: GridRow[]): Told[] {
  const all = rows.flatMap((row) =>
    row.cells
      .filter((cell) => cell.entry_id && cell.state !== 'missing')
      .map((cell) => ({ row, cell })),
  )
  const others = all.filter((one) => !one.cell.behind)
  /** The last of them that a special stands behind; −1 where it stands before all. */
  const last = ([season, number]: [number, number]) =>
    others.findLastIndex(({ row, cell }) =>
      row.season === season ? cell.number <= number : !!row.season && row.season < season,
    )
  const placed = all.flatMap((one) =>
    one.cell.behind ? [{ one, at: last(one.cell.behind) + 0.5 }] : [],
  )
  return [...others.map((one, at) => ({ one, at })), ...placed]
    .sort((one, other) => one.at - other.at)
    .map(({ one }) => one)
}
