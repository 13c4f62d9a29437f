/** What a heap of photos on the map is called. */
import { country } from './words'

/** Pixels that the whole earth is wide, from where a town is more to the point than its country. */
const TOWNS_FROM = 9000

/** From afar the country that its newest photo names, from nearby the town; of several heaps in one no town. */
export function calledFrom(
  heap: { town: string; country: string },
  scale: number,
  locale: string,
  cells = 1,
): string {
  const land = country(heap.country, locale)
  return scale < TOWNS_FROM || cells > 4 ? land || heap.town : heap.town || land
}
