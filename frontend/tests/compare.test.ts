import { describe, expect, it } from 'vitest'
import type { Candidate } from '@/api/client'
import {
  rowsOf,
  saidOf,
  silent,
  speaks,
  weighed,
  type Part,
  type Row,
} from '@/views/matches/compare'

const words = { minutes: (n: number) => `${n} min`, tongue: (code: string) => `<${code}>` }
const part = (name: string, likeness: number, more: Partial<Part> = {}): Part =>
  ({ name, likeness, veto: false, here: 'a', there: 'b', ...more }) as Part
const candidate = (fields: Record<string, unknown[]>, more: Partial<Candidate> = {}): Candidate =>
  ({
    id: 1,
    name: 'Kite Harbour',
    description: '',
    score: 0.9,
    parts: [],
    is_looked_at: true,
    fields,
    ...more,
  }) as unknown as Candidate
const match = (kind: string, here: Record<string, unknown>, ...candidates: Candidate[]) =>
  ({ here, candidates, entry: { kind } }) as never
const row = (rows: Row[], name: string) => rows.find((one) => one.name === name)

describe('the lines of a comparison', () => {
  it('leave out what nobody says', () =>
    expect(rowsOf(match('movie', {}, candidate({})), words).map((one) => one.name)).toEqual([
      'title',
    ]))

  it('tell where a title, a year or an artist is another, whatever the case of its letters', () => {
    const rows = rowsOf(
      match(
        'album',
        { title: 'KITE harbour', year: 2014, artist: 'Ole Rudd' },
        candidate({ date: ['2014-03-01'], artists: ['ole rudd'] }),
        candidate({ date: ['2011'], artists: ['Ole Rudd', 'Ines Brandt'] }, { name: 'Kite' }),
      ),
      words,
    )
    expect(row(rows, 'title')?.differs).toEqual([false, true])
    expect(row(rows, 'year')).toMatchObject({
      here: '2014',
      cells: ['2014', '2011'],
      differs: [false, true],
    })
    expect(row(rows, 'artist')?.differs).toEqual([false, true])
  })

  it('take a year from the description where no date is told', () => {
    const told = candidate({}, { description: 'Film, 1999, Ada Reed' })
    const untold = candidate({}, { description: 'Room 12345' })
    expect(row(rowsOf(match('movie', {}, told, untold), words), 'year')?.cells).toEqual([
      '1999',
      '',
    ])
  })

  it.each([
    [7200, 7260, false],
    [7200, 7380, false],
    [7200, 7440, true],
    [7200, 0, false],
    [0, 7440, false],
  ])('say that %i and %i seconds differ: %s', (here, there, differs) => {
    const rows = rowsOf(match('movie', { seconds: here }, candidate({ runtime: [there] })), words)
    expect(row(rows, 'minutes')?.differs ?? [false]).toEqual([differs])
  })

  it('count songs of albums and episodes of series, and nothing of films', () => {
    const counted = candidate({ tracks: [1, 2, 3], episodes: [1, 2] })
    const counts = (kind: string) => row(rowsOf(match(kind, { count: 3 }, counted), words), 'count')
    expect(counts('album')).toMatchObject({ here: '3', cells: ['3'], differs: [false] })
    expect(counts('series')).toMatchObject({ cells: ['2'], differs: [true] })
    expect(counts('movie')).toBeUndefined()
  })

  it('name languages, and three people at most, and never call them different', () => {
    const rows = rowsOf(
      match(
        'movie',
        { languages: ['de'] },
        candidate({ languages: ['en', 'fr'], directors: ['Ada'], cast: ['Ben', 'Cleo', 'Dan'] }),
      ),
      words,
    )
    expect(row(rows, 'languages')).toMatchObject({
      here: '<de>',
      cells: ['<en>, <fr>'],
      differs: [false],
    })
    expect(row(rows, 'people')?.cells).toEqual(['Ada, Ben, Cleo'])
  })
})

describe('what speaks for a candidate', () => {
  it.each([
    [part('title', 0.95), 'for'],
    [part('title', 0.9), 'for'],
    [part('title', 0.7), 'half'],
    [part('title', 0.5), 'veto'],
    [part('year', 0.95, { veto: true }), 'veto'],
  ])('is told by how like it is and by whether it rules out: %o', (one, way) =>
    expect(speaks(one)).toBe(way),
  )

  it('stands before what speaks against it', () =>
    expect(
      weighed({ parts: [part('a', 0.1), part('b', 0.7), part('c', 1)] }).map((one) => one.name),
    ).toEqual(['c', 'b', 'a']))

  it.each([
    [part('year', 1, { here: '2014', there: '2014' }), '2014'],
    [part('year', 0, { here: '2014', there: '1999' }), '2014 / 1999'],
    [part('year', 0, { here: '2014', there: '' }), '2014'],
    [part('tracks', 1, { here: '10', there: '9 of 10' }), '9 of 10'],
  ])('is said in the words of both sides: %o', (one, said) => expect(saidOf(one)).toBe(said))

  it('is silent of what only the files say, once it was looked at', () => {
    const here = { year: 2014, seconds: 7200, artist: undefined }
    const looked = candidate({}, { parts: [part('year', 1)] })
    expect(silent(match('movie', here), looked)).toEqual(['running time'])
    expect(silent(match('series', here), looked)).toEqual([])
    expect(silent(match('movie', here), { ...looked, is_looked_at: false })).toEqual([])
  })
})
