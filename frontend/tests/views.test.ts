import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import type { Component } from 'vue'
import { api, type EntryCard, type Finding, type Library, type Match } from '@/api/client'
import CatalogView from '@/views/catalog/CatalogView.vue'
import LibrarySettings from '@/views/house/LibrarySettings.vue'
import SourcesPanel from '@/views/house/SourcesPanel.vue'
import TaughtPanel from '@/views/house/TaughtPanel.vue'
import TroublesPanel from '@/views/house/TroublesPanel.vue'
import PeoplePanel from '@/views/house/PeoplePanel.vue'
import YouPanel from '@/views/house/YouPanel.vue'
import MatchesView from '@/views/matches/MatchesView.vue'
import NamesView from '@/views/names/NamesView.vue'
import CarePanel from '@/views/today/CarePanel.vue'
import { pluginsWith } from './mounting'

vi.mock('element-plus', () => ({
  ElMessage: vi.fn(),
  ElMessageBox: { confirm: () => Promise.resolve() },
  ElPopover: { template: '<div><slot name="reference"/><slot/></div>' },
  ElDialog: { props: ['modelValue'], template: '<div v-if="modelValue"><slot/></div>' },
  ElButton: { template: '<button type="button"><slot/></button>' },
  ElInput: {
    props: ['modelValue'],
    emits: ['update:modelValue'],
    template:
      '<input :value="modelValue" @input="$emit(\'update:modelValue\', $event.target.value)" />',
  },
}))
vi.mock('element-plus/es/components/message-box/style/css', () => ({}))

interface Call {
  method: string
  path: string
  body?: unknown
}
interface Asked {
  body?: unknown
  params?: { path?: Record<string, number>; query?: Record<string, unknown> }
}
const calls: Call[] = []
/** The status of who keeps the catalog. */
const KEEPER = {
  person: 'Odile',
  role: 'owner',
  manages: true,
  person_id: 1,
  age: null,
  has_pin: false,
  is_lifted: false,
  version: '0.1',
}
let answers: Record<string, unknown> = {}
let router: Router
let shown: VueWrapper | undefined

beforeEach(() => {
  calls.length = 0
  router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/catalog/:shelf', component: { template: '<i/>' } },
      { path: '/:rest(.*)*', component: { template: '<i/>' } },
    ],
  })
  for (const method of ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const)
    vi.spyOn(api, method).mockImplementation(((path: string, asked?: Asked) => {
      if (method !== 'GET') calls.push({ method, path, body: asked?.body })
      const answer = answers[`${method} ${path}`] ??
        answers[path] ??
        { '/api/going-on': { entries: [] }, '/api/lists': { lists: [] }, '/api/status': KEEPER }[
          path
        ] ?? { ok: true }
      const data =
        typeof answer === 'function' ? (answer as (asked?: Asked) => unknown)(asked) : answer
      return Promise.resolve(data).then((come) => ({ data: come, response: new Response() }))
    }) as never)
})
afterEach(() => {
  shown?.unmount()
  vi.restoreAllMocks()
})

async function show(
  view: Component,
  at: string,
  props: Record<string, unknown> = {},
): Promise<VueWrapper> {
  await router.push(at)
  shown = mount(view, {
    attachTo: document.body,
    props,
    global: {
      plugins: pluginsWith(router),
    },
  })
  await flushPromises()
  return shown
}
async function press(...keys: string[]): Promise<void> {
  for (const key of keys) {
    window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
    await flushPromises()
  }
}
const card = (id: number, title: string, state = 'waiting'): EntryCard => ({
  id,
  kind: 'album',
  title,
  subtitle: 'Mothwing',
  year: 1991,
  state,
  moment: null,
  added_at: '2026-01-01T00:00:00Z',
  picture: null,
  count: 0,
  mark: null,
  seconds: null,
  lines: null,
  size_bytes: null,
  moves: false,
})
const match = (id: number, title: string, state = 'waiting'): Match => ({
  entry: card(id, title, state),
  library: 'Music',
  note: '',
  taken: state === 'settled' ? `s${id}` : null,
  picture: null,
  frame: null,
  files: [],
  here: { title },
  candidates: [1, 2].map((n) => ({
    id: id * 10 + n,
    external_id: n === 1 ? `s${id}` : `t${id}`,
    source: 'Almanac',
    name: title,
    description: '',
    score: 0.9,
    parts: [],
    fields: {},
    is_looked_at: true,
  })),
  apart: [],
})

