import { describe, expect, it } from 'vitest'
import { Clock, momentAt, stepTo } from '@/composables/together'

const runs = { is_paused: false, position_seconds: 100, at_seconds: 1000 }
const stands = { ...runs, is_paused: true }

describe('the moment for all', () => {
  it('stands while it is stopped, and until it begins', () => {
    expect(momentAt(stands, 1050)).toBe(100)
    expect(momentAt(runs, 999.2)).toBe(100)
    expect(momentAt(runs, 1007.5)).toBe(107.5)
  })
})

describe('a player comes to it', () => {
  it('by stopping, where all have', () => {
    expect(stepTo(stands, 1050, 100.05)).toEqual({ do: 'stop', to: undefined })
    expect(stepTo(stands, 1050, 131)).toEqual({ do: 'stop', to: 100 })
  })
  it('by waiting for a beginning that lies ahead', () => {
    const step = stepTo(runs, 999.4, 100)
    expect(step.do).toBe('wait')
    expect(step).toMatchObject({ seconds: expect.closeTo(0.6) as number })
  })
  it('by jumping where it is far, running faster or slower where it is near', () => {
    expect(stepTo(runs, 1010, 60)).toMatchObject({ do: 'jump' })
    expect(stepTo(runs, 1010, 110.01)).toEqual({ do: 'run', rate: 1 })
    const late = stepTo(runs, 1010, 109.8)
    const early = stepTo(runs, 1010, 110.2)
    expect(late.do === 'run' && late.rate > 1 && late.rate <= 1.1).toBe(true)
    expect(early.do === 'run' && early.rate < 1 && early.rate >= 0.9).toBe(true)
  })
  it('and is there after a while, from anywhere', () => {
    for (const start of [0, 99.3, 100.7, 100.4, 99.8, 4000]) {
      let now = start
      for (let tick = 0; tick < 200; tick++) {
        const server = 1000 + tick * 0.2
        const step = stepTo(runs, server, now)
        if (step.do === 'jump') now = step.to
        else if (step.do === 'run') now += 0.2 * step.rate
      }
      expect(Math.abs(now - momentAt(runs, 1040))).toBeLessThan(0.1)
    }
  })
})

describe("the server's clock", () => {
  it('is believed from the answer that was quickest on its way', () => {
    const clock = new Clock()
    clock.hear(10, 10.8, 5010.7, 5010.75) // slow there: it might be 0.4 s off
    clock.hear(11, 11.02, 5011.01, 5011.01)
    clock.hear(12, 13.5, 5012.1, 5012.2)
    expect(clock.at(20)).toBeCloseTo(5020, 3)
  })
  it('forgets old answers, since clocks drift', () => {
    const clock = new Clock(3)
    clock.hear(0, 0.001, 100, 100)
    for (let n = 1; n < 5; n++) clock.hear(n, n + 0.1, 200.05 + n, 200.05 + n)
    expect(clock.at(10)).toBeCloseTo(210, 3)
  })
  it('is not mistaken where the server takes its time', () => {
    const clock = new Clock()
    clock.hear(10, 10.62, 5010.01, 5010.61)
    expect(clock.at(20)).toBeCloseTo(5020, 3)
  })
  it('is one own’s before anybody has answered', () => expect(new Clock().at(7)).toBe(7))
})
