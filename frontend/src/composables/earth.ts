/** The earth on a sheet: Mercator's projection in a square of side 1, what of it is seen, and heaps that would cover each other. */

/** What is seen: the middle, in units of the sheet, and how many pixels the whole sheet is wide. */
export interface View {
  x: number
  y: number
  scale: number
}

/** Width and height of what shows it, in pixels. */
export interface Size {
  width: number
  height: number
}

/** In degrees. */
export interface Box {
  west: number
  south: number
  east: number
  north: number
}

/** Beyond it Mercator's sheet has no end. */
const LAST_LATITUDE = 84
/** So many pixels wide the whole earth is when one looks at a street; 1 px is about 0.3 m at the equator. */
export const CLOSEST = 2 ** 27
const RADIUS_M = 6_378_137

/** Where a place lies on the sheet. */
export function onSheet(latitude: number, longitude: number): { x: number; y: number } {
  const bounded = Math.max(-LAST_LATITUDE, Math.min(LAST_LATITUDE, latitude))
  const angle = Math.PI / 4 + (bounded * Math.PI) / 360
  return {
    x: (longitude + 180) / 360,
    y: 0.5 - Math.log(Math.tan(angle)) / (2 * Math.PI),
  }
}

/** What place lies there on the sheet. */
export function onEarth(x: number, y: number): { latitude: number; longitude: number } {
  const latitude = (Math.atan(Math.exp((0.5 - y) * 2 * Math.PI)) * 360) / Math.PI - 90
  return { latitude, longitude: x * 360 - 180 }
}

const TOP = onSheet(LAST_LATITUDE, 0).y
const HIGH = 1 - 2 * TOP

/** So much paper is left around the sheet, for prints at the end of the world. */
export const EDGE_PX = 60

/** The same view, within the sheet and its edge: never wider than the earth, never beside it. */
export function bounded(view: View, size: Size): View {
  const inner = {
    x: Math.max(1, size.width - 2 * EDGE_PX),
    y: Math.max(1, size.height - 2 * EDGE_PX),
  }
  const scale = Math.max(inner.x, inner.y / HIGH, Math.min(CLOSEST, view.scale))
  const halfX = inner.x / scale / 2
  const halfY = inner.y / scale / 2
  return {
    x: Math.max(halfX, Math.min(1 - halfX, view.x)),
    y: Math.max(TOP + halfY, Math.min(1 - TOP - halfY, view.y)),
    scale,
  }
}

/** The same view, moved no farther than is needed to have a place in sight. */
export function withInSight(view: View, size: Size, latitude: number, longitude: number): View {
  const { left, top } = place(view, size, latitude, longitude)
  const over = (at: number, side: number) =>
    Math.min(0, at - EDGE_PX) || Math.max(0, at - (side - EDGE_PX))
  const [dx, dy] = [over(left, size.width), over(top, size.height)]
  if (!dx && !dy) return view
  return bounded({ ...view, x: view.x + dx / view.scale, y: view.y + dy / view.scale }, size)
}

/** Where a cell of the earth lies: its digits halve it from west to east and from north to south. */
export function boxOf(cell: string): Box {
  const box = { west: -180, south: -90, east: 180, north: 90 }
  for (const digit of cell) {
    const [x, y] = [(box.west + box.east) / 2, (box.south + box.north) / 2]
    if (Number(digit) % 2) box.west = x
    else box.east = x
    if (Number(digit) > 1) box.north = y
    else box.south = y
  }
  return box
}

/** What photos are narrowed down by, and to these cells in place of others. */
export function narrowedTo(traits: string, cells: readonly string[]): string {
  const others = traits.split('|').filter((one) => one && !one.startsWith('near:'))
  return [...others, ...cells.map((cell) => `near:${cell}`)].join('|')
}

/** What holds all of these. */
export function union(boxes: readonly Box[]): Box {
  return {
    west: Math.min(...boxes.map((one) => one.west)),
    south: Math.min(...boxes.map((one) => one.south)),
    east: Math.max(...boxes.map((one) => one.east)),
    north: Math.max(...boxes.map((one) => one.north)),
  }
}

