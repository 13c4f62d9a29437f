/** Services that are asked from here: what is done with one of them, and what went wrong with which. */
import { flushPromises, mount } from '@vue/test-utils'
import { ElMessageBox } from 'element-plus'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { createRouter, createMemoryHistory } from 'vue-router'
import SourcesPanel from '@/views/house/SourcesPanel.vue'
import TextServicesPanel from '@/views/house/TextServicesPanel.vue'
import { answerAs, pluginsWith } from './mounting'

const router = createRouter({
  history: createMemoryHistory(),
  routes: [{ path: '/', component: { template: '<p />' } }],
})
afterEach(() => vi.restoreAllMocks())

const service = (id: number, name: string, more: object = {}) => ({
  id,
  name,
  url: `https://${name.toLowerCase()}.test/`,
  profile: `name = "${name}"\n`,
  problem: '',
  checked_at: null,
  has_key: false,
  unknown_fields: [],
  ...more,
})
async function shown(part: typeof SourcesPanel | typeof TextServicesPanel, answers: object) {
  const told = answerAs(() => answers as Record<string, unknown>)
  const panel = mount(part, { global: { plugins: pluginsWith(router) } })
  await flushPromises()
  const press = async (text: string, place = 0) => {
    const buttons = panel.findAll('button').filter((one) => one.text() === text)
    await buttons[place]!.trigger('click')
    await flushPromises()
  }
  return { panel, press, ...told }
}
const sources = {
  '/api/sources': {
    sources: [service(1, 'Almanac'), service(2, 'Gazette', { unknown_fields: ['movie.mood'] })],
  },
}

describe('sources', () => {
  it('say what their profiles name that is not known, and can be asked first', async () => {
    const { panel, press, changes } = await shown(SourcesPanel, sources)
    expect(panel.text()).toContain('movie.mood')
    await press('Ask first')
    expect(changes.map(({ method, path, asked }) => [method, path, asked?.body])).toEqual([
      ['PUT', '/api/sources/order', { ids: [2, 1] }],
    ])
  })
  it('are tried one by one: what went wrong stands with the one', async () => {
    const { panel, press } = await shown(SourcesPanel, {
      ...sources,
      'POST /api/sources/{source_id}/test': new Error('Gazette does not answer.'),
    })
    await press('Test', 1)
    const rows = panel.findAll('.service')
    expect(rows.map((row) => row.text().includes('does not answer'))).toEqual([false, true])
  })
  it('take a new profile, which stays open where it is refused', async () => {
    const refuses = await shown(SourcesPanel, {
      ...sources,
      'POST /api/sources': new Error('The profile has no name.'),
    })
    await refuses.press('Profile', 1)
    await refuses.panel.get('form').trigger('submit')
    await flushPromises()
    expect(refuses.panel.text()).toContain('The profile has no name.')
    expect(refuses.panel.find('textarea').element.value).toBe('name = "Gazette"\n')
    const takes = await shown(SourcesPanel, sources)
    await takes.press('Profile', 1)
    await takes.panel.get('form').trigger('submit')
    await flushPromises()
    expect(takes.panel.find('textarea').exists()).toBe(false)
    expect(takes.changes[0]?.asked?.body).toEqual({ profile: 'name = "Gazette"\n', key: null })
  })
  it('take a key, which is not shown again', async () => {
    const { panel, press, changes } = await shown(SourcesPanel, sources)
    await press('New key', 1)
    await panel.get('input[type=password]').setValue('s3cret')
    await panel.get('form').trigger('submit')
    await flushPromises()
    expect([changes[0]?.asked?.params?.path, changes[0]?.asked?.body]).toEqual([
      { source_id: 2 },
      { key: 's3cret' },
    ])
    expect(panel.find('input[type=password]').exists()).toBe(false)
  })
  it('say that there are none, and that the list cannot be had', async () => {
    const none = await shown(SourcesPanel, { '/api/sources': { sources: [] } })
    expect(none.panel.find('.pad').exists()).toBe(true)
    const away = await shown(SourcesPanel, { '/api/sources': new Error('The database is away.') })
    expect(away.panel.text()).toContain('The database is away.')
  })
})

describe.each([
  { part: SourcesPanel, answers: sources, path: '/api/sources/{source_id}' },
  {
    part: TextServicesPanel,
    answers: { '/api/text-services': { services: [service(1, 'Footline')] } },
    path: '/api/text-services/{service_id}',
  },
])('forgetting by $path', ({ part, answers, path }) => {
  it('is asked about first', async () => {
    const asks = vi.spyOn(ElMessageBox, 'confirm').mockRejectedValueOnce('cancel')
    const { press, changes } = await shown(part, answers)
    await press('Forget')
    expect([asks.mock.calls.length, changes.length]).toEqual([1, 0])
    asks.mockResolvedValueOnce({} as never)
    await press('Forget')
    expect(changes.map(({ method, path: at }) => [method, at])).toEqual([['DELETE', path]])
  })
})

describe('services of subtitles', () => {
  it('begin with a profile to fill in', async () => {
    const { panel, press, changes } = await shown(TextServicesPanel, {
      '/api/text-services': { services: [] },
    })
    await press('Add a service')
    const profile = panel.get<HTMLTextAreaElement>('[data-test=text-profile]')
    expect(profile.element.value).toContain('serves = "subtitles"')
    await profile.setValue('name = "Footline"')
    await panel.get('form').trigger('submit')
    await flushPromises()
    expect(changes[0]?.asked?.body).toEqual({ profile: 'name = "Footline"', key: null })
    expect(panel.find('form').exists()).toBe(false)
  })
})
