import { nextTick } from 'vue'
import { describe, expect, it } from 'vitest'
import {
  added,
  cut,
  mixed,
  moved,
  nextKey,
  NOTHING,
  readQueue,
  shuffle,
  songsOf,
  stepped,
  unshuffle,
  without,
  type Queue,
} from '../src/composables/queue'
import {
  claimQueue,
  forgetQueue,
  keepMoment,
  keptMoment,
  usePlayer,
} from '../src/composables/usePlayer'

const SOURCE = { title: 'Glass Orchard', subtitle: 'Odalys Verne', picture: null, entryId: 9 }
const item = (n: number) => ({
  file_id: 100 + n,
  entry_id: n,
  label: `song ${n}`,
  seconds: 60,
  extra: false,
})
const queueOf = (count: number, place = 0, more: Partial<Queue> = {}): Queue => ({
  ...NOTHING,
  songs: songsOf(
    Array.from({ length: count }, (_, n) => item(n)),
    SOURCE,
    1,
  ),
  place,
  ...more,
})
const labels = (queue: Queue): string[] => queue.songs.map((song) => song.label.slice(5))
const current = (queue: Queue) => queue.songs[queue.place]?.label

/** Numbers that look random and are the same every time. */
function numbers(seed: number): () => number {
  let state = seed
  return () => (state = (state * 16807) % 2147483647) / 2147483647
}

describe('the queue', () => {
  it('steps to the next and the one before, and ends at its ends', () => {
    expect(stepped(queueOf(3, 0), 1)?.place).toBe(1)
    expect(stepped(queueOf(3, 2), -1)?.place).toBe(1)
    expect(stepped(queueOf(3, 2), 1)).toBeUndefined()
    expect(stepped(queueOf(3, 0), -1)).toBeUndefined()
    expect(stepped(NOTHING, 1)).toBeUndefined()
  })

  it('begins again at the top when all is repeated', () => {
    expect(stepped(queueOf(3, 2, { repeat: 'all' }), 1)?.place).toBe(0)
  })

  it('repeats one song when it ended, and goes on when a person asks', () => {
    const one = queueOf(3, 1, { repeat: 'one' })
    expect(stepped(one, 1, true)?.place).toBe(1)
    expect(stepped(one, 1)?.place).toBe(2)
  })

  it('mixes only what is still to come', () => {
    const before = queueOf(40, 9)
    const after = shuffle(before, numbers(7))
    expect(labels(after).slice(0, 10)).toEqual(labels(before).slice(0, 10))
    expect(current(after)).toBe(current(before))
    expect([...labels(after)].sort()).toEqual([...labels(before)].sort())
    expect(labels(after)).not.toEqual(labels(before))
  })

  it('comes back to the order in which the songs came, and stays at its song', () => {
    const mixedUp = stepped(shuffle(queueOf(20), numbers(3)), 1) as Queue
    const back = unshuffle(mixedUp)
    expect(labels(back)).toEqual(labels(queueOf(20)))
    expect(current(back)).toBe(current(mixedUp))
  })

  it.each([1, 2, 3, 4, 5])('hears all songs before one is heard again (%i)', (seed) => {
    const random = numbers(seed)
    let queue = shuffle(queueOf(8, 0, { repeat: 'all' }), random)
    for (let round = 0; round < 4; round++) {
      const heard = new Set([current(queue)])
      for (let n = 1; n < 8; n++) {
        queue = stepped(queue, 1, true, random) as Queue
        heard.add(current(queue))
      }
      expect(heard.size).toBe(8)
      const last = current(queue)
      queue = stepped(queue, 1, true, random) as Queue
      expect(current(queue)).not.toBe(last)
    }
  })

  it('mixes evenly: every place is as likely', () => {
    const random = numbers(11)
    const firsts = [0, 0, 0, 0]
    for (let n = 0; n < 4000; n++) firsts[mixed([0, 1, 2, 3], random)[0] as number]!++
    for (const count of firsts) expect(Math.abs(count - 1000)).toBeLessThan(120)
  })

  it.each([
    [0, 3, ['1', '2', '3', '0', '4']],
    [4, 0, ['4', '0', '1', '2', '3']],
    [2, 3, ['0', '1', '3', '2', '4']],
    [2, 2, ['0', '1', '2', '3', '4']],
    [2, 5, ['0', '1', '2', '3', '4']],
    [9, 0, ['0', '1', '2', '3', '4']],
  ])('moves a song from %i to %i, and what plays goes on', (from, to, order) => {
    const after = moved(queueOf(5, 2), from, to)
    expect(labels(after)).toEqual(order)
    expect(current(after)).toBe('song 2')
  })

  it('lets a song go; when it was playing the next one plays', () => {
    expect(current(without(queueOf(4, 2), 0))).toBe('song 2')
    expect(current(without(queueOf(4, 2), 3))).toBe('song 2')
    expect(current(without(queueOf(4, 2), 2))).toBe('song 3')
    expect(current(without(queueOf(4, 3), 3))).toBe('song 2')
    expect(without(queueOf(1), 0).songs).toEqual([])
  })

  it('takes songs in next or at the end, the same song also twice', () => {
    const queue = queueOf(3, 1)
    const more = songsOf([item(1)], SOURCE, nextKey(queue))
    expect(labels(added(queue, more, 'next'))).toEqual(['0', '1', '1', '2'])
    expect(labels(added(queue, more, 'end'))).toEqual(['0', '1', '2', '1'])
    const keys = added(queue, more, 'next').songs.map((song) => song.key)
    expect(new Set(keys).size).toBe(4)
    expect(labels(cut(queue))).toEqual(['0', '1'])
  })

  it('survives being kept and read', () => {
    const queue = shuffle(queueOf(5, 1, { repeat: 'one' }), numbers(2))
    expect(readQueue(JSON.stringify(queue))).toEqual(queue)
  })

  it.each([
    null,
    '',
    '{',
    'null',
    '[]',
    '{"songs": 3}',
    '{"songs": [null]}',
    '{"songs": [{"key": "x"}]}',
  ])('reads nothing from %s', (text) => {
    expect(readQueue(text)).toEqual(NOTHING)
  })

  it('reads a place that is beyond its songs as the last', () => {
    expect(readQueue(JSON.stringify(queueOf(3, 0, { place: 70 }))).place).toBe(2)
  })
})

