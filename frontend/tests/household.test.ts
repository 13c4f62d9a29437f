import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { at, byLink, comeBy, playPage, type Entry, type EntryCard } from '@/api/client'
import AddToList from '@/parts/AddToList.vue'
import ShareSheet from '@/parts/ShareSheet.vue'
import LookFace from '@/views/catalog/LookFace.vue'
import LookMore from '@/views/catalog/LookMore.vue'
import NarrowBar from '@/views/catalog/NarrowBar.vue'
import SeenBy from '@/views/catalog/SeenBy.vue'
import LooksPanel from '@/views/house/LooksPanel.vue'
import WatchedRow from '@/views/house/WatchedRow.vue'
import AwayPanel from '@/views/house/AwayPanel.vue'
import DeedsPanel from '@/views/house/DeedsPanel.vue'
import SharesPanel from '@/views/house/SharesPanel.vue'
import TokensPanel from '@/views/house/TokensPanel.vue'
import ListView from '@/views/lists/ListView.vue'
import ListsView from '@/views/lists/ListsView.vue'
import SharedView from '@/views/shared/SharedView.vue'
import CodeView from '@/views/welcome/CodeView.vue'
import { answerAs, pluginsWith, type Asked, type Call } from './mounting'

vi.mock('element-plus', () => ({
  ElMessage: vi.fn(),
  ElMessageBox: { confirm: () => Promise.resolve() },
  ElPopover: { template: '<div><slot name="reference"/><slot/></div>' },
  ElDialog: { props: ['modelValue'], template: '<div v-if="modelValue"><slot/></div>' },
  ElButton: { template: '<button><slot/></button>' },
  ElInput: {
    props: ['modelValue'],
    emits: ['update:modelValue'],
    template:
      '<input :value="modelValue" @input="$emit(\'update:modelValue\', $event.target.value)" />',
  },
}))
vi.mock('element-plus/es/components/message-box/style/css', () => ({}))

let calls: Call[] = []
let answers: Record<string, unknown> = {}
let router: Router
let shown: VueWrapper | undefined
const STATUS = { person: 'Odile', role: 'owner', manages: true, age: null, language: 'en' }

beforeEach(() => {
  answers = {}
  router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/catalog/list/:id', component: { template: '<i/>' } },
      { path: '/s/:share', component: { template: '<i/>' } },
      { path: '/code/:code?', component: { template: '<i/>' } },
      { path: '/:rest(.*)*', component: { template: '<i/>' } },
    ],
  })
  calls = answerAs(() => ({ '/api/status': STATUS, ...answers })).changes
})
afterEach(() => {
  shown?.unmount()
  comeBy('')
  vi.restoreAllMocks()
})

async function show(view: Component, path = '/', props: object = {}): Promise<VueWrapper> {
  await router.push(path)
  shown = mount(view, {
    props,
    global: { plugins: pluginsWith(router) },
    attachTo: document.body,
  })
  await flushPromises()
  return shown
}

function card(id: number, title: string, kind = 'movie', more: object = {}): EntryCard {
  return {
    ...{ id, kind, title, subtitle: '', year: 1987, state: 'settled', moment: null },
    ...{ added_at: '2026-01-01T00:00:00Z', picture: null, count: 0, mark: null },
    ...more,
  } as EntryCard
}
function entry(more: object = {}): Entry {
  return {
    card: card(7, 'Moth Season'),
    ...{ credits: [], versions: [], related: [], parents: [], children: [], grid: [], facts: [] },
    ...{ backdrop: null, plays: [], shot: null, cell: '', is_kept: false },
    ...more,
  } as unknown as Entry
}
const fact = (field: string, value: unknown) => ({ field, value })

describe('where one has come by', () => {
  it('is the household itself, or the place of a share', () => {
    expect([byLink(), at('pictures/a/240'), playPage(3)]).toEqual([
      false,
      '/api/pictures/a/240',
      '/play/3',
    ])
    comeBy('KEY')
    expect([byLink(), at('pictures/a/240'), playPage(3)]).toEqual([
      true,
      '/api/shared/KEY/pictures/a/240',
      '/s/KEY/play/3',
    ])
  })
})

