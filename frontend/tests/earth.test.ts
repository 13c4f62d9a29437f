/** The earth on a sheet: places there and back, moving about, heaps that would cover each other, and a ruler. */
import { describe, expect, it } from 'vitest'
import {
  around,
  boxOf,
  narrowedTo,
  EDGE_PX,
  union,
  withInSight,
  bounded,
  closer,
  onEarth,
  onSheet,
  piled,
  place,
  ruler,
  seen,
  type View,
} from '@/composables/earth'
import { calledFrom } from '@/composables/placeWords'

const SIZE = { width: 1000, height: 600 }
const WHOLE: View = bounded({ x: 0.5, y: 0.5, scale: 1 }, SIZE)

describe('the sheet', () => {
  it.each([
    [0, 0, 0.5, 0.5],
    [0, -180, 0, 0.5],
    [0, 90, 0.75, 0.5],
    // ln tan(π/4 + 60°/2) = 1.316958 (Mercator), a 2π-th of which is 0.2096
    [60, 0, 0.5, 0.5 - 0.2096],
    [-60, 0, 0.5, 0.5 + 0.2096],
  ])('has %d° and %d° at %d, %d', (latitude, longitude, x, y) => {
    const point = onSheet(latitude, longitude)
    expect(point.x).toBeCloseTo(x, 4)
    expect(point.y).toBeCloseTo(y, 4)
    const back = onEarth(point.x, point.y)
    expect(back.latitude).toBeCloseTo(latitude, 6)
    expect(back.longitude).toBeCloseTo(longitude, 6)
  })

  it('ends before the poles', () => {
    expect(onSheet(90, 0).y).toBe(onSheet(84, 0).y)
    expect(Number.isFinite(onSheet(-90, 0).y)).toBe(true)
  })
})

describe('what is seen', () => {
  it('is never wider than the earth, and never beside it', () => {
    expect(WHOLE.scale).toBeGreaterThanOrEqual(SIZE.width - 2 * EDGE_PX)
    const beside = bounded({ x: 3, y: -2, scale: 5000 }, SIZE)
    const box = seen(beside, SIZE)
    expect(box.east).toBeCloseTo(180, 6)
    expect(box.north).toBeLessThan(85)
    expect(box.west).toBeCloseTo(180 - 360 * ((1000 - EDGE_PX) / 5000), 6)
  })

  it('keeps what lies under the pointer there', () => {
    const at = { x: 700, y: 200 }
    const before = bounded({ x: 0.52, y: 0.36, scale: 4000 }, SIZE)
    const spot = onEarth(
      before.x + (at.x - 500) / before.scale,
      before.y + (at.y - 300) / before.scale,
    )
    const after = closer(before, SIZE, 3, at)
    const shown = place(after, SIZE, spot.latitude, spot.longitude)
    expect(after.scale).toBeCloseTo(12000, 6)
    expect(shown.left).toBeCloseTo(700, 4)
    expect(shown.top).toBeCloseTo(200, 4)
  })

  it('holds all places, with a margin', () => {
    const places = [
      { latitude: 54, longitude: -1 },
      { latitude: 37, longitude: 13 },
      { latitude: 46, longitude: 9 },
    ]
    const view = around(places, SIZE)
    for (const one of places) {
      const { left, top } = place(view, SIZE, one.latitude, one.longitude)
      expect(left).toBeGreaterThanOrEqual(89.9)
      expect(left).toBeLessThanOrEqual(910.1)
      expect(top).toBeGreaterThanOrEqual(89.9)
      expect(top).toBeLessThanOrEqual(510.1)
    }
  })

  it('is moved no farther than a place needs', () => {
    const view = bounded({ x: 0.5, y: 0.5, scale: 20_000 }, SIZE)
    expect(withInSight(view, SIZE, 0, 5)).toBe(view)
    // 20 degrees are 1111 px to the right of the middle, 611 too many and the edge.
    const moved = withInSight(view, SIZE, 0, 20)
    expect(place(moved, SIZE, 0, 20).left).toBeCloseTo(1000 - EDGE_PX, 4)
    expect(moved.y).toBeCloseTo(view.y, 9)
    expect(place(withInSight(view, SIZE, 40, -20), SIZE, 40, -20).left).toBeCloseTo(EDGE_PX, 4)
  })

  it('shows the land around one place alone', () => {
    const box = seen(around([{ latitude: 54, longitude: -1 }], SIZE), SIZE)
    expect(box.east - box.west).toBeGreaterThan(1)
    expect(box.east - box.west).toBeLessThan(10)
  })
})

