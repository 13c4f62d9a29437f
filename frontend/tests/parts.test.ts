import { readFileSync } from 'node:fs'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import type { EntryCard, FileItem, Match, Playback } from '@/api/client'
import { partAt } from '@/composables/usePlayback'
import { usePosition, type Moment } from '@/composables/usePosition'
import { i18n } from '@/i18n'
import CoverImage from '@/parts/CoverImage.vue'
import DiffName from '@/parts/DiffName.vue'
import EntryTile from '@/parts/EntryTile.vue'
import MarkedName from '@/parts/MarkedName.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateBar from '@/parts/StateBar.vue'
import StateSign from '@/parts/StateSign.vue'
import EpisodeGrid from '@/views/catalog/EpisodeGrid.vue'
import FactList from '@/views/catalog/FactList.vue'
import ManyBar from '@/views/catalog/ManyBar.vue'
import PlanSheet from '@/views/names/PlanSheet.vue'
import YearRuler from '@/views/catalog/YearRuler.vue'
import CompareTable from '@/views/matches/CompareTable.vue'
import { api, Problem } from '@/api/client'

const router = createRouter({
  history: createMemoryHistory(),
  routes: [{ path: '/:rest(.*)*', component: { template: '<i/>' } }],
})
const global = {
  plugins: [i18n, router],
  stubs: { 'el-button': { template: '<button><slot/></button>' } },
}
const card: EntryCard = {
  id: 7,
  kind: 'movie',
  title: 'Moth Season',
  subtitle: '',
  year: 2016,
  state: 'waiting',
  moment: null,
  added_at: '2026-01-01T00:00:00Z',
  mark: null,
  seconds: null,
  lines: null,
  size_bytes: null,
  moves: false,
  picture: null,
  count: 0,
}
const file: FileItem = {
  id: 1,
  folder_id: 1,
  path: 'Moth Season (2016).mkv',
  directory: '',
  name: 'Moth Season (2016).mkv',
  kind: 'movie',
  state: 'waiting',
  size_bytes: 5,
  serves: 'main',
  media: null,
  problem: '',
  entry_id: 7,
  entry_title: 'Moth Season',
  tidy: null,
  marks: [
    { field: 'title', value: 'Moth Season', spans: [[0, 11]], rule: 'before the year' },
    { field: 'year', value: 2016, spans: [[13, 17]], rule: 'in brackets' },
  ],
}

describe('states', () => {
  it.each([
    ['settled', '●'],
    ['waiting', '◐'],
    ['name', '▲'],
    ['unseen', '○'],
    ['away', '◌'],
  ])('%s is told by a shape and by words', (state, shape) => {
    const sign = mount(StateSign, { global, props: { state } })
    expect(sign.text()).toBe(shape)
    expect(sign.attributes('aria-label')?.length).toBeGreaterThan(3)
  })
  it('a bar tells its numbers to those who do not see it', () => {
    const bar = mount(StateBar, { global, props: { states: { settled: 3, waiting: 1 } } })
    expect(bar.attributes('aria-label')).toBe('3 settled, 1 waits for a decision')
    expect(bar.findAll('i').map((part) => part.attributes('style'))).toEqual([
      'width: 75%;',
      'width: 25%;',
    ])
  })
})

describe('names', () => {
  it('are marked part by part and lose no letter', () => {
    const name = mount(MarkedName, { global, props: { path: file.path, marks: file.marks } })
    expect(name.text()).toBe(file.path)
    expect(name.find('.title').text()).toBe('Moth Season')
    expect(name.find('.time').attributes('title')).toBe('year: 2016')
  })
  it('show what goes and what comes', () => {
    const diff = mount(DiffName, {
      global,
      props: { before: 'Season 01/a.mkv', after: 'Season 02/a.mkv' },
    })
    expect(diff.find('del').text()).toBe('01')
    expect(diff.find('ins').text()).toBe('02')
  })
})

