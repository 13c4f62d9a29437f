export interface Timed {
  at_seconds: number | null
}

/** The place of the line that is sung at a moment: the last one that has begun; -1 before the first. */
export function lineAt(lines: readonly Timed[], seconds: number): number {
  let [low, high] = [0, lines.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((lines[middle]!.at_seconds ?? 0) <= seconds) low = middle + 1
    else high = middle
  }
  return low - 1
}
