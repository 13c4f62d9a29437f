/** What candidates say beside what the files say: pure functions over an answer of the server. */
import type { Candidate, Match } from '@/api/client'

export interface Here {
  title?: string
  year?: number
  artist?: string
  seconds?: number
  count?: number
  languages?: string[]
}
/** One line of the comparison: what the files say, what each candidate does, and where that is something else. */
export interface Row {
  name: string
  here: string
  cells: string[]
  differs: boolean[]
  isLong: boolean
}
export interface Words {
  minutes: (count: number) => string
  /** A language by its name. */
  tongue: (code: string) => string
}
export type Part = Candidate['parts'][number]

/** So many minutes more or less are the same running time. */
const NEAR_MINUTES = 3
const AGREES = 0.9
const DIFFERS = 0.6
const MOST_PEOPLE = 3

const list = (candidate: Candidate, field: string) =>
  ((candidate.fields[field] ?? []) as unknown[]).map(String)
const joined = (candidate: Candidate, field: string) => list(candidate, field).join(', ')
const first = (candidate: Candidate, field: string) => list(candidate, field)[0] ?? ''
const minutesOf = (seconds: number | undefined) => (seconds ? Math.round(seconds / 60) : 0)
const yearOf = (candidate: Candidate) =>
  first(candidate, 'date').slice(0, 4) ||
  (/\b(1[89]|20)\d\d\b/.exec(candidate.description)?.[0] ?? '')
const isOther = (here: string, there: string) =>
  Boolean(here && there) && here.toLocaleLowerCase() !== there.toLocaleLowerCase()

function compared(name: string, here: string, cells: string[]): Row {
  return { name, here, cells, differs: cells.map((cell) => isOther(here, cell)), isLong: false }
}
function told(name: string, cells: string[], here = ''): Row {
  return { name, here, cells, differs: cells.map(() => false), isLong: false }
}
function lengths(here: Here, all: readonly Candidate[], words: Words): Row {
  const own = minutesOf(here.seconds)
  const theirs = all.map((one) => minutesOf(Number(first(one, 'runtime'))))
  return {
    ...told(
      'minutes',
      theirs.map((one) => (one ? words.minutes(one) : '')),
      own ? words.minutes(own) : '',
    ),
    differs: theirs.map((one) => Boolean(own && one) && Math.abs(own - one) > NEAR_MINUTES),
  }
}
function counts(here: Here, all: readonly Candidate[], field: 'tracks' | 'episodes'): Row {
  const theirs = all.map((one) => (one.fields[field] ? String(list(one, field).length) : ''))
  return compared('count', here.count ? String(here.count) : '', theirs)
}

/** The lines of a comparison in which anything is said. */
export function rowsOf(match: Pick<Match, 'here' | 'candidates' | 'entry'>, words: Words): Row[] {
  const here = match.here as Here
  const all = match.candidates
  const of = (field: string) => all.map((one) => joined(one, field))
  const byKind: Record<string, () => Row[]> = {
    movie: () => [lengths(here, all, words)],
    album: () => [
      compared('artist', here.artist ?? '', of('artists')),
      counts(here, all, 'tracks'),
    ],
    series: () => [counts(here, all, 'episodes')],
  }
  const people = (one: Candidate) => [...list(one, 'directors'), ...list(one, 'cast')]
  const tongues = (codes: readonly string[]) => codes.map(words.tongue).join(', ')
  return [
    compared(
      'title',
      here.title ?? '',
      all.map((one) => one.name),
    ),
    told('aliases', of('aliases')),
    compared('year', String(here.year ?? ''), all.map(yearOf)),
    ...(byKind[match.entry.kind]?.() ?? []),
    told(
      'languages',
      all.map((one) => tongues(list(one, 'languages'))),
      tongues(here.languages ?? []),
    ),
    told(
      'people',
      all.map((one) => people(one).slice(0, MOST_PEOPLE).join(', ')),
    ),
    told('genres', of('genres')),
    told(
      'description',
      all.map((one) => one.description),
    ),
    {
      ...told(
        'plot',
        all.map((one) => first(one, 'plot')),
      ),
      isLong: true,
    },
  ].filter((row) => row.here || row.cells.some(Boolean))
}

/** Which way a part speaks: for a candidate, half, or against it. */
export function speaks(part: Part): 'for' | 'half' | 'veto' {
  if (part.veto || part.likeness < DIFFERS) return 'veto'
  return part.likeness >= AGREES ? 'for' : 'half'
}
const RANK = { for: 0, half: 1, veto: 2 }
/** The parts of a score, those that speak for it first. */
export const weighed = (candidate: Pick<Candidate, 'parts'>): Part[] =>
  candidate.parts.toSorted((one, other) => RANK[speaks(one)] - RANK[speaks(other)])

/** What a part compares, in the words of both sides. */
export function saidOf(part: Part): string {
  if (part.here === part.there || !part.there) return part.here
  return part.name === 'tracks' || part.name === 'episode titles'
    ? part.there
    : `${part.here} / ${part.there}`
}

/** What the files say that nothing is known of on the other side: it speaks neither way. */
export function silent(match: Pick<Match, 'here' | 'entry'>, candidate: Candidate): string[] {
  if (!candidate.is_looked_at) return []
  const here = match.here as Here
  const said = new Set(candidate.parts.map((part) => part.name))
  const known: [string, unknown][] = [
    ['year', here.year],
    ['running time', match.entry.kind === 'movie' && here.seconds],
    ['artist', here.artist],
  ]
  return known.filter(([name, value]) => value && !said.has(name)).map(([name]) => name)
}
