/** Watching together, as plain computation: the server's clock, the moment for all, and how to come to it. */

export interface Shared {
  is_paused: boolean
  position_seconds: number
  /** When it was there, by the server's clock; what runs stands still until then. */
  at_seconds: number
}

/** Knows the server's clock from answers that say it; the one that was quickest on its way is believed. */
export class Clock {
  private samples: { trip: number; ahead: number }[] = []

  constructor(private readonly kept = 12) {}

  /**
   * A question that was asked and answered at these seconds of one's own clock, and came and was answered at those of the
   * server's: what the server took for it is no part of the way (RFC 5905, 8).
   */
  hear(asked: number, heard: number, came: number, answered: number): void {
    const trip = heard - asked - (answered - came)
    this.samples.push({ trip, ahead: (came - asked + (answered - heard)) / 2 })
    if (this.samples.length > this.kept) this.samples.shift()
  }

  /** The server's clock at a second of one's own. */
  at(own: number): number {
    const best = this.samples.reduce(
      (one, other) => (other.trip < one.trip ? other : one),
      this.samples[0] ?? { trip: 0, ahead: 0 },
    )
    return own + best.ahead
  }
}

/** Where the film is for all, at a second of the server's clock. */
export const momentAt = (shared: Shared, server: number): number =>
  shared.position_seconds + (shared.is_paused ? 0 : Math.max(server - shared.at_seconds, 0))

export type Step =
  | { do: 'nothing' }
  | { do: 'stop'; to?: number }
  | { do: 'wait'; to?: number; seconds: number }
  | { do: 'jump'; to: number }
  | { do: 'run'; rate: number }

const STILL_SECONDS = 0.12
const JUMP_SECONDS = 0.9
const FINE_SECONDS = 0.03
const MOST_RATE = 0.1
/** A jump takes a moment itself. */
const AHEAD_SECONDS = 0.12

/** What a player has to do that shows `now` seconds of the film, to see what all see. */
export function stepTo(shared: Shared, server: number, now: number): Step {
  const goal = momentAt(shared, server)
  const off = now - goal
  const to = Math.abs(off) > STILL_SECONDS ? goal : undefined
  if (shared.is_paused) return { do: 'stop', to }
  if (server < shared.at_seconds) return { do: 'wait', to, seconds: shared.at_seconds - server }
  if (Math.abs(off) > JUMP_SECONDS) return { do: 'jump', to: goal + AHEAD_SECONDS }
  if (Math.abs(off) < FINE_SECONDS) return { do: 'run', rate: 1 }
  return { do: 'run', rate: 1 - Math.min(Math.max(off * 0.5, -MOST_RATE), MOST_RATE) }
}