/** Closer by a factor; what lies under a point (pixels from the upper left) stays under it. */
export function closer(
  view: View,
  size: Size,
  factor: number,
  at = { x: size.width / 2, y: size.height / 2 },
): View {
  const scale = bounded({ ...view, scale: view.scale * factor }, size).scale
  const [dx, dy] = [at.x - size.width / 2, at.y - size.height / 2]
  return bounded(
    {
      x: view.x + dx / view.scale - dx / scale,
      y: view.y + dy / view.scale - dy / scale,
      scale,
    },
    size,
  )
}

/** What is seen, in degrees. */
export function seen(view: View, size: Size): Box {
  const [halfX, halfY] = [size.width / view.scale / 2, size.height / view.scale / 2]
  const first = onEarth(Math.max(0, view.x - halfX), Math.max(0, view.y - halfY))
  const last = onEarth(Math.min(1, view.x + halfX), Math.min(1, view.y + halfY))
  return {
    west: first.longitude,
    south: last.latitude,
    east: last.longitude,
    north: first.latitude,
  }
}

/** A view that shows all these places, with a margin in pixels around them. */
export function around(
  places: readonly { latitude: number; longitude: number }[],
  size: Size,
  margin = 90,
): View {
  const points = places.map((one) => onSheet(one.latitude, one.longitude))
  const xs = points.map((one) => one.x)
  const ys = points.map((one) => one.y)
  const [left, right] = [Math.min(...xs), Math.max(...xs)]
  const [top, bottom] = [Math.min(...ys), Math.max(...ys)]
  const across = Math.max(size.width - 2 * margin, 40) / Math.max(right - left, 1e-9)
  const down = Math.max(size.height - 2 * margin, 40) / Math.max(bottom - top, 1e-9)
  const scale = Math.min(across, down, 2 ** 17) // one place alone: with the land around it
  return bounded({ x: (left + right) / 2, y: (top + bottom) / 2, scale }, size)
}

/** Where a place is seen, in pixels from the upper left. */
export function place(
  view: View,
  size: Size,
  latitude: number,
  longitude: number,
): { left: number; top: number } {
  const point = onSheet(latitude, longitude)
  return {
    left: (point.x - view.x) * view.scale + size.width / 2,
    top: (point.y - view.y) * view.scale + size.height / 2,
  }
}

/** What lies on the map: the largest first. */
export interface Lying {
  cell: string
  count: number
  latitude: number
  longitude: number
}

/** Some of which one stands for all. */
export interface Pile<T extends Lying> {
  first: T
  count: number
  cells: string[]
}

/** Heaps of which one would cover the other are one pile: each goes to the first that it comes too near to. */
export function piled<T extends Lying>(heaps: readonly T[], scale: number, leastPx: number) {
  const piles: (Pile<T> & { x: number; y: number })[] = []
  for (const heap of heaps) {
    const { x, y } = onSheet(heap.latitude, heap.longitude)
    const near = piles.find(
      (pile) => Math.max(Math.abs(pile.x - x), Math.abs(pile.y - y)) * scale < leastPx,
    )
    if (near) {
      near.count += heap.count
      near.cells.push(heap.cell)
    } else piles.push({ first: heap, count: heap.count, cells: [heap.cell], x, y })
  }
  return piles as Pile<T>[]
}

/** A round length that is no more than so many pixels wide at a latitude: metres, and its width. */
export function ruler(view: View, mostPx: number): { metres: number; px: number } {
  const { latitude } = onEarth(view.x, view.y)
  const round = 2 * Math.PI * RADIUS_M * Math.cos((latitude * Math.PI) / 180)
  const most = (mostPx / view.scale) * round
  const power = 10 ** Math.floor(Math.log10(most))
  const metres = power * ([5, 2, 1].find((one) => one * power <= most) ?? 1)
  return { metres, px: (metres / round) * view.scale }
}