describe('the face that the household sees', () => {
  it('says each thing once: when, how long, for whom, by whom', async () => {
    answers = {
      '/api/lists': { lists: [] },
      '/api/shares': { shares: [], may_share: false, intakes: [] },
    }
    const page = await show(LookFace, '/', {
      entry: entry({
        facts: [
          fact('title', 'Moth Season'),
          fact('year', 1987),
          fact('runtime', 6660),
          fact('rating', '12 (AT)'),
          fact('certificates', ['AT: 12']),
          fact('genres', ['Drama']),
          fact('directors', ['Petra Quill']),
          fact('date', '1987-03-02'),
          fact('countries', ['AT']),
        ],
        plays: [{ file_id: 1, label: 'x', entry_id: 7, seconds: 6660, extra: false }],
        versions: [{ file_id: 1, seconds: 6660, sounds: [], texts: [] }],
        credits: [{ name: 'Vera Kost', field: 'cast' }],
      }),
    })
    expect(page.findAll('.column span').map((one) => one.text())).toEqual([
      '1987',
      '111 min',
      'from 12',
    ])
    expect(page.findAll('.leads a').map((one) => one.text())).toEqual(['Drama', 'Petra Quill'])
    expect(page.findAll('dt').map((one) => one.text())).toEqual(['country'])
    expect(page.find('.people').text()).toContain('Vera Kost')
    expect(page.find('[data-test=share]').exists()).toBe(false)
  })
  it('goes on where one stopped, and says what is left', async () => {
    answers = {
      '/api/lists': { lists: [] },
      '/api/shares': { shares: [], may_share: true, intakes: [] },
    }
    const mark = {
      seen: false,
      favourite: false,
      rating: null,
      tags: [],
      note: '',
      share: 0.5,
      position_seconds: 3600,
    }
    const page = await show(LookFace, '/', {
      entry: entry({
        card: card(7, 'Moth Season', 'movie', { mark }),
        plays: [{ file_id: 1, label: 'x', entry_id: 7, seconds: 6660, extra: false }],
        versions: [{ file_id: 1, seconds: 6660, sounds: [], texts: [] }],
      }),
    })
    expect(page.find('[data-test=play]').text()).toMatch(/Go on at 1:00:00.*51 min left/)
    await page.find('[data-test=from-start]').trigger('click')
    await flushPromises()
    expect(router.currentRoute.value.fullPath).toBe('/play/7?from=0')
  })
  it('tells versions in words, and what is related with its reason', async () => {
    const sound = { codec: 'ac3', channels: 6, language: 'deu' }
    const version = {
      ...{
        file_id: 1,
        edition: '',
        part: null,
        width: 1920,
        height: 1080,
        codec: 'hevc',
        hdr: true,
      },
      ...{ sounds: [sound], texts: ['eng'], seconds: 6000, is_there: true },
    }
    const page = await show(LookMore, '/', {
      entry: entry({
        versions: [version],
        plays: [{ file_id: 2, label: 'Trailer', entry_id: 7, seconds: 90, extra: true }],
        related: [
          {
            entry: card(9, 'Tin Orchard'),
            why: [
              { name: 'Vera Kost', field: 'cast' },
              { name: 'Drama', field: 'genres' },
            ],
          },
        ],
      }),
    })
    expect(page.find('.row').text()).toMatch(
      /1080p.*HEVC, HDR, German 5\.1.*subtitles English.*100 min/,
    )
    expect(page.find('.row.extra').text()).toMatch(/Trailer.*1:30/)
    expect(page.find('.related').text()).toMatch(/Tin Orchard.*Vera Kost, Drama/)
  })
  it('says how long a version is where that is not said of the work already', async () => {
    const facts = [{ field: 'runtime', value: 6010 }]
    const version = { file_id: 1, codec: 'hevc', sounds: [], texts: [], is_there: true }
    const lengths = async (...seconds: number[]) => {
      const versions = seconds.map((length) => ({ ...version, seconds: length }))
      const page = await show(LookMore, '/', { entry: entry({ facts, versions }) })
      return page.findAll('.row .mono').map((one) => one.text())
    }
    expect(await lengths(6000)).toEqual([''])
    expect(await lengths(6300)).toEqual(['105 min'])
    expect(await lengths(6000, 6300)).toEqual(['100 min', '105 min'])
    expect(await lengths(95)).toEqual(['1:35'])
  })
  it('tells the owner who does not see it, and why', async () => {
    answers = {
      '/api/entries/{entry_id}/seen-by': {
        age: 16,
        seers: [
          { person_id: 1, name: 'Odile', role: 'owner', hidden_by: '' },
          { person_id: 2, name: 'Nell', role: 'member', hidden_by: 'age' },
          { person_id: 3, name: 'Ivo', role: 'guest', hidden_by: '' },
        ],
      },
    }
    const said = (await show(SeenBy, '/', { entryId: 7 })).text()
    expect(said).toMatch(/Nell.*it is from 16.*Ivo.*sees it/)
    expect(said).not.toContain('Odile')
  })
})