describe('matches', () => {
  beforeEach(() => {
    const all = [match(1, 'Porchlight'), match(2, 'Kite'), match(3, 'Ash', 'settled')]
    answers = {
      '/api/matches': { waiting: all.slice(0, 2).map((one) => one.entry), total: 2, decided: [] },
      '/api/matches/again': { entries: [all[2]!.entry] },
      '/api/entries/{entry_id}/match': (asked?: Asked) =>
        all.find((one) => one.entry.id === asked?.params?.path?.entry_id),
      '/api/sources': { sources: [] },
    }
  })
  it('a number takes, n keeps the name', async () => {
    await show(MatchesView, '/matches')
    await press('2', 'n')
    expect(calls.map((call) => call.body)).toEqual([{ candidate_id: 12 }, { candidate_id: null }])
  })
  it('a key pressed before the entry has come decides when it is there', async () => {
    const fetched = answers['/api/entries/{entry_id}/match'] as (asked?: Asked) => Match
    let come = (): void => undefined
    const late = new Promise<void>((resolve) => (come = resolve))
    answers['/api/entries/{entry_id}/match'] = (asked?: Asked) => late.then(() => fetched(asked))
    await show(MatchesView, '/matches')
    await press('2')
    expect(calls).toEqual([])
    come()
    await flushPromises()
    expect(calls.map((call) => call.body)).toEqual([{ candidate_id: 12 }])
  })
  it('what belongs together is decided together', async () => {
    const view = await show(MatchesView, '/matches')
    expect(view.findAll('.group')).toHaveLength(1)
    await press('g')
    expect(calls).toEqual([
      {
        method: 'POST',
        path: '/api/decisions',
        body: {
          choices: [
            { entry_id: 1, candidate_id: null },
            { entry_id: 2, candidate_id: null },
          ],
        },
      },
    ])
  })
  it('y says that what was taken alone is right, and nothing while one decides what waits', async () => {
    await show(MatchesView, '/matches')
    await press('y')
    expect(calls).toEqual([])
    await router.push('/matches?list=again')
    await flushPromises()
    expect(shown?.find('.candidate .stamp').text()).toBe('taken')
    await press('y')
    expect(calls.map((call) => call.path)).toEqual(['/api/entries/{entry_id}/confirm'])
  })
  it('more of a long list is fetched when it is asked for', async () => {
    const first = answers['/api/matches'] as object
    answers['/api/matches'] = (asked?: Asked) =>
      asked?.params?.query?.after === 2
        ? { waiting: [card(5, 'Ebb')], total: 3, decided: [] }
        : { ...first, total: 3 }
    const view = await show(MatchesView, '/matches')
    expect(view.findAll('.item')).toHaveLength(2)
    await view.find('[data-test=more]').trigger('click')
    await flushPromises()
    expect(view.findAll('.item').map((item) => item.text())).toContainEqual(
      expect.stringContaining('Ebb'),
    )
    expect(view.find('[data-test=more]').exists()).toBe(false)
  })
  it('who looks is told more of candidates of which only the name is known', async () => {
    vi.useFakeTimers()
    const shy = match(1, 'Porchlight')
    shy.candidates[1]!.is_looked_at = false
    answers['/api/entries/{entry_id}/match'] = () => shy
    await show(MatchesView, '/matches')
    expect(calls).toEqual([])
    await vi.advanceTimersByTimeAsync(600)
    expect(calls.map((call) => call.path)).toEqual(['/api/entries/{entry_id}/look'])
    vi.useRealTimers()
  })
  it('keys do nothing while somebody types', async () => {
    const view = await show(MatchesView, '/matches')
    await press('/')
    const box = view.find<HTMLInputElement>('.words input')
    box.element.dispatchEvent(new KeyboardEvent('keydown', { key: '1', bubbles: true }))
    await flushPromises()
    expect(calls).toEqual([])
    await box.setValue('Other words')
    await view.find('.words').trigger('submit')
    await flushPromises()
    expect(calls.map((call) => call.body)).toEqual([{ words: 'Other words', source: null }])
  })
})

