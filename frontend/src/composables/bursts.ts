/** Pictures of one moment, taken one right after the other: on the wall the best of them stands for all. */
import type { EntryCard } from '@/api/client'

export interface Shown {
  best: EntryCard
  /** All of the moment in the order of the wall; one alone where it is no burst. */
  frames: readonly EntryCard[]
}

/** So far apart frames of a burst are at most. */
const GAP_MS = 2000
/** Two pictures in two seconds are two pictures. */
const LEAST_FRAMES = 3
const TO_THE_SECOND = '2019-07-20T10:15:00'.length

function time(entry: EntryCard): number {
  const moment = entry.moment ?? ''
  return moment.length >= TO_THE_SECOND ? Date.parse(`${moment.slice(0, TO_THE_SECOND)}Z`) : NaN
}
const isSameShape = (one: EntryCard, other: EntryCard) =>
  one.picture?.width === other.picture?.width && one.picture?.height === other.picture?.height

/** Whether somebody goes on right behind another: the same shape, within a moment. */
function goesOn(before: EntryCard, entry: EntryCard): boolean {
  if (before.kind !== 'photo' || entry.kind !== 'photo' || !entry.picture) return false
  return Math.abs(time(before) - time(entry)) <= GAP_MS && isSameShape(before, entry)
}
/** What one marked as a favourite, then what has most stars, then what was taken first. */
function bestOf(frames: readonly EntryCard[]): EntryCard {
  const worth = (entry: EntryCard) =>
    (entry.mark?.favourite ? 100 : 0) + Number(entry.mark?.rating ?? 0)
  return frames.reduce((best, entry) => (worth(entry) >= worth(best) ? entry : best))
}

/** Pictures of a day, the latest first, with bursts folded under their best one. */
export function foldBursts(shots: readonly EntryCard[]): Shown[] {
  const runs: EntryCard[][] = []
  for (const shot of shots) {
    const run = runs.at(-1)
    const before = run?.at(-1)
    if (run && before && goesOn(before, shot)) run.push(shot)
    else runs.push([shot])
  }
  return runs.flatMap((run) =>
    run.length >= LEAST_FRAMES
      ? [{ best: bestOf(run), frames: run }]
      : run.map((one) => ({ best: one, frames: [one] })),
  )
}

/** How many at the head of a list were taken right after one another. */
function headRun(shots: readonly EntryCard[]): number {
  const broken = shots.findIndex((shot, at) => at > 0 && !goesOn(shots[at - 1]!, shot))
  return broken < 0 ? shots.length : broken
}
const tailRun = (shots: readonly EntryCard[]) => headRun(shots.toReversed())

/** How many at the head of a block belong to the burst that the block above it ends with. */
function carriedOver(above: readonly EntryCard[], block: readonly EntryCard[]): number {
  const [last, first] = [above.at(-1), block[0]]
  if (!last || !first || !goesOn(last, first)) return 0
  const head = headRun(block)
  // what fills a whole block stays in it: it cannot be known how far it goes
  return head < block.length && tailRun(above) + head >= LEAST_FRAMES ? head : 0
}

/** What a block of the wall shows, so that a burst that goes over its edge lies folded in the block where it begins. */
export function withinBursts(
  above: readonly EntryCard[],
  block: readonly EntryCard[],
  below: readonly EntryCard[],
): EntryCard[] {
  return [...block.slice(carriedOver(above, block)), ...below.slice(0, carriedOver(block, below))]
}