describe('narrowing down', () => {
  const groups = [
    {
      name: 'genre',
      has_more: false,
      traits: Array.from({ length: 10 }, (_, n) => ({ value: `G${n}`, label: '', count: 10 - n })),
    },
    { name: 'decade', has_more: false, traits: [{ value: '1990', label: '', count: 3 }] },
    { name: 'sound', has_more: false, traits: [{ value: 'deu', label: '', count: 2 }] },
    { name: 'library', has_more: false, traits: [{ value: '4', label: 'Films of Ivo', count: 1 }] },
  ]
  const props = { shelf: 'films', traits: '', year: '', until: '', words: '' }
  it('asks for counts when it is opened, and chooses by a tick', async () => {
    answers = { '/api/shelves/{shelf}/traits': { groups, is_settled: true } }
    const bar = await show(NarrowBar, '/', props)
    expect(bar.find('[data-test=narrow-panel]').exists()).toBe(false)
    await bar.find('[data-test=narrow]').trigger('click')
    await flushPromises()
    const said = bar.find('[data-test=narrow-panel]').text()
    expect(said).toMatch(/1990–1999.*German.*Films of Ivo/)
    expect(bar.findAll('fieldset')[0]!.findAll('label')).toHaveLength(8)
    await bar.find('fieldset .link').trigger('click')
    expect(bar.findAll('fieldset')[0]!.findAll('label')).toHaveLength(10)
    await bar.findAll('input')[1]!.trigger('change')
    expect(bar.emitted('choose')).toEqual([['genre:G1']])
  })
  it('finds who is in it by their letters, and asks for them only when opened', async () => {
    const asked = vi.fn(() => ({ name: 'cast', traits: names, has_more: true }))
    const names = ['Ada Quill', 'Bo Tarn'].map((value) => ({ value, label: '', count: 2 }))
    answers = {
      '/api/shelves/{shelf}/traits': {
        groups: [{ name: 'cast', traits: [], has_more: true }],
        is_settled: true,
      },
      '/api/shelves/{shelf}/traits/{group}': asked,
    }
    const bar = await show(NarrowBar, '/', { ...props, traits: 'cast:Bo Tarn' })
    expect(asked).not.toHaveBeenCalled()
    await bar.find('[data-test=narrow]').trigger('click')
    await flushPromises()
    const ticks = bar.findAll('[data-test=narrow-cast] [type=checkbox]')
    expect(ticks.map((one) => (one.element as HTMLInputElement).checked)).toEqual([false, true])
    await ticks[0]!.trigger('change')
    expect(bar.emitted('choose')).toEqual([['cast:Bo Tarn|cast:Ada Quill']])
    await bar.find('[type=search]').setValue('ada')
    await vi.waitFor(() => expect(asked.mock.calls.length).toBe(2))
  })
  it('says where who is in it cannot be asked for, and asks again', async () => {
    const group = { name: 'cast', traits: [], has_more: true }
    answers = {
      '/api/shelves/{shelf}/traits': { groups: [group], is_settled: true },
      '/api/shelves/{shelf}/traits/{group}': new Error('The server is away.'),
    }
    const bar = await show(NarrowBar, '/', props)
    await bar.find('[data-test=narrow]').trigger('click')
    await vi.waitFor(() =>
      expect(bar.find('[data-test=narrow-cast]').text()).toContain('The server is away.'),
    )
  })
  it('shows what is chosen as slips that come off', async () => {
    answers = { '/api/shelves/{shelf}/traits': { groups, is_settled: true } }
    const bar = await show(NarrowBar, '/', {
      ...props,
      traits: 'genre:A: b|decade:1990|mark:unseen',
    })
    expect(bar.findAll('.slip').map((one) => one.text())).toEqual([
      'A: b ×',
      '1990–1999 ×',
      'not seen yet ×',
    ])
    await bar.findAll('.slip')[0]!.trigger('click')
    expect(bar.emitted('choose')).toEqual([['decade:1990|mark:unseen']])
  })
})