describe('the settings of a library', () => {
  const library: Library = {
    id: 4,
    name: 'Films',
    kind: 'movies',
    language: 'en',
    country: '',
    sources: [],
    own_first: [],
    writes: [],
    convention: 'Roomy',
    checks: {},
    folders: [],
    scanned_at: null,
    schedule: '',
    states: {},
    size_bytes: 0,
  }
  const sources = ['First', 'Second', 'Third'].map((name, id) => ({
    id,
    name,
    url: '',
    problem: '',
    has_key: false,
    checked_at: null,
    unknown_fields: [],
    profile: '',
  }))
  it('put the sources in order, and leave some out', async () => {
    answers = { '/api/sources': { sources } }
    const view = await show(LibrarySettings, '/house', { library })
    await view.findAll('li .link')[1]!.trigger('click')
    expect(view.findAll('li label').map((label) => label.text())).toEqual([
      'First',
      'Third',
      'Second',
    ])
    await view.findAll<HTMLInputElement>('li input')[0]!.setValue(false)
    await view.find('input[value=plot]').setValue(true)
    await view.find('form').trigger('submit')
    await flushPromises()
    expect(calls[0]?.body).toEqual({
      name: 'Films',
      language: 'en',
      country: '',
      sources: ['Third', 'Second'],
      own_first: ['plot'],
      schedule: '',
      writes: [],
    })
  })
  it('show what would be written only when something may be', async () => {
    answers = {
      '/api/sources': { sources },
      'POST /api/plans/writing': {
        id: 1,
        library_id: 4,
        kind: 'write',
        title: 'Films',
        state: 'draft',
        count: 0,
        moves: [],
        conflicts: [],
        left: [],
        folders: 0,
        bytes_to_copy: 0,
        made_at: '',
        applied_at: null,
        can_undo: false,
      },
    }
    const view = await show(LibrarySettings, '/house', { library })
    expect(view.find('[data-test=draft-writing]').exists()).toBe(false)
    expect(view.find('[data-test=write-tags]').exists()).toBe(false)
    await view.find('[data-test=write-facts]').setValue(true)
    await view.find('[data-test=draft-writing]').trigger('click')
    await flushPromises()
    expect(calls.map((call) => call.path)).toEqual([
      '/api/libraries/{library_id}',
      '/api/plans/writing',
    ])
    expect(view.text()).toContain('There is nothing to write.')
  })
})

describe('sources', () => {
  it('a manifest fills in the profile', async () => {
    answers = {
      '/api/sources': { sources: [] },
      'POST /api/sources/look': {
        name: 'Almanac',
        versions: ['0.2'],
        batch_size: 40,
        wants_key: true,
        types: [],
        properties: { Film: [{ id: 'title', name: 'title' }] },
        profile: 'name = "Almanac"',
      },
    }
    const view = await show(SourcesPanel, '/house')
    await view.find('.head button').trigger('click')
    await view.find('[data-test=source-url]').setValue('http://127.0.0.1:7801/')
    await view.find('[data-test=source-look]').trigger('click')
    await flushPromises()
    expect(view.find('.seen').text()).toContain('It wants a key.')
    expect(view.find<HTMLInputElement>('[data-test=source-profile]').element.value).toBe(
      'name = "Almanac"',
    )
  })
})

describe('what was taught', () => {
  it('names what names mean, and forgets it', async () => {
    answers = {
      '/api/taught': { taught: [] },
      '/api/aliases': {
        aliases: [
          {
            id: 8,
            kind: 'movie',
            name: 'Dust Oprea (1971)',
            title: 'Dust Opera',
            source: 'Almanac',
            at: '2026-01-01T00:00:00Z',
          },
          {
            id: 9,
            kind: 'movie',
            name: 'Ours',
            title: 'Ours',
            source: '',
            at: '2026-01-01T00:00:00Z',
          },
        ],
      },
    }
    const view = await show(TaughtPanel, '/house')
    expect(view.findAll('b').map((b) => b.text())).toEqual([
      '“Dust Oprea (1971)” means “Dust Opera”',
      'no source knows “Ours”',
    ])
    await view.findAll('.link')[1]!.trigger('click')
    expect(calls.map((call) => call.path)).toEqual(['/api/aliases/{alias_id}'])
  })
})