const heap = (cell: string, count: number, latitude: number, longitude: number) => ({
  cell,
  count,
  latitude,
  longitude,
})

describe('heaps that would cover each other', () => {
  const heaps = [heap('00', 9, 50, 10), heap('01', 4, 50, 11), heap('02', 2, 20, 80)]

  it('are one pile from afar', () => {
    const piles = piled(heaps, 1000, 60)
    expect(piles.map((pile) => [pile.first.cell, pile.count, pile.cells])).toEqual([
      ['00', 13, ['00', '01']],
      ['02', 2, ['02']],
    ])
  })

  it('are their own from nearby', () => {
    // A degree is 1/360 of the sheet: 60 px apart from 21,600 px on.
    expect(piled(heaps, 21_500, 60)).toHaveLength(2)
    expect(piled(heaps, 21_700, 60)).toHaveLength(3)
  })

  it('lose nothing', () => {
    for (const scale of [1000, 5000, 40_000, 1e6])
      expect(piled(heaps, scale, 74).reduce((sum, pile) => sum + pile.count, 0)).toBe(15)
  })
})

describe('the ruler', () => {
  it.each([
    [{ x: 0.5, y: 0.5, scale: 1000 }, 2_000_000],
    [{ x: 0.5, y: 0.5, scale: 1_000_000 }, 2000],
    // At 60° north everything is twice as large.
    [{ ...onSheet(60, 0), scale: 1000 }, 2_000_000],
    [{ ...onSheet(60, 0), scale: 1_000_000 }, 2000],
    [{ x: 0.5, y: 0.5, scale: 2 ** 27 }, 20],
  ])('of %o has a round length', (view, metres) => {
    const told = ruler(view, 110)
    expect(told.metres).toBe(metres)
    expect(told.px).toBeLessThanOrEqual(110)
    expect(told.px).toBeGreaterThan(40)
  })
})

describe('cells', () => {
  it.each([
    ['0', -180, 0, 0, 90],
    ['3', 0, -90, 180, 0],
    ['12', 0, 0, 90, 45],
    ['031', -45, 22.5, 0, 45],
  ])('%s lies between %d, %d, %d and %d', (cell, west, south, east, north) => {
    expect(boxOf(cell)).toEqual({ west, south, east, north })
  })

  it.each([
    ['', ['12'], 'near:12'],
    ['kind:clip|near:3', ['12', '13'], 'kind:clip|near:12|near:13'],
    ['town:Brackwater', [], 'town:Brackwater'],
  ])('of %o are narrowed to %o: %s', (traits, cells, told) => {
    expect(narrowedTo(traits, cells)).toBe(told)
  })

  it('are held by one box', () => {
    expect(union([boxOf('00'), boxOf('03')])).toEqual({ west: -180, south: 0, east: 0, north: 90 })
  })
})

describe('a heap', () => {
  const heap = { town: 'Brackwater', country: 'NO' }
  it.each([
    [heap, 2000, 1, 'Norway'],
    [heap, 200_000, 1, 'Brackwater'],
    [heap, 200_000, 9, 'Norway'],
    [{ town: 'Brackwater', country: '' }, 2000, 1, 'Brackwater'],
    [{ town: '', country: 'Norrow' }, 200_000, 1, 'Norrow'],
    [{ town: '', country: '' }, 2000, 1, ''],
  ])('%o is called from %d px in %d cells: %s', (one, scale, cells, called) => {
    expect(calledFrom(one, scale, 'en', cells)).toBe(called)
  })
})
