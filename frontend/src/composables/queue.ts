/** What plays after what: pure steps over a queue of songs. */
import type { Picture, Playable, SongRow } from '@/api/client'

/** A song in the queue; it knows by itself what it belongs to, as songs of several albums stand side by side. */
export interface Song {
  /** Unique in the queue: a song may stand in it twice. */
  readonly key: number
  readonly entryId: number
  readonly fileId: number
  readonly label: string
  readonly seconds: number | null
  /** The page it was taken from: an album, an artist, a list. */
  readonly from: string
  readonly by: string
  readonly picture: Picture | null
  /** Where that page is. */
  readonly fromId: number
}

export type Repeat = 'none' | 'all' | 'one'

export interface Queue {
  readonly songs: readonly Song[]
  /** Index of the song that plays. */
  readonly place: number
  readonly repeat: Repeat
  readonly shuffled: boolean
}

export interface Source {
  title: string
  subtitle: string
  picture: Picture | null
  entryId: number
}

/** What plays, and, where songs of many albums stand together, whose it is and its cover. */
export interface Item extends Playable {
  by?: string
  picture?: Picture | null
}

export const NOTHING: Queue = { songs: [], place: 0, repeat: 'none', shuffled: false }
/** No more than a browser keeps and shows with ease. */
export const MOST_SONGS = 5000

export function songsOf(items: readonly Item[], source: Source, first: number): Song[] {
  return items.map((item, at) => ({
    key: first + at,
    entryId: item.entry_id,
    fileId: item.file_id,
    label: item.label || source.title,
    seconds: item.seconds,
    from: source.title,
    by: item.by ?? source.subtitle,
    picture: item.picture === undefined ? source.picture : item.picture,
    fromId: source.entryId,
  }))
}

export const nextKey = (queue: Queue): number =>
  queue.songs.reduce((most, song) => Math.max(most, song.key), 0) + 1

/** Mixed so that every order is equally likely (Fisher and Yates). */
export function mixed<T>(things: readonly T[], random: () => number = Math.random): T[] {
  const out = [...things]
  for (let last = out.length - 1; last > 0; last--) {
    const other = Math.floor(random() * (last + 1))
    const held = out[last] as T
    out[last] = out[other] as T
    out[other] = held
  }
  return out
}

/** The queue with what is still to come in another order; what plays and what was heard stay where they are. */
export function shuffle(queue: Queue, random?: () => number): Queue {
  const heard = queue.songs.slice(0, queue.place + 1)
  return {
    ...queue,
    shuffled: true,
    songs: [...heard, ...mixed(queue.songs.slice(queue.place + 1), random)],
  }
}

/** In the order in which the songs came in, wherever one is. */
export function unshuffle(queue: Queue): Queue {
  const current = queue.songs[queue.place]
  const songs = [...queue.songs].sort((a, b) => a.key - b.key)
  return { ...queue, shuffled: false, songs, place: current ? songs.indexOf(current) : 0 }
}

/**
 * The queue after a step; undefined when nothing follows. A song that ended by itself is repeated where one wants that
 * (`ended`); shuffled songs are mixed anew only when all were heard.
 */
export function stepped(
  queue: Queue,
  by: 1 | -1,
  ended = false,
  random?: () => number,
): Queue | undefined {
  if (ended && queue.repeat === 'one') return queue
  const to = queue.place + by
  if (to >= 0 && to < queue.songs.length) return { ...queue, place: to }
  if (to < 0 || queue.repeat !== 'all' || !queue.songs.length) return undefined
  if (!queue.shuffled) return { ...queue, place: 0 }
  const last = queue.songs[queue.place]
  let songs = mixed(queue.songs, random)
  if (songs.length > 1 && songs[0] === last) songs = [...songs.slice(1), songs[0] as Song]
  return { ...queue, songs, place: 0 }
}

/** The song that comes after this one by itself; none where it is repeated, is the last, or chance will decide. */
export function followingOf(queue: Queue): Song | undefined {
  if (queue.repeat === 'one') return undefined
  const last = queue.place === queue.songs.length - 1
  if (last && queue.repeat === 'all' && !queue.shuffled && queue.songs.length > 1)
    return queue.songs[0]
  return queue.songs[queue.place + 1]
}

/** An album that plays in its order is evened out as a whole, songs from here and there each for itself. */
export function evenedBy(queue: Queue): 'song' | 'album' {
  const { songs, place, shuffled } = queue
  const at = songs[place]?.fromId
  const beside = [songs[place - 1], songs[place + 1]].filter((one) => one !== undefined)
  return !shuffled && beside.length && beside.every((one) => one.fromId === at) ? 'album' : 'song'
}

/** A song at another place; what plays goes on playing. */
export function moved(queue: Queue, from: number, to: number): Queue {
  const song = queue.songs[from]
  if (!song || to < 0 || to >= queue.songs.length || from === to) return queue
  const current = queue.songs[queue.place] as Song
  const songs = queue.songs.filter((one) => one !== song)
  songs.splice(to, 0, song)
  return { ...queue, songs, place: songs.indexOf(current) }
}

/** Without one song; when it was playing, the next one plays. */
export function without(queue: Queue, at: number): Queue {
  const songs = queue.songs.filter((_, index) => index !== at)
  const place = at < queue.place ? queue.place - 1 : queue.place
  return { ...queue, songs, place: Math.min(place, Math.max(songs.length - 1, 0)) }
}

/** Without what is still to come. */
export const cut = (queue: Queue): Queue => ({
  ...queue,
  songs: queue.songs.slice(0, queue.place + 1),
})

/** With songs right after the one that plays, or at the end. */
export function added(queue: Queue, songs: readonly Song[], where: 'next' | 'end'): Queue {
  const at = where === 'next' && queue.songs.length ? queue.place + 1 : queue.songs.length
  const all = [...queue.songs.slice(0, at), ...songs, ...queue.songs.slice(at)]
  return { ...queue, songs: all.slice(0, Math.max(MOST_SONGS, at)) }
}

const isSong = (told: unknown): told is Song => {
  const song = told as Partial<Song> | null
  return (
    typeof song === 'object' &&
    song !== null &&
    [song.key, song.entryId, song.fileId, song.fromId].every((n) => Number.isSafeInteger(n)) &&
    [song.label, song.from, song.by].every((text) => typeof text === 'string')
  )
}

/** What a browser kept; nothing when it is no queue, or of an older form. */
export function readQueue(text: string | null): Queue {
  try {
    const told = JSON.parse(text ?? '') as Partial<Queue> | null
    if (!told || !Array.isArray(told.songs) || !told.songs.every(isSong)) return NOTHING
    const place = Number.isSafeInteger(told.place) ? Number(told.place) : 0
    return {
      songs: told.songs.slice(0, MOST_SONGS),
      place: Math.min(Math.max(place, 0), Math.max(told.songs.length - 1, 0)),
      repeat: told.repeat === 'all' || told.repeat === 'one' ? told.repeat : 'none',
      shuffled: told.shuffled === true,
    }
  } catch {
    return NOTHING
  }
}

/** A song of a list as the queue takes it. */
export function playableOf(song: SongRow): Item {
  return {
    file_id: song.file_id ?? 0,
    label: song.title,
    entry_id: song.id,
    seconds: song.seconds,
    extra: false,
    by: song.artist,
    picture: song.picture,
  }
}