describe('tiles', () => {
  it('show a ruled card with the initial, article left out, where there is no picture', () => {
    expect(
      mount(CoverImage, {
        global,
        props: { picture: null, title: 'The Third Bell', kind: 'movie', size: 240 },
      })
        .find('i')
        .text(),
    ).toBe('T')
    expect(
      mount(CoverImage, {
        global,
        props: { picture: null, title: '夜市', kind: 'movie', size: 240 },
      })
        .find('i')
        .text(),
    ).toBe('夜')
  })
  it('lead to the page and tell what waits', () => {
    const tile = mount(EntryTile, { global, props: { entry: card } })
    expect(tile.attributes('href')).toBe('/catalog/entry/7')
    expect(tile.text()).toContain('2016')
    expect(tile.find('.sign').exists()).toBe(true)
  })
})

describe('problems', () => {
  it('say what happened and what to do', () => {
    const note = mount(ProblemNote, {
      global,
      props: { error: new Problem('source-down', 'Almanac does not answer.', 'Is it up?', 502) },
    })
    expect(note.attributes('role')).toBe('alert')
    expect(note.text()).toContain('Almanac does not answer.')
    expect(note.text()).toContain('Is it up?')
  })
})

describe('the year ruler', () => {
  function ruled(chosen: string) {
    const ruler = mount(YearRuler, {
      global,
      props: { years: { '1999': 2, '2002': 1, '2003': 4, '?': 3 }, chosen },
    })
    const scale = ruler.find('[role=slider]')
    Object.assign(scale.element, {
      getBoundingClientRect: () => ({ left: 100, width: 50, top: 0, height: 36 }),
    })
    const press = async (key: string) => {
      await scale.trigger('keydown', { key })
      return ruler.emitted('choose')?.at(-1)?.[0]
    }
    const drag = async (...at: number[]) => {
      await scale.trigger('pointerdown', { clientX: at[0] })
      for (const clientX of at) await scale.trigger('pointermove', { clientX })
      await scale.trigger('pointerup', { clientX: at.at(-1) })
      return ruler.emitted('choose')?.at(-1)?.[0]
    }
    return { ruler, scale, press, drag }
  }
  it('is one slider with a place for every year between the first and the last', () => {
    const { ruler, scale } = ruled('')
    expect(ruler.findAll('.tick').length).toBe(5)
    expect(scale.attributes()).toMatchObject({ 'aria-valuemin': '1999', 'aria-valuemax': '2003' })
    expect(scale.attributes('aria-valuetext')).toBe('All years')
    expect(ruled('2003').scale.attributes('aria-valuetext')).toBe('2003: 4')
  })
  it('goes to the year under the finger, or to the nearest one that has something', async () => {
    expect(await ruled('').drag(104)).toBe('1999')
    expect(await ruled('').drag(123)).toBe('2002')
    expect(await ruled('').drag(104, 120, 148)).toBe('2003')
    expect(await ruled('').drag(104, 400)).toBe('2003')
  })
  it('shows the year while the pointer is over it, and chooses nothing by that', async () => {
    const { ruler, scale } = ruled('')
    await scale.trigger('pointermove', { clientX: 134 })
    expect(ruler.find('.at').text()).toBe('2002: 1')
    await scale.trigger('pointerleave')
    expect(ruler.find('.at').exists()).toBe(false)
    await scale.trigger('pointerup', { clientX: 134 })
    expect(ruler.emitted('choose')).toBeUndefined()
  })
  it('lets go of the chosen year', async () => {
    expect(await ruled('1999').drag(104)).toBe('')
    expect(await ruled('2002').press('Delete')).toBe('')
  })
  it('travels by keys from year to year that has something', async () => {
    expect(await ruled('1999').press('ArrowRight')).toBe('2002')
    expect(await ruled('2003').press('ArrowRight')).toBe('2003')
    expect(await ruled('2003').press('ArrowLeft')).toBe('2002')
    expect(await ruled('').press('ArrowRight')).toBe('1999')
    expect(await ruled('').press('ArrowLeft')).toBe('2003')
    expect(await ruled('2002').press('Home')).toBe('1999')
    expect(await ruled('2002').press('End')).toBe('2003')
    expect(await ruled('2002').press('x')).toBeUndefined()
  })
})

