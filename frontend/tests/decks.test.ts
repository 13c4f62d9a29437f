import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, test, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { api } from '@/api/client'
import { evenedBy, followingOf, type Queue, type Song } from '@/composables/queue'
import { useDecks } from '@/composables/useDecks'
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

describe('two places for songs', () => {
  /** A page with both places; what the browser lets be heard is said by `allowed`. */
  function page(allowed: (element: HTMLMediaElement) => boolean) {
    let keys = 0
    const asked: number[] = []
    vi.spyOn(api, 'POST').mockImplementation(((
      path: string,
      { params }: { params: { path: { entry_id: number } } },
    ) => {
      if (path.endsWith('/beat')) return Promise.resolve({ response: new Response() })
      asked.push(params.path.entry_id)
      const data = { key: `${++keys}`, entry_id: params.path.entry_id, mode: 'direct', parts: [] }
      const more = { url: `/song/${params.path.entry_id}`, position_seconds: 0, loudness: null }
      return Promise.resolve({ data: { ...data, ...more }, response: new Response() })
    }) as never)
    navigator.sendBeacon = () => true
    const media = HTMLMediaElement.prototype
    vi.spyOn(media, 'load').mockImplementation(() => undefined)
    vi.spyOn(media, 'pause').mockImplementation(() => undefined)
    const heard: string[] = []
    vi.spyOn(media, 'play').mockImplementation(function (this: HTMLMediaElement) {
      if (!allowed(this)) return Promise.reject(new DOMException('no', 'NotAllowedError'))
      heard.push(this.getAttribute('src') ?? '')
      return Promise.resolve()
    })
    let decks: ReturnType<typeof useDecks> | undefined
    const songs = [song(1), song(2), song(3)]
    let at = 0
    const Holder = defineComponent({
      setup() {
        const first = ref<HTMLAudioElement | null>(null)
        const second = ref<HTMLAudioElement | null>(null)
        decks = useDecks(() => [first.value, second.value], {
          following: () => songs[at + 1],
          over: () => undefined,
          evened: () => 'no',
        })
        return () => [h('audio', { ref: first, id: 'a' }), h('audio', { ref: second, id: 'b' })]
      },
    })
    const mounted = mount(Holder, { attachTo: document.body })
    const stand = (seconds: number) => {
      const element = decks!.media()!
      Object.defineProperty(element, 'duration', { value: 60, configurable: true })
      Object.defineProperty(element, 'currentTime', {
        value: seconds,
        configurable: true,
        writable: true,
      })
      Object.defineProperty(element, 'paused', { value: false, configurable: true })
    }
    const play = async (index: number) => {
      at = index
      await decks!.play(songs[index]!)
      await flushPromises()
    }
    return { decks: decks!, asked, heard, stand, play, mounted }
  }
  afterEach(() => vi.restoreAllMocks())

  it('have the following song ready near the end, and play it without asking again', async () => {
    const { decks, asked, heard, stand, play, mounted } = page(() => true)
    await play(0)
    stand(10)
    decks.move()
    await flushPromises()
    expect(asked).toEqual([1]) // too early
    stand(45)
    decks.move()
    await flushPromises()
    expect([asked, heard]).toEqual([[1, 2], ['/song/1']]) // ready, and silent
    await play(1)
    expect([asked, heard]).toEqual([
      [1, 2],
      ['/song/1', '/song/2'],
    ])
    expect(decks.live.value).toBe(1)
    expect(decks.told.value?.entry_id).toBe(2)
    mounted.unmount()
  })
  it('ask anew where somebody chooses another song than the one that is ready', async () => {
    const { decks, asked, stand, play, mounted } = page(() => true)
    await play(0)
    stand(50)
    decks.move()
    await flushPromises()
    await play(2)
    expect(asked).toEqual([1, 2, 3])
    expect([decks.live.value, decks.told.value?.entry_id]).toEqual([0, 3])
    mounted.unmount()
  })
  it('are one where the browser lets only the first be heard', async () => {
    const { decks, asked, heard, stand, play, mounted } = page((element) => element.id === 'a')
    await play(0)
    stand(50)
    decks.move()
    await flushPromises()
    await play(1)
    expect([decks.live.value, heard.at(-1)]).toEqual([0, '/song/2'])
    stand(50)
    decks.move()
    await flushPromises()
    expect(asked).toEqual([1, 2, 2]) // nothing is made ready any more
    mounted.unmount()
  })
})
