/** All that shows one value: of a person by what they did, of a genre with the ways to the rest. */
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import WithView from '@/views/catalog/WithView.vue'
import { answerAs, pluginsWith } from './mounting'

let shown: VueWrapper
const card = (id: number, kind = 'movie') => ({
  id,
  kind,
  title: `Work ${id}`,
  subtitle: '',
  year: 1990,
  moment: null,
  state: 'settled',
  picture: null,
  count: 0,
  mark: null,
  moves: null,
})
async function look(field: string, value: string, answer: object) {
  const told = answerAs(() => ({
    '/api/with': { value, roles: [], more: 0, portrait: null, lacks: [], ...answer },
  }))
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { template: '<i/>' } }],
  })
  await router.push({ path: '/catalog/with', query: { field, value } })
  shown = mount(WithView, { global: { plugins: pluginsWith(router) }, attachTo: document.body })
  await flushPromises()
  return told
}
const ways = () => shown.findAll('.more a').map((way) => [way.text(), way.attributes('href')])

afterEach(() => {
  shown.unmount()
  vi.restoreAllMocks()
})

describe('all that shows a value', () => {
  it('of a person stands by what they did', async () => {
    const told = await look('directors', 'Odo Farrow', {
      roles: [
        { field: 'directors', entries: [card(1), card(2)] },
        { field: 'cast', entries: [card(3)] },
      ],
    })
    expect(told.asked[0]?.asked?.params?.query).toEqual({ field: 'directors', value: 'Odo Farrow' })
    expect(shown.findAll('h2').map((one) => one.text().replace(/\s+/g, ' '))).toEqual([
      'Directed 2',
      'Plays in 1',
    ])
    expect(shown.find('.more').exists()).toBe(false)
    expect(document.title).toBe('Odo Farrow · Indice')
  })

  it('of a genre leads to the shelves where the rest stands', async () => {
    await look('genres', 'Film noir', {
      roles: [{ field: 'genres', entries: [card(1)] }],
      more: 300,
    })
    expect(shown.find('.more').text()).toContain('and 300 more')
    expect(ways()).toEqual([
      ['Films', '/catalog/films?with=genre:Film+noir'],
      ['Series', '/catalog/series?with=genre:Film+noir'],
      ['Music', '/catalog/music?with=genre:Film+noir'],
    ])
    expect(shown.findAll('h2'), 'one role needs no heading').toHaveLength(0)
  })

  it('of somebody in very many films leads there by each role that a shelf knows', async () => {
    await look('cast', 'Ada | Quill', {
      roles: [
        { field: 'writers', entries: [card(4)] },
        { field: 'cast', entries: [card(1)] },
      ],
      more: 9,
    })
    expect(ways().map(([, to]) => to)).toEqual([
      '/catalog/films?with=cast:Ada+/+Quill',
      '/catalog/series?with=cast:Ada+/+Quill',
    ])
  })

  it('says so where nothing shows it any more', async () => {
    await look('label', 'Gone', {})
    expect(shown.text()).toContain('Nothing shows this any more.')
  })
})