describe('the episode grid', () => {
  const rows = [
    {
      season: 1 as number | null,
      ...{ month: '', first: 0 },
      cells: [
        { number: 1, state: 'here' as const, entry_id: 5, title: 'One', seen: false, behind: null },
        {
          number: 3,
          state: 'missing' as const,
          entry_id: null,
          title: 'Three',
          seen: false,
          behind: null,
        },
        {
          number: 4,
          state: 'twice' as const,
          entry_id: 6,
          title: 'Four',
          seen: false,
          behind: null,
        },
      ],
    },
  ]
  it('leaves a gap for what nobody knows of, and names what is missing', () => {
    const grid = mount(EpisodeGrid, { global, props: { rows } })
    const columns = grid.findAll('button').map((cell) => cell.attributes('style'))
    expect(columns.map((style) => /grid-column: (\d+)/.exec(style ?? '')?.[1])).toEqual([
      '1',
      '3',
      '4',
    ])
    expect(grid.find('button.missing').attributes('aria-label')).toBe('3 Three, missing')
    expect(grid.find('button.missing').attributes('disabled')).toBeDefined()
    expect(grid.find('button.twice').text()).toBe('2×')
  })
  it('opens an episode beside it, goes on to its neighbours by the arrow keys, and skips what is missing', async () => {
    const spy = vi.spyOn(api, 'GET').mockImplementation(() => new Promise(() => undefined) as never)
    const grid = mount(EpisodeGrid, {
      global: { ...global, plugins: [...global.plugins, [VueQueryPlugin, {}]] },
      props: { rows },
      attachTo: document.body,
    })
    await grid.find('button.here').trigger('click')
    const panel = () => grid.find('[data-test=episode-panel]')
    expect(panel().text()).toContain('One')
    expect(grid.find('button.here').attributes('aria-expanded')).toBe('true')
    const press = async (key: string) => {
      window.dispatchEvent(new KeyboardEvent('keydown', { key }))
      await flushPromises()
    }
    await press('ArrowRight')
    expect(panel().text()).toContain('Four')
    await press('ArrowRight')
    expect(panel().text()).toContain('Four')
    await press('ArrowLeft')
    expect(panel().text()).toContain('One')
    await press('Escape')
    expect(panel().exists()).toBe(false)
    expect(document.activeElement).toBe(grid.find('button.here').element)
    grid.unmount()
    spy.mockRestore()
  })
  it('says what was seen, and has a word for it only then', () => {
    const seen = [
      { ...rows[0]!, cells: rows[0]!.cells.map((cell) => ({ ...cell, seen: true, behind: null })) },
    ]
    expect(mount(EpisodeGrid, { global, props: { rows } }).text()).not.toContain('Seen')
    const grid = mount(EpisodeGrid, { global, props: { rows: seen } })
    expect(grid.text()).toContain('Seen')
    expect(grid.find('button.here').attributes('aria-label')).toBe('1 One, here, Seen')
  })
})

describe('the grid of what is not numbered by seasons', () => {
  const cell = (number: number, title: string) => ({
    ...{ number, title, state: 'here' as const, entry_id: number, seen: false, behind: null },
  })
  it('puts a dated show into months by days, two of a day as two', () => {
    const rows = [
      {
        ...{ season: 2018, month: '2018-04', first: 0 },
        cells: [cell(2, 'Ebb'), cell(2, 'Late ebb'), cell(30, 'Flow')],
      },
      { ...{ season: 2018, month: '2018-05', first: 0 }, cells: [cell(1, 'Slack')] },
    ]
    const grid = mount(EpisodeGrid, { global, props: { rows } })
    expect(grid.findAll('.season').map((label) => label.text())).toEqual(['Apr 2018', 'May 2018'])
    expect(grid.findAll('.head i')).toHaveLength(31)
    const names = grid.findAll('button').map((one) => one.attributes('aria-label'))
    expect(names).toEqual([
      ...['April 2, 2018 Ebb, here', 'April 2, 2018 Late ebb, here', 'April 30, 2018 Flow, here'],
      'May 1, 2018 Slack, here',
    ])
  })
  it('puts running numbers into rows of ten', () => {
    const rows = [
      { ...{ season: null, month: '', first: 1 }, cells: [cell(9, 'Nine'), cell(10, 'Ten')] },
      { ...{ season: null, month: '', first: 11 }, cells: [cell(12, 'Twelve')] },
    ]
    const grid = mount(EpisodeGrid, { global, props: { rows } })
    expect(grid.findAll('.season').map((label) => label.text())).toEqual(['1–10', '11–20'])
    const columns = grid.findAll('button').map((one) => one.attributes('style'))
    expect(columns.map((style) => /grid-column: (\d+)/.exec(style ?? '')?.[1])).toEqual([
      '9',
      '10',
      '2',
    ])
  })
})

