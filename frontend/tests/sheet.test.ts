import { describe, expect, it } from 'vitest'
import { cut } from '@/composables/useSheet'

const sheet = {
  is_there: true,
  url: '/api/files/7/sheet.webp',
  step_seconds: 10,
  count: 23,
  columns: 10,
  width: 160,
  height: 90,
}

describe('the picture of a moment', () => {
  it('is cut where its step lies, row by row', () => {
    expect(cut(sheet, 0).backgroundPosition).toBe('0px 0px')
    expect(cut(sheet, 99).backgroundPosition).toBe('-1440px 0px')
    expect(cut(sheet, 100).backgroundPosition).toBe('0px -90px')
    expect(cut(sheet, 225).backgroundPosition).toBe('-320px -180px')
  })
  it('is the last one after the end, and the first before the beginning', () => {
    expect(cut(sheet, 9999)).toEqual(cut(sheet, 229))
    expect(cut(sheet, -5)).toEqual(cut(sheet, 0))
  })
})