describe('the queue of a browser', () => {
  const album = { ...SOURCE, items: [item(1), item(2), item(3)] }

  it('is kept, goes on, and ends', async () => {
    claimQueue('Odile')
    const player = usePlayer()
    player.play(album, 1)
    await nextTick()
    expect(readQueue(localStorage.getItem('indice.queue'))).toEqual(player.queue.value)
    expect([player.current.value?.label, player.hasNext.value]).toEqual(['song 2', true])
    expect([player.step(1, true), player.hasNext.value, player.step(1)]).toEqual([
      true,
      false,
      false,
    ])
    player.turnRepeat()
    expect([player.queue.value.repeat, player.hasNext.value]).toEqual(['all', true])
    player.add({ ...SOURCE, items: [item(9)] }, 'next')
    expect(labels(player.queue.value)).toEqual(['1', '2', '3', '9'])
    player.drop(0)
    player.close()
    await nextTick()
    expect([player.current.value, localStorage.getItem('indice.queue')]).toEqual([undefined, null])
  })

  it('is not found by who signs in after another', () => {
    claimQueue('Odile')
    const player = usePlayer()
    player.play(album)
    claimQueue('Odile')
    expect(player.queue.value.songs).toHaveLength(3)
    claimQueue('Bram')
    expect(player.queue.value.songs).toEqual([])
  })

  it('keeps the moment of one song, and of no other', () => {
    keepMoment(4, 61.8)
    expect([keptMoment(4), keptMoment(5)]).toEqual([61, undefined])
    forgetQueue()
    expect(keptMoment(4)).toBeUndefined()
    localStorage.setItem('indice.queue.moment', '{')
    expect(keptMoment(4)).toBeUndefined()
  })
})