describe('marks on a tile', () => {
  const mark = {
    seen: false,
    favourite: false,
    rating: null,
    tags: [],
    note: '',
    share: 0,
    position_seconds: null,
  }
  const tile = (mine: EntryCard['mark']) =>
    mount(EntryTile, { global, props: { entry: { ...card, mark: mine } } })
  it('are not there where there is none', () => {
    expect(tile(null).find('.share').exists()).toBe(false)
    expect(tile(mark).text()).not.toContain('Seen')
  })
  it('tell how far one came, what was seen and what one likes', () => {
    const begun = tile({ ...mark, share: 0.25, position_seconds: 1500 })
    expect(begun.find('.share').attributes('aria-label')).toBe('25 % played')
    expect(begun.find('.share i').attributes('style')).toContain('25%')
    const done = tile({ ...mark, seen: true, favourite: true })
    expect(done.text()).toContain('Seen')
    expect(done.find('.fond').exists()).toBe(true)
  })
})

describe('the position in playing', () => {
  const sent: unknown[] = []
  function position(now: () => Moment | undefined) {
    let made: ReturnType<typeof usePosition> | undefined
    const Holder = defineComponent({
      setup() {
        made = usePosition(now)
        return () => null
      },
    })
    mount(Holder, { global: { ...global, plugins: [...global.plugins, VueQueryPlugin] } })
    return made!
  }
  beforeEach(() => {
    sent.length = 0
    vi.spyOn(api, 'POST').mockImplementation(((_path: string, asked: { body: unknown }) => {
      sent.push(asked.body)
      return Promise.resolve({ data: { came: 'kept' } })
    }) as never)
  })
  afterEach(() => vi.restoreAllMocks())
  it('is not kept before one knows where one is', () => {
    const at = position(() => undefined)
    at.move()
    at.keep()
    at.stop()
    expect(sent).toEqual([])
  })
  it('is kept every ten seconds and when one leaves', () => {
    const moment = { entryId: 7, seconds: 0, duration: 6000, audio: false }
    const at = position(() => moment)
    for (const second of [0, 1, 5, 9.9, 10.1, 15, 19, 20.2]) {
      moment.seconds = second
      at.move()
    }
    expect(sent).toEqual([10.1, 20.2].map((seconds) => ({ seconds, duration_seconds: 6000 })))
    moment.seconds = 24
    at.stop()
    expect(sent).toHaveLength(3)
  })
  it('begins anew with the next thing', () => {
    const moment = { entryId: 7, seconds: 4000, duration: 6000, audio: false }
    const at = position(() => moment)
    at.move()
    moment.entryId = 8
    moment.seconds = 3
    at.move()
    expect(sent).toEqual([])
  })
  it('is not kept of songs and of what has no length', () => {
    for (const [audio, duration] of [
      [true, 200],
      [false, Infinity],
      [false, 0],
    ] as const) {
      const moment = { entryId: 7, seconds: 0, duration, audio }
      const at = position(() => moment)
      at.move()
      moment.seconds = 60
      at.move()
    }
    expect(sent).toEqual([])
  })
})