describe('lists', () => {
  const list = {
    ...{ id: 3, name: 'Evening', by: 'Odile', is_own: true, is_open: false, count: 3 },
    ...{ pictures: [], changed_at: '2026-01-01T00:00:00Z' },
  }
  const places = ['One', 'Two', 'Three'].map((title, n) => ({
    item_id: n + 1,
    entry: card(n + 10, title),
    file_id: n + 20,
    seconds: 60,
  }))
  it('are ordered by keys, and lose what is taken out', async () => {
    answers = {
      '/api/lists/{list_id}': { list, places, seconds: 180 },
      '/api/shares': { shares: [], may_share: true, intakes: [] },
    }
    const page = await show(ListView, '/catalog/list/3')
    expect(page.text()).toContain('3 in it, 3:00')
    await page.findAll('[data-place]')[0]!.trigger('keydown', { key: 'ArrowDown', altKey: true })
    await flushPromises()
    expect(calls.find((one) => one.method === 'PATCH')?.asked?.body).toMatchObject({
      order: [2, 1, 3],
    })
    await page.findAll('[data-place]')[2]!.trigger('keydown', { key: 'Delete' })
    await flushPromises()
    expect(calls.find((one) => one.path.endsWith('/drop'))?.asked?.body).toEqual({ item_ids: [3] })
    await page.find('[data-test=play-list]').trigger('click')
    await flushPromises()
    expect(router.currentRoute.value.fullPath).toBe('/play/10?list=3')
  })
  it('of others cannot be changed', async () => {
    answers = {
      '/api/lists/{list_id}': { list: { ...list, is_own: false, by: 'Ivo' }, places, seconds: 0 },
    }
    const page = await show(ListView, '/catalog/list/3')
    expect(page.find('[data-test=open-list]').exists()).toBe(false)
    expect(page.find('.out').exists()).toBe(false)
    await page.findAll('[data-place]')[0]!.trigger('keydown', { key: 'Delete' })
    expect(calls).toEqual([])
  })
  it('come in from a file, and say what is not here', async () => {
    answers = {
      'GET /api/lists': { lists: [list] },
      'POST /api/lists/file': { id: 4, count: 1, unknown: ['Gone/away.mp3'] },
    }
    const page = await show(ListsView, '/catalog/lists')
    const file = new File(['#EXTM3U\nTräne.mp3\n'], 'Evening.m3u8')
    const input = page.find<HTMLInputElement>('[data-test=list-file]')
    Object.defineProperty(input.element, 'files', { value: [file] })
    await input.trigger('change')
    await vi.waitFor(() => expect(calls.length).toBeGreaterThan(0))
    await flushPromises()
    const body = calls[0]?.asked?.body as { name: string; content: string }
    expect(body.name).toBe('Evening')
    expect(Buffer.from(body.content, 'base64').toString('utf-8')).toContain('Träne.mp3')
    expect(page.find('.came').text()).toMatch(/One of it came in.*names nothing.*Gone\/away\.mp3/s)
  })
  it('are added to by name, and a new name makes one', async () => {
    answers = { 'GET /api/lists': { lists: [list] }, 'POST /api/lists': { id: 9, count: 2 } }
    const part = await show(AddToList, '/', { entryIds: [5, 6] })
    await part.find('[data-test=list-name]').setValue('even')
    expect(part.findAll('li').map((one) => one.text())).toEqual(['Evening 3', '＋ New list “even”'])
    await part.find('form').trigger('submit')
    await flushPromises()
    expect(calls[0]).toMatchObject({
      path: '/api/lists',
      asked: { body: { name: 'even', entry_ids: [5, 6] } },
    })
    await part.find('[data-test=list-name]').setValue('Evening')
    await part.find('form').trigger('submit')
    await flushPromises()
    expect(calls[1]).toMatchObject({ path: '/api/lists/{list_id}/places' })
  })
})

