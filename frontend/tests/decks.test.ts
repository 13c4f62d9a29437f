import { describe, expect, test } from 'vitest'
import { evenedBy, followingOf, type Queue, type Song } from '@/composables/queue'
import { factorOf, type Loudness } from '@/composables/useLoudness'

const song = (key: number, fromId = 1): Song => ({
  key,
  entryId: key,
  fileId: key,
  label: `Song ${key}`,
  seconds: 60,
  from: 'Tin Orchard',
  by: 'Wren Halloway',
  picture: null,
  fromId,
})
const queue = (more: Partial<Queue>): Queue => ({
  songs: [song(1), song(2), song(3)],
  place: 0,
  repeat: 'none',
  shuffled: false,
  ...more,
})
const loud = (more: Partial<NonNullable<Loudness>>): Loudness => ({
  track: null,
  album: null,
  track_peak: null,
  album_peak: null,
  ...more,
})

describe('the song that comes by itself', () => {
  test.each([
    [{}, 2],
    [{ place: 2 }, undefined],
    [{ place: 2, repeat: 'all' }, 1],
    [{ place: 2, repeat: 'all', shuffled: true }, undefined],
    [{ place: 1, repeat: 'one' }, undefined],
    [{ songs: [song(1)], repeat: 'all' }, undefined],
    [{ songs: [] }, undefined],
  ] satisfies [Partial<Queue>, number | undefined][])('%o → %s', (more, key) => {
    expect(followingOf(queue(more))?.key).toBe(key)
  })
})

describe('what songs are evened out by', () => {
  test.each([
    [{}, 'album'],
    [{ place: 1 }, 'album'],
    [{ shuffled: true }, 'song'],
    [{ songs: [song(1), song(2, 9)] }, 'song'],
    [{ songs: [song(1)] }, 'song'],
    [{ songs: [song(1, 4), song(2), song(3)], place: 1 }, 'song'],
  ] satisfies [Partial<Queue>, string][])('%o → %s', (more, by) => {
    expect(evenedBy(queue(more))).toBe(by)
  })
})

describe('what the sound is multiplied by', () => {
  test.each([
    [null, 'song', 1],
    [loud({ track: -6 }), 'song', 0.5012],
    [loud({ track: -6, album: -3 }), 'album', 0.7079],
    [loud({ track: -6 }), 'album', 0.5012],
    [loud({ album: -3 }), 'song', 0.7079],
    [loud({ track: -6 }), 'no', 1],
    // Louder only as far as the loudest moment bears, and not at all where nobody knows how far that is.
    [loud({ track: 6, track_peak: 0.25 }), 'song', 1.9953],
    [loud({ track: 6, track_peak: 0.8 }), 'song', 1.25],
    [loud({ track: 6 }), 'song', 1],
    [loud({ track: 6, track_peak: 1.2 }), 'song', 1],
    // What is turned down is not turned down twice for its peak.
    [loud({ track: -2, track_peak: 1.4 }), 'song', 0.7943],
    [loud({ track: 60, track_peak: 0.001 }), 'song', 5.6234],
  ] satisfies [Loudness, 'no' | 'song' | 'album', number][])(
    '%o by %s is %d',
    (told, by, factor) => {
      expect(factorOf(told, by)).toBeCloseTo(factor, 3)
    },
  )
})