describe('the part of a film that holds a moment', () => {
  const parts = [
    { file_id: 5, start_seconds: 0, duration_seconds: 100 },
    { file_id: 6, start_seconds: 100, duration_seconds: 50 },
  ]
  it('is the last that has begun', () => {
    const what = { parts } as Playback
    expect([0, 99.9, 100, 149, 900].map((at) => partAt(what, at)?.file_id)).toEqual([5, 5, 6, 6, 6])
    expect(partAt({ parts: [] as Playback['parts'] } as Playback, 3)).toBeUndefined()
  })
})

describe('facts', () => {
  it('tell their origins when asked', async () => {
    const list = mount(FactList, {
      global: { ...global, plugins: [...global.plugins, VueQueryPlugin] },
      props: {
        entryId: 1,
        editable: ['year', 'plot'],
        changes: [],
        facts: [
          {
            field: 'year',
            shown: { value: 2016, origin: 'source:Almanac', at: null, locked: false },
            others: [{ value: 2015, origin: 'name', at: null, locked: false }],
          },
        ],
      },
    })
    expect(list.text()).not.toContain('Almanac')
    await list.find('button').trigger('click')
    expect(list.text()).toContain('from Almanac')
    expect(list.text()).toContain('2015')
    await list.find('.pen').trigger('click')
    expect(list.find<HTMLInputElement>('.edit input').element.value).toBe('2016')
  })
})

describe('the comparison', () => {
  const match: Match = {
    entry: card,
    library: 'Films',
    note: '',
    taken: 'f1',
    picture: null,
    frame: null,
    files: [file],
    here: { title: 'Moth Season', year: 2016, seconds: 6420 },
    candidates: [
      {
        id: 1,
        external_id: 'f1',
        source: 'Almanac',
        name: 'Moth Season',
        description: 'Film, 2016',
        score: 0.9,
        parts: [{ name: 'title', likeness: 1, weight: 5, here: '', there: '', veto: false }],
        fields: { date: ['2016-01-01'], runtime: [6420] },
        is_looked_at: true,
      },
      {
        id: 2,
        external_id: 'f2',
        source: 'Almanac',
        name: 'Moth Seasons',
        description: 'Film, 1999',
        score: 0.5,
        parts: [{ name: 'year', likeness: 0, weight: 3, here: '', there: '', veto: true }],
        fields: {},
        is_looked_at: false,
      },
    ],
    apart: [{ name: 'Moth Season', description: 'a band', type: 'Band', source: 'Almanac' }],
  }
  it('marks only what differs, row by row', () => {
    const table = mount(CompareTable, { global, props: { match, busy: false, taken: null } })
    expect(table.findAll('td.differs').map((cell) => cell.text())).toEqual([
      '≠Moth Seasons',
      '≠1999',
    ])
    expect(table.findAll('li.veto')).toHaveLength(1)
    expect(table.findAll('li.for').map((line) => line.text())).toEqual(['+title'])
  })
  it('shows what is of another kind apart, and what nothing is known of as silence', () => {
    const table = mount(CompareTable, { global, props: { match, busy: false, taken: null } })
    expect(table.find('.apart').text()).toContain('Moth Season Band')
    expect(table.find('.parts').text()).toContain('not known there: year, running time')
  })
  it('takes the one that is pressed', async () => {
    const table = mount(CompareTable, { global, props: { match, busy: false, taken: null } })
    await table.find('[data-test=take-2]').trigger('click')
    expect(table.emitted('take')).toEqual([[1]])
  })
  it('stamps the one that is taken already, and offers the others', () => {
    const table = mount(CompareTable, { global, props: { match, busy: false, taken: 'f1' } })
    expect(table.find('.stamp').text()).toBe('taken')
    expect(table.find('[data-test=take-1]').exists()).toBe(false)
    expect(table.find('[data-test=take-2]').exists()).toBe(true)
  })
})

