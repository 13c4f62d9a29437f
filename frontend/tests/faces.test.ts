import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import EntryView from '@/views/catalog/EntryView.vue'
import { answerAs, pluginsWith, type Call } from './mounting'

vi.mock('element-plus', () => ({
  ElMessage: vi.fn(),
  ElPopover: { template: '<div><slot name="reference"/></div>' },
  ElDialog: { template: '<div />' },
  ElButton: { template: '<button><slot/></button>' },
  ElInput: { template: '<input />' },
}))

const CARD = {
  ...{ id: 7, kind: 'movie', title: 'Moth Season', subtitle: '', year: 1987, state: 'settled' },
  ...{ moment: null, added_at: '2026-01-01T00:00:00Z', picture: null, count: 0, mark: null },
}
const PAGE = {
  ...{ card: CARD, credits: [], versions: [], related: [], parents: [], children: [], grid: [] },
  ...{ facts: [{ field: 'plot', value: 'A moth stays.' }], backdrop: null, plays: [] },
  ...{ shot: null, cell: '', is_kept: true },
}
const KEPT = {
  library: 'Films',
  facts: [
    {
      field: 'plot',
      shown: { value: 'A moth stays.', origin: 'name', at: null, locked: false },
      others: [],
    },
  ],
  files: [],
  ...{ artworks: [], offers: [], frames: [], changes: [], editable: ['plot'], note: '' },
  ...{ score: 0.9, source: 'Almanac', decided_by: 'automatic', candidates: 2 },
}
const STATUS = { person: 'Odile', role: 'librarian', manages: true, age: null }
let answers: Record<string, unknown>
let told: { asked: Call[]; changes: Call[] }
let page: VueWrapper | undefined

beforeEach(() => {
  localStorage.clear()
  answers = {
    '/api/status': STATUS,
    '/api/entries/{entry_id}': PAGE,
    '/api/entries/{entry_id}/kept': KEPT,
    '/api/shares': { shares: [], may_share: false, intakes: [] },
    '/api/lists': { lists: [] },
  }
  told = answerAs(() => answers)
})
afterEach(() => {
  page?.unmount()
  vi.restoreAllMocks()
})

async function open(): Promise<VueWrapper> {
  const rest = { template: '<i/>' }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/catalog/entry/:id', component: rest },
      { path: '/:rest(.*)*', component: rest },
    ],
  })
  await router.push('/catalog/entry/7')
  page = mount(EntryView, { global: { plugins: pluginsWith(router) }, attachTo: document.body })
  await flushPromises()
  return page
}
const paths = () => told.asked.map((one) => one.path)

describe('the two faces of a page', () => {
  it('asks for what it is kept by only when somebody wants to see that', async () => {
    const shown = await open()
    expect(shown.text()).toContain('A moth stays.')
    expect(paths()).not.toContain('/api/entries/{entry_id}/kept')
    await shown.get('[data-test=keep]').trigger('click')
    await flushPromises()
    expect(paths()).toContain('/api/entries/{entry_id}/kept')
    expect(shown.text()).toContain('Almanac')
  })
  it('changes by a key, and remembers which face was chosen', async () => {
    const shown = await open()
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'k', bubbles: true }))
    await flushPromises()
    expect(shown.get('[data-test=keep]').attributes('aria-pressed')).toBe('true')
    shown.unmount()
    const again = await open()
    expect(again.get('[data-test=keep]').attributes('aria-pressed')).toBe('true')
  })
  it('has no second face for who does not keep this library', async () => {
    localStorage.setItem('indice.keep', 'true')
    answers['/api/entries/{entry_id}'] = { ...PAGE, is_kept: false }
    const shown = await open()
    expect(shown.find('[data-test=keep]').exists()).toBe(false)
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'k', bubbles: true }))
    await flushPromises()
    expect(shown.text()).toContain('A moth stays.')
    expect(paths()).not.toContain('/api/entries/{entry_id}/kept')
  })
  it('says what is wrong where it cannot be asked, and asks again', async () => {
    localStorage.setItem('indice.keep', 'true')
    answers['/api/entries/{entry_id}/kept'] = new Error('The catalog rests.')
    const shown = await open()
    expect(shown.text()).toContain('The catalog rests.')
    expect(shown.get('h1').text()).toBe('Moth Season')
    answers['/api/entries/{entry_id}/kept'] = KEPT
    await shown.get('.problem button, [role=alert] button').trigger('click')
    await flushPromises()
    expect(shown.text()).toContain('Almanac')
  })
  it('fetches again, looks for something else with what is there', async () => {
    localStorage.setItem('indice.keep', 'true')
    const shown = await open()
    const acts = shown.findAll('.acts button')
    await acts[1]?.trigger('click')
    await flushPromises()
    expect(told.changes.map((one) => one.path)).toEqual(['/api/entries/{entry_id}/refresh'])
    await acts[0]?.trigger('click')
    await flushPromises()
    expect(told.changes, 'there are candidates already').toHaveLength(1)
  })
})
