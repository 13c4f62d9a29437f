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