describe('many at once', () => {
  const plugins = {
    plugins: [...global.plugins, VueQueryPlugin],
    stubs: { ...global.stubs, AddToList: true },
  }
  it('adds to lists, and sets single values', async () => {
    const sent: unknown[] = []
    const spy = vi
      .spyOn(api, 'POST')
      .mockImplementation(
        ((_path: string, asked: { body: unknown }) => (
          sent.push(asked.body),
          Promise.resolve({ data: { count: 2 }, response: new Response() })
        )) as never,
      )
    const bar = mount(ManyBar, {
      global: plugins,
      props: { shelf: 'films', manages: true, chosen: [3, 5], total: 9 },
    })
    await bar.find('[data-test=many-value]').setValue('Drama,  Sea ')
    await bar.find('form').trigger('submit')
    await flushPromises()
    await bar.find('select').setValue('year')
    await bar.find('[data-test=many-value]').setValue('1987')
    await bar.find('form').trigger('submit')
    await flushPromises()
    expect(sent).toEqual([
      { entry_ids: [3, 5], field: 'genres', value: ['Drama', 'Sea'], how: 'add' },
      { entry_ids: [3, 5], field: 'year', value: 1987, how: 'set' },
    ])
    spy.mockRestore()
  })
  it('does nothing while nothing is chosen', () => {
    const bar = mount(ManyBar, {
      global: plugins,
      props: { shelf: 'films', manages: true, chosen: [], total: 9 },
    })
    expect(bar.find('[data-test=many-add]').attributes('disabled')).toBeDefined()
  })
})

describe('a plan that writes', () => {
  it('says what is written where, and what is new', () => {
    const plan = {
      id: 1,
      library_id: 1,
      kind: 'write',
      title: 'Films',
      state: 'draft',
      count: 2,
      moves: [
        { folder_id: 1, before: '', after: 'Kite (1990)/poster.jpg', what: 'artwork' },
        { folder_id: 1, before: 'a/01.flac', after: 'a/01.flac', what: 'tags title year' },
      ],
      conflicts: [],
      left: [],
      folders: 0,
      bytes_to_copy: 0,
      made_at: '',
      applied_at: null,
      can_undo: false,
    }
    const sheet = mount(PlanSheet, { global, props: { plans: [plan], jobs: [], busy: false } })
    expect(sheet.findAll('.write').map((row) => row.text())).toEqual([
      'Kite (1990)/poster.jpgits picture, a new file',
      'a/01.flactags: title, year',
    ])
    expect(sheet.text()).not.toContain('New folders')
  })
})

describe('specials in the grid', () => {
  it('marks the episode behind which a special belongs, and says so of both', async () => {
    const cell = (number: number, title: string, behind: [number, number] | null = null) => ({
      ...{ number, title, state: 'here' as const, entry_id: number + 10, seen: false, behind },
    })
    const rows = [
      { ...{ season: 1, month: '', first: 0 }, cells: [cell(1, 'Ebb'), cell(2, 'Flow')] },
      { ...{ season: 0, month: '', first: 0 }, cells: [cell(3, 'Yule at sea', [1, 1])] },
    ]
    const grid = mount(EpisodeGrid, { global, props: { rows } })
    expect(grid.findAll('button').map((one) => one.attributes('aria-label'))).toEqual([
      '1 Ebb, here; then: Yule at sea',
      '2 Flow, here',
      '3 Yule at sea, here, belongs behind season 1, episode 1',
    ])
    expect(grid.findAll('.cell.then').map((one) => one.text())).toEqual(['1'])
    await grid.findAll('button')[2]!.trigger('mouseenter')
    expect(grid.find('.caption').text()).toContain('belongs behind season 1, episode 1')
  })
})

describe('words of the style sheet', () => {
  it('are none of the states, which are classes as well', () => {
    const text = readFileSync('src/style/base.css', 'utf8')
    expect(text.length).toBeGreaterThan(500)
    const classes = new Set([...text.matchAll(/\.([a-z][\w-]*)/g)].map((found) => found[1]))
    const states =
      'settled waiting name unseen none away other gone queued running done failed stopped'
    expect(states.split(' ').filter((state) => classes.has(state))).toEqual([])
  })
})