describe('sharing', () => {
  it('offers nothing to who may not share', async () => {
    answers = { '/api/shares': { shares: [], may_share: false, intakes: [] } }
    expect((await show(ShareSheet, '/', { entryId: 7, title: 'X' })).find('button').exists()).toBe(
      false,
    )
  })
  it('makes a link with what was said, and shows it once', async () => {
    answers = {
      'GET /api/shares': { shares: [], may_share: true, intakes: [{ id: 2, path: '/door' }] },
      'POST /api/shares': { id: 1, link: 'http://house/s/KEY', picture: 'data:,' },
    }
    const sheet = await show(ShareSheet, '/', { listId: 3, title: 'Evening' })
    await sheet.find('[data-test=share]').trigger('click')
    await sheet.find('[name=share-password]').setValue('tin')
    await sheet.find('[name=share-download]').setValue(true)
    await sheet.find('form').trigger('submit')
    await flushPromises()
    expect(calls[0]?.asked?.body).toEqual({
      entry_id: null,
      list_id: 3,
      days: 7,
      password: 'tin',
      most_views: null,
      may_download: true,
      intake_id: null,
      upload_megabytes: 0,
    })
    expect(sheet.find('[data-test=made-link]').text()).toBe('http://house/s/KEY')
    expect(sheet.text()).toContain('another way')
  })
  it('lists links with what became of them, and ends one', async () => {
    const line = {
      ...{ id: 5, title: 'Moth Season', kind: 'movie', entry_id: 7, list_id: null, by: 'Ivo' },
      ...{ made_at: '', ends_at: '2026-12-05T10:00:00Z', is_over: false, has_password: true },
      ...{ views: 2, most_views: 5, viewed_at: null, may_download: true, takes_files: false },
      ...{ uploaded_bytes: 0, upload_bytes: 0 },
    }
    answers = { '/api/shares': { shares: [line], may_share: true, intakes: [] } }
    const panel = await show(SharesPanel)
    expect(panel.find('.row').text()).toMatch(
      /Moth Season.*Ivo, with a password, may be saved.*opened 2 of 5 times.*open until/,
    )
    await panel.find('.row button').trigger('click')
    expect(calls[0]).toMatchObject({
      method: 'DELETE',
      asked: { params: { path: { share_id: 5 } } },
    })
  })
  it('asks for the password before it says what is shared', async () => {
    let open = false
    answers = {
      'GET /api/shared/{share_key}/': () =>
        open
          ? {
              ...{ by: 'Odile', needs_password: false, title: 'Evening', kind: 'list' },
              ...{ entry_id: null, ends_at: '2026-12-05T10:00:00Z', may_download: false },
              ...{ takes_files: false, upload_bytes_left: 0 },
              places: [{ item_id: 1, entry: card(9, 'Tin Orchard'), file_id: 2, seconds: 5 }],
            }
          : { by: 'Odile', needs_password: true },
      'POST /api/shared/{share_key}/open': () => ((open = true), { ok: true }),
    }
    comeBy('KEY')
    const page = await show(SharedView, '/s/KEY')
    expect(page.text()).toContain('asks for a password')
    await page.find('input').setValue('tin')
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(page.find('h1').text()).toBe('Evening')
    expect(page.find('.rows a').attributes('href')).toBe('/s/KEY/play/9')
  })
  it('says when a link leads nowhere', async () => {
    answers = { 'GET /api/shared/{share_key}/': new Error('gone') }
    expect((await show(SharedView, '/s/KEY')).text()).toContain('leads nowhere any more')
  })
})