describe('several at once', () => {
  it.each(['films', 'music', 'photos'])(
    'are picked on the shelf of %s instead of opened',
    async (shelf) => {
      const kind = { films: 'movie', music: 'album', photos: 'photo' }[shelf]!
      const entries = [1, 2, 3].map((id) => ({
        ...card(id, `T${id}`, 'settled'),
        kind,
        moment: `2019-07-0${4 - id}`,
      }))
      answers = {
        '/api/shelves/{shelf}': { entries, following: null },
        '/api/shelves/{shelf}/ruler': { steps: { '2019': 3 }, total: 3 },
        'POST /api/entries/facts': { count: 2 },
      }
      const view = await show(CatalogView, `/catalog/${shelf}`)
      await view.find('[data-test=pick]').trigger('click')
      const things = view.findAll(shelf === 'photos' ? '.shot' : '.tile')
      await things[0]!.trigger('click')
      await things[2]!.trigger('click', { shiftKey: true })
      await things[1]!.trigger('click')
      await view.find('[data-test=many-value]').setValue('Harbour')
      await view.find('.many').trigger('submit')
      await flushPromises()
      const sent = calls[0]?.body as { entry_ids: number[]; value: string[] }
      expect([sent.entry_ids.toSorted(), sent.value]).toEqual([[1, 3], ['Harbour']])
      expect(router.currentRoute.value.path).toBe(`/catalog/${shelf}`)
    },
  )
})

describe('a long shelf', () => {
  beforeEach(() => {
    const page = (from: number): EntryCard[] =>
      Array.from({ length: 120 }, (_, at) => ({
        ...card(from + at, `T${from + at}`, 'settled'),
        kind: 'movie',
      }))
    answers = {
      '/api/shelves/{shelf}': (asked?: Asked) =>
        asked?.params?.query?.after
          ? { entries: page(120), following: null }
          : { entries: page(0), following: 'on' },
      '/api/shelves/{shelf}/ruler': { steps: { '1990': 200, '1991': 40 }, total: 240 },
      '/api/shelves/{shelf}/ids': { ids: Array.from({ length: 240 }, (_, id) => id) },
    }
  })
  it('shows the first page, and keeps a place for the next one', async () => {
    const view = await show(CatalogView, '/catalog/films')
    expect(view.findAll('.tile')).toHaveLength(120)
    expect(view.findAll('.block')).toHaveLength(2)
    expect(view.find('.top').text()).toContain('240')
  })
  it('takes all that match, also those that were never shown', async () => {
    const view = await show(CatalogView, '/catalog/films')
    await view.find('[data-test=pick]').trigger('click')
    await view.findAll('.many .link')[0]!.trigger('click')
    await flushPromises()
    expect(view.find('.many').text()).toContain('240')
  })
  it('counts what is of the year that was chosen', async () => {
    const view = await show(CatalogView, '/catalog/films?year=1991')
    expect(view.find('.top > .mono').text()).toBe('40')
  })
})

