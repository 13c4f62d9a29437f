import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { api, type Job, type Lacking } from '@/api/client'
import { i18n } from '@/i18n'
import JobsPanel from '@/views/house/JobsPanel.vue'
import StoragePanel from '@/views/house/StoragePanel.vue'
import LackingRow from '@/views/missing/LackingRow.vue'
import MissingView from '@/views/missing/MissingView.vue'

const router = createRouter({
  history: createMemoryHistory(),
  routes: [{ path: '/:rest(.*)*', component: { template: '<i/>' } }],
})

/** A part of the page whose server gives these answers by path. */
async function shown(part: Component, answers: Record<string, unknown>) {
  const asked: string[] = []
  vi.spyOn(api, 'GET').mockImplementation((async (path: string, more?: unknown) => {
    asked.push(
      path + JSON.stringify((more as { params?: { query?: unknown } })?.params?.query ?? ''),
    )
    return { data: answers[path], response: new Response() }
  }) as never)
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(part, {
    global: { plugins: [i18n, router, [VueQueryPlugin, { queryClient: client }]] },
  })
  await flushPromises()
  return { wrapper, asked }
}
afterEach(() => vi.restoreAllMocks())

const lack = (group: number, number: number, more = {}) => ({
  group,
  number,
  title: '',
  date: '',
  is_out: true,
  is_known: true,
  ...more,
})
const reed: Lacking = {
  kind: 'series',
  entry_id: 4,
  title: 'Reed',
  by: '',
  year: 2011,
  library: 'Series',
  lacks: [
    lack(1, 3, { title: 'Flow', date: '2020-01-08' }),
    lack(2, 1),
    lack(2, 2),
    lack(3, 1, { title: 'Sedge', is_out: false, date: '2099-04-01' }),
  ],
}

describe('what is missing', () => {
  it('stands by seasons, with what sources know; what is not aired yet stands apart', () => {
    const text = mount(LackingRow, {
      props: { row: reed },
      global: { plugins: [i18n, router] },
    }).text()
    expect(text).toContain('Season 1')
    expect(text).toMatch(/3\s*Flow\s*January 8, 2020/)
    expect(text).toMatch(/Season 2\s*1, 2/)
    expect(text).not.toContain('Season 3')
    expect(text).toContain('Not aired yet: 3×1 Sedge. April 1, 2099')
  })
  it('of an album of one disc is tracks, of two their discs', () => {
    const named = (lacks: Lacking['lacks']) =>
      mount(LackingRow, {
        props: { row: { ...reed, kind: 'album', lacks } },
        global: { plugins: [i18n, router] },
      }).text()
    expect(named([lack(1, 2)])).toContain('Tracks')
    expect(named([lack(1, 2), lack(2, 5)])).toMatch(/Disc 1.*Disc 2/)
  })
  it('comes in pages, goes along as a table, and says when there is nothing', async () => {
    const libraries = { libraries: [] }
    const { wrapper, asked } = await shown(MissingView, {
      '/api/libraries': libraries,
      '/api/missing': { rows: [reed], following: '4 reed' },
    })
    expect(wrapper.get('[data-test=csv]').attributes('href')).toBe('/api/missing/list.csv')
    await wrapper.get('.more').trigger('click')
    await flushPromises()
    expect(asked.at(-1)).toContain('"after":"4 reed"')
    const empty = await shown(MissingView, {
      '/api/libraries': libraries,
      '/api/missing': { rows: [], following: null },
    })
    expect(empty.wrapper.text()).toContain('Nothing is missing')
    expect(empty.wrapper.find('[data-test=csv]').exists()).toBe(false)
  })
})

describe('storage', () => {
  const told = {
    home: '/srv/indice',
    little_bytes: 2e9,
    held: [
      { what: 'pictures', path: '/p', size_bytes: 5e9, is_about: true, limit_bytes: null },
      { what: 'database', path: '/d', size_bytes: 1e9, is_about: false, limit_bytes: null },
      { what: 'segments', path: '/s', size_bytes: 0, is_about: false, limit_bytes: 2e9 },
    ],
    disks: [{ path: '/srv', free_bytes: 1e9, total_bytes: 1e12, holds: ['data'] }],
  }
  it('says what takes how much, and warns of little room', async () => {
    const { wrapper } = await shown(StoragePanel, { '/api/storage': told })
    const rows = wrapper.findAll('.held li').map((row) => row.text())
    expect(rows).toHaveLength(2)
    expect(rows[0]).toContain('about 5')
    expect(wrapper.text()).toContain('Little room is left')
  })
  it('is cleaned of what is made again, and of nothing else', async () => {
    const { wrapper } = await shown(StoragePanel, { '/api/storage': told })
    const post = vi
      .spyOn(api, 'POST')
      .mockResolvedValue({ data: { freed_bytes: 9 }, response: new Response() } as never)
    expect(wrapper.findAll('.held button')).toHaveLength(1)
    await wrapper.get('.held button').trigger('click')
    await flushPromises()
    expect(post).toHaveBeenCalledWith('/api/storage/clean', { body: { what: 'pictures' } })
  })
})

describe('jobs', () => {
  const job = (id: number, state: Job['state']): Job => ({
    id,
    kind: 'scan',
    title: `Scan ${id}`,
    state,
    step: '',
    done: 0,
    total: 0,
    rate: 0,
    seconds_left: null,
    current: '',
    message: '',
    created_at: '2030-01-01T00:00:00Z',
    finished_at: null,
  })
  const machine = (name: string, more = {}) => ({
    id: name.length,
    name,
    is_home: false,
    is_silent: false,
    can: ['inside'],
    sees: [],
    job: null,
    helps: false,
    done: 0,
    began_at: '',
    ...more,
  })
  const jobs = { jobs: [1, 2, 3, 4, 5, 6, 7, 8, 9].map((id) => job(id, 'done')) }
  it('are the last few until all are wanted, and all that run', async () => {
    const { wrapper } = await shown(JobsPanel, {
      '/api/jobs': jobs,
      '/api/jobs/machines': { machines: [] },
    })
    expect(wrapper.findAll('.job')).toHaveLength(6)
    await wrapper.get('.head button').trigger('click')
    expect(wrapper.findAll('.job')).toHaveLength(9)
    const running = { jobs: jobs.jobs.map((one) => ({ ...one, state: 'running' as const })) }
    const busy = await shown(JobsPanel, {
      '/api/jobs': running,
      '/api/jobs/machines': { machines: [] },
    })
    expect(busy.wrapper.findAll('.job')).toHaveLength(9)
  })
  it('tell who does them where another machine works along, and only there', async () => {
    const home = machine('shelf', { is_home: true })
    const alone = await shown(JobsPanel, {
      '/api/jobs': jobs,
      '/api/jobs/machines': { machines: [home] },
    })
    expect(alone.wrapper.find('[data-test=machines]').exists()).toBe(false)
    const machines = [
      home,
      machine('attic', { job: 'Scan Films', helps: true, done: 48 }),
      machine('cellar', { is_silent: true }),
    ]
    const { wrapper } = await shown(JobsPanel, {
      '/api/jobs': jobs,
      '/api/jobs/machines': { machines },
    })
    const rows = wrapper.findAll('[data-test=machines] li').map((row) => row.text())
    expect(rows[1]).toContain('helps: Scan Films')
    expect(rows[1]).toContain('48 files')
    expect(rows[2]).toContain('says nothing')
  })
})