describe('ways in and what was done', () => {
  it('lets a television in after one has looked at it', async () => {
    answers = {
      'GET /api/device/waiting/{code}': {
        user_code: 'ABCDEF',
        device: 'Front room',
        address: '10.0.0.9',
      },
    }
    const page = await show(CodeView, '/code/ABC-DEF')
    const view = page.text()
    expect(view).toMatch(/Front room.*10\.0\.0\.9/)
    await page.find('[data-test=allow]').trigger('click')
    await flushPromises()
    expect(calls[0]?.asked?.body).toMatchObject({ allow: true })
  })
  it('shows the secret of a token once', async () => {
    answers = {
      'GET /api/tokens': { tokens: [] },
      'POST /api/tokens': { id: 1, secret: 'ind_once' },
    }
    const panel = await show(TokensPanel)
    await panel.findAll('button').at(-1)!.trigger('click')
    await panel.find('[name=token-name]').setValue('lamp')
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(calls[0]?.asked?.body).toEqual({ name: 'lamp', scopes: ['see'], days: 365 })
    expect(panel.find('[data-test=token-secret]').text()).toBe('ind_once')
  })
  it('reads the log when it is opened, page by page', async () => {
    const line = (id: number, kind: string, values: object) => ({
      ...{ id, at: '2026-01-02T03:04:05Z', kind, person: 'Ivo', address: '10.0.0.9', values },
    })
    answers = {
      '/api/deeds': (asked?: Asked) =>
        asked?.params?.query?.before
          ? { deeds: [line(1, 'signed-in', { device: '' })], following: null }
          : { deeds: [line(2, 'refused', { operation: 'people.add' })], following: 2 },
    }
    const panel = await show(DeedsPanel)
    expect(panel.findAll('.row')).toHaveLength(0)
    await panel.find('.head button').trigger('click')
    await flushPromises()
    expect(panel.find('.row').text()).toMatch(/Ivo was refused people\.add/)
    expect(panel.find('.row').classes()).toContain('loud')
    await panel.findAll('.row').at(-1)!.find('button').trigger('click')
    await flushPromises()
    expect(panel.text()).toContain('Ivo signed in')
  })
  it('says step by step what works from away', async () => {
    answers = {
      '/api/from-away': {
        address: 'https://house:7800/',
        ...{ port: 7800, announce: false, announced: '', outside_port: 0, is_settled: true },
        certificate: {
          ...{ names: ['house'], ends_at: '2027-12-30T00:00:00Z', days_left: 396 },
          ...{ fingerprint: 'AA:BB', is_self_made: true },
        },
        steps: [
          { name: 'listens-all', fine: true, values: { port: '7800' } },
          { name: 'not-reached', fine: false, values: { addresses: '10.0.0.2' } },
          { name: 'certificate-self', fine: true, values: { days: '396' } },
        ],
      },
    }
    const panel = await show(AwayPanel)
    expect(panel.text()).not.toContain('listens')
    await panel.find('button').trigger('click')
    await flushPromises()
    expect(panel.text()).toMatch(
      /every address of this machine, port 7800.*10\.0\.0\.2.*396 more days/,
    )
    expect(panel.findAll('.row.open')).toHaveLength(1)
    expect(panel.text()).toContain('SHA-256 AA:BB')
    await panel.find('.port input').setValue(8443)
    await panel.find('[data-test="open-port"]').setValue(true)
    await flushPromises()
    expect(calls.at(-1)).toMatchObject({
      ...{ method: 'PUT', path: '/api/from-away' },
      asked: { body: { announce: false, outside_port: 8443 } },
    })
  })
  it('keeps how it looks for one, a change at a time', async () => {
    const looks = { theme: 'system', cards: 'medium', hides: ['state'] }
    answers = {
      '/api/status': {
        ...STATUS,
        ...{ role: 'member', manages: false, person_id: 7, looks, tells_seen: false, tidies: [] },
      },
    }
    const panel = await show(LooksPanel)
    expect(panel.find('input[name="theme"]:checked').attributes('value')).toBe('system')
    expect(panel.find<HTMLInputElement>('[name="shows-state"]').element.checked).toBe(false)
    const told = () => calls.at(-1)?.asked?.body
    const kept = { ...looks, tells_seen: false, language: null }
    await panel.find('input[value="dark"]').trigger('change')
    expect(told()).toEqual({ ...kept, theme: 'dark' })
    await panel.find('input[value="large"]').trigger('change')
    expect(told()).toEqual({ ...kept, cards: 'large' })
    await panel.find('[name="shows-year"]').trigger('change')
    expect(told()).toEqual({ ...kept, hides: ['state', 'year'] })
    await panel.find('[name="shows-state"]').trigger('change')
    expect(told()).toEqual({ ...kept, hides: [] })
    await panel.find('[name="tells-seen"]').trigger('change')
    expect(told()).toEqual({ ...kept, tells_seen: true })
    await panel.find('select').setValue('de')
    expect(told()).toEqual({ ...kept, language: 'de' })
    await panel.find('.acts button').trigger('click')
    expect(calls.at(-1)).toMatchObject({ method: 'DELETE', path: '/api/me/picture' })
    await flushPromises()
    await panel.find('img').trigger('error')
    expect(panel.find('.face').text()).toBe('O')
    expect(panel.find('.acts button').exists()).toBe(false)
  })
  it('shows the owner what somebody saw, or why not', async () => {
    const card = { id: 3, title: 'The Tin Ferry', kind: 'movie', subtitle: '' }
    answers = {
      '/api/people/{person_id}/seen': {
        seen: [
          { card, seen_at: '2026-05-04T10:00:00Z', position_seconds: null },
          { card: { ...card, id: 4, title: 'Kelp' }, seen_at: null, position_seconds: 60 },
        ],
      },
    }
    const row = await show(WatchedRow, '/', { personId: 2, name: 'Nell' })
    expect(row.findAll('li').map((line) => line.text())).toEqual([
      expect.stringContaining('The Tin Ferry'),
      expect.stringMatching(/Kelp.*Go on/),
    ])
    shown?.unmount()
    answers = { '/api/people/{person_id}/seen': new Error('Nell keeps it to herself.') }
    expect((await show(WatchedRow, '/', { personId: 2, name: 'Nell' })).text()).toContain('herself')
  })
})