describe('names', () => {
  const finding = (id: number, check: string, after: string): Finding => ({
    id,
    check,
    severity: 'advice',
    library_id: 1,
    path: 'a.b.mkv',
    message: `said by ${check}`,
    fix: after,
    fix_kind: 'safe',
    missing: [],
    moves: [{ before: 'a.b.mkv', after }],
  })
  it('show one file with one cure as one row with both reasons, and accept both', async () => {
    const check = (slug: string) => ({
      slug,
      title: slug,
      severity: 'advice',
      why: '',
      before: '',
      after: '',
      looks_at: '',
      count: 1,
    })
    answers = {
      '/api/findings': {
        checks: [check('loose'), check('words')],
        libraries: { 1: 2 },
        since: { 1: 1 },
        total: 2,
        safe: 0,
        findings: [finding(1, 'loose', 'A/A.mkv'), finding(2, 'words', 'A/A.mkv')],
      },
      '/api/libraries': { libraries: [{ id: 1, name: 'Films', folders: [] }] },
      '/api/jobs': { jobs: [] },
      '/api/plans': { id: 1, moves: [], conflicts: [], left: [] },
    }
    const view = await show(NamesView, '/names')
    expect(view.findAll('.finding')).toHaveLength(1)
    expect(view.find('.finding').text()).toContain('said by loose')
    expect(view.find('.finding').text()).toContain('said by words')
    await press('a')
    await press('Enter')
    expect(calls.map((call) => (call.body as { findings: number[] }).findings)).toEqual([[1, 2]])
  })
  it('accept all that is safe, also what is not shown, and nothing that was skipped', async () => {
    answers = {
      '/api/findings': {
        checks: [],
        libraries: { 1: 900, 2: 1 },
        since: { 1: 1, 2: 1 },
        total: 901,
        safe: 901,
        findings: [
          finding(1, 'loose', 'A/A.mkv'),
          { ...finding(2, 'words', 'B.mkv'), path: 'b.mkv' },
        ],
      },
      '/api/findings/safe': { findings: { 1: [1, 2, 700], 2: [800] } },
      '/api/libraries': { libraries: [{ id: 1, name: 'Films', folders: [] }] },
      '/api/jobs': { jobs: [] },
      '/api/plans': { id: 1, moves: [], conflicts: [], left: [] },
    }
    const view = await show(NamesView, '/names')
    expect(view.text()).toContain('901')
    await press('s')
    expect(view.text()).toContain('900')
    let come: () => void = () => undefined
    const late = new Promise<void>((resolve) => (come = resolve))
    const safe = answers['/api/findings/safe']
    answers['/api/findings/safe'] = () => late.then(() => safe)
    await press('A')
    await press('Enter')
    expect(calls).toEqual([])
    come()
    await flushPromises()
    const asked = calls.map((call) => call.body as { library_id: number; findings: number[] })
    expect(asked.map(({ library_id, findings }) => [library_id, findings])).toEqual([
      [1, [2, 700]],
      [2, [800]],
    ])
  })
  it('make no plan of less than was asked for, and say why', async () => {
    answers = {
      '/api/findings': {
        checks: [],
        libraries: { 1: 900 },
        since: { 1: 5000, 2: 5000 },
        total: 900,
        safe: 900,
        findings: [finding(5001, 'loose', 'A/A.mkv')],
      },
      '/api/findings/safe': () => Promise.reject(new TypeError('no network')),
      '/api/libraries': { libraries: [{ id: 1, name: 'Films', folders: [] }] },
      '/api/jobs': { jobs: [] },
      '/api/plans': { id: 1, moves: [], conflicts: [], left: [] },
    }
    const view = await show(NamesView, '/names')
    await press('a')
    await press('A')
    await press('Enter')
    await flushPromises()
    expect(calls).toEqual([])
    expect(view.get('[role=alert]').text()).toContain('Indice does not answer')
    await press('Enter')
    await flushPromises()
    expect(calls.map((call) => (call.body as { findings: number[] }).findings)).toEqual([[5001]])
  })
})

describe('People', () => {
  const libraries = [
    { id: 3, name: 'Films' },
    { id: 4, name: 'Series' },
  ] as Library[]
  const person = (more: object) => ({
    id: 1,
    name: 'Odile',
    role: 'owner',
    libraries: [],
    downloads: true,
    age: null,
    unrated: 'hide',
    has_pin: false,
    seen_at: null,
    ...more,
  })
  it('tells what is given to whom, and changes it', async () => {
    const nell = person({ id: 2, name: 'Nell', role: 'member', libraries: [3], age: 10 })
    answers = { '/api/people': { people: [person({}), nell] }, '/api/people/{person_id}': nell }
    const view = await show(PeoplePanel, '/house', { libraries })
    const rows = view.findAll('.person').map((row) => row.text())
    expect(rows[0]).toContain('everything')
    expect(rows[1]).toContain('Films')
    expect(rows[1]).toContain('up to 10')
    await view.findAll('.person')[1]!.find('.link').trigger('click')
    await view.findAll('input[type=checkbox]')[1]!.setValue(true)
    await view.find('form').trigger('submit')
    await flushPromises()
    expect(calls[0]).toMatchObject({ method: 'PUT', path: '/api/people/{person_id}' })
    expect(calls[0]?.body).toEqual({
      name: 'Nell',
      role: 'member',
      libraries: ['Films', 'Series'],
      downloads: true,
      age: 10,
      shares: false,
      tidies: false,
      most_streams: null,
      away_kbps: null,
      unrated: 'hide',
      password: null,
      pin: null,
    })
  })
  it('takes nobody in without a name and a password', async () => {
    answers = { '/api/people': { people: [] } }
    const view = await show(PeoplePanel, '/house', { libraries })
    await view.find('[data-test=add-person]').trigger('click')
    const ready = () => view.find('[data-test=save-person]').attributes('disabled') === undefined
    expect(ready()).toBe(false)
    await view.find('[name=person]').setValue('Nell')
    await view.find('[name=person-password]').setValue('short')
    expect(ready()).toBe(false)
    await view.find('[name=person-password]').setValue('long enough')
    expect(ready()).toBe(true)
  })
})

