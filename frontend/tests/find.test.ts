/** The search box: entries, names and places in one list, and filters that are offered as one types. */
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { createI18n } from 'vue-i18n'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { en } from '@/locales/en'
import FindBox from '@/parts/FindBox.vue'

const card = (id: number, title: string, kind = 'movie') => ({
  id,
  title,
  kind,
  year: 1998,
  state: 'settled',
  subtitle: '',
  picture: null,
  mark: null,
})
const FOUND = {
  entries: [card(7, 'Lisbeth'), card(8, 'The Mollis Affair')],
  named: [
    { group: 'town', value: 'Lisholm', shelf: 'photos', count: 3 },
    { group: 'credit', value: 'Hollis Vant', shelf: 'films', count: 1 },
  ],
  lines: { 8: 'and lisping she went' },
}

function open(manages: boolean) {
  vi.stubGlobal(
    'fetch',
    vi.fn(async (asked: Request) => {
      const body = asked.url.includes('/api/search') ? FOUND : { manages, tidies: [], waiting: {} }
      return new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } })
    }),
  )
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { template: '<i />' } }],
  })
  const i18n = createI18n({ legacy: false, locale: 'en', messages: { en } })
  return {
    router,
    box: mount(FindBox, {
      props: { places: manages ? ['today', 'catalog', 'house'] : ['catalog', 'you'] },
      global: { plugins: [i18n, router, VueQueryPlugin] },
    }),
  }
}
async function type(box: ReturnType<typeof open>['box'], words: string) {
  await box.find('input').setValue(words)
  await new Promise((done) => setTimeout(done, 160))
  await flushPromises()
}
const rows = (box: ReturnType<typeof open>['box']) =>
  box.findAll('[role=option]').map((row) => row.find('.title').text())

afterEach(() => vi.unstubAllGlobals())

describe('the search box', () => {
  it('puts what begins so first, then places of the house, then what else holds it', async () => {
    const { box } = open(true)
    await type(box, 'lis')
    expect(rows(box)).toEqual([
      'Lisbeth',
      'Lisholm',
      'Lists',
      'The Mollis Affairand lisping she went',
      'Hollis Vant',
    ])
    expect(box.findAll('[role=option] .faint').map((note) => note.text())).toEqual([
      'Film, 1998',
      'Town, 3 photos',
      'Go there',
      'Film, 1998',
      'Made by or with, 1 film',
    ])
  })
  it('leads to the wall of a town, to all of somebody, to a place', async () => {
    for (const [steps, where] of [
      [0, '/catalog/entry/7'],
      [1, '/catalog/photos?with=town:Lisholm'],
      [2, '/catalog/lists'],
      [4, '/catalog/with?field=directors&value=Hollis%20Vant'],
    ] as const) {
      const { box, router } = open(true)
      await type(box, 'lis')
      for (let step = 0; step < steps; step++)
        await box.find('input').trigger('keydown', { key: 'ArrowDown' })
      await box.find('input').trigger('keydown', { key: 'Enter' })
      await flushPromises()
      expect(decodeURIComponent(router.currentRoute.value.fullPath)).toBe(decodeURIComponent(where))
    }
  })
  it('names only places that one may go to', async () => {
    const keeper = open(true)
    await type(keeper.box, 'what is')
    expect(rows(keeper.box)).toContain('What is missing')
    const guest = open(false)
    await type(guest.box, 'what is')
    expect(rows(guest.box)).not.toContain('What is missing')
  })
  it('offers filters as one types, and goes on behind the colon', async () => {
    const { box } = open(true)
    await type(box, 'storm dir')
    const offer = box.findAll('.pill').find((one) => one.text() === 'director:')
    await offer!.trigger('mousedown')
    expect((box.find('input').element as HTMLInputElement).value).toBe('storm director:')
    await type(box, 'is:f')
    await box.find('.pill').trigger('mousedown')
    expect((box.find('input').element as HTMLInputElement).value).toBe('is:favourite ')
  })
  it('shows filters with a value before anything is typed', async () => {
    const { box } = open(true)
    await box.find('input').trigger('focus')
    const offers = box.findAll('[data-test=filter-hints] .pill').map((one) => one.text())
    expect(offers).toContain('year:1990-1999')
    expect(offers.filter((one) => one.endsWith(':'))).toEqual([])
  })
})