describe('House, you', () => {
  it('lifts an age limit by the PIN', async () => {
    answers = {
      '/api/sessions': { sessions: [] },
      '/api/status': { ...KEEPER, role: 'member', manages: false, age: 10, has_pin: true },
    }
    const view = await show(YouPanel, '/you')
    await view.find('.pin input').setValue('4711')
    await view.find('.pin').trigger('submit')
    await flushPromises()
    expect(calls[0]).toEqual({ method: 'POST', path: '/api/pin', body: { pin: '4711' } })
  })
  it('shows where one is signed in, ends a session, and changes the password', async () => {
    const session = (id: number, isThis: boolean) => ({
      id,
      device: 'Mozilla/5.0 (X11; Linux) Firefox/140',
      address: `192.168.7.${id}`,
      is_this: isThis,
      created_at: '2026-01-01T00:00:00Z',
      seen_at: '2026-01-02T00:00:00Z',
    })
    answers = {
      '/api/sessions': { sessions: [session(1, true), session(2, false)] },
      '/api/status': KEEPER,
    }
    const view = await show(YouPanel, '/house')
    expect(view.text()).toContain('192.168.7.2')
    const ends = view.findAll('button').filter((button) => button.text() === 'Sign out there')
    expect(ends).toHaveLength(1)
    await ends[0]!.trigger('click')
    await flushPromises()
    expect(calls).toEqual([
      { method: 'DELETE', path: '/api/sessions/{session_id}', body: undefined },
    ])
    await view
      .findAll('button')
      .find((button) => button.text() === 'Change the password')!
      .trigger('click')
    const [old, fresh] = view.findAll('input')
    await old!.setValue('tidewrack 9')
    await fresh!.setValue('kelp and sand')
    await view.find('form').trigger('submit')
    await flushPromises()
    expect(calls.at(-1)).toEqual({
      method: 'POST',
      path: '/api/password',
      body: { old: 'tidewrack 9', new: 'kelp and sand' },
    })
    expect(view.find('form').exists()).toBe(false)
  })
  it('says nothing of processes while all is well, and names what was started again', async () => {
    answers = { '/api/troubles': { troubles: [] } }
    expect((await show(TroublesPanel, '/house')).text()).toBe('')
    answers = {
      '/api/troubles': {
        troubles: [
          { name: 'worker', at: '2026-01-01T00:00:00Z', what: 'ended on its own (by signal 9)' },
        ],
      },
    }
    expect((await show(TroublesPanel, '/house')).text()).toContain('Worker')
  })
})

describe('Today, please look', () => {
  it('asks what it means that files vanished, and tells who was guessed at', async () => {
    const view = await show(CarePanel, '/today', {
      absences: [{ library_id: 4, folder: '/mnt/films', files: 430 }],
      newcomers: [
        { person: 'Nell', device: '', address: '203.0.113.9', at: '2026-01-02T03:04:05Z' },
      ],
      guesses: [
        { name: 'odile', address: '192.168.7.9', wrong: 7, at: '2026-01-01T00:00:00Z' },
        { name: '', address: '192.168.7.9', wrong: 21, at: '2026-01-01T00:00:00Z' },
      ],
    })
    expect(view.text()).toContain('430 files are not there any more')
    expect(view.text()).toContain('the password of odile: 7 wrong ones')
    expect(view.text()).toContain('many names and passwords: 21 wrong ones')
    await view
      .findAll('button')
      .find((button) => button.text() === 'They are gone for good')!
      .trigger('click')
    await flushPromises()
    expect(calls).toEqual([
      { method: 'POST', path: '/api/libraries/{library_id}/away', body: { gone: true } },
    ])
  })
  it('is not there when there is nothing to say', async () => {
    expect(
      (await show(CarePanel, '/today', { absences: [], guesses: [], newcomers: [] })).text(),
    ).toBe('')
  })
})
