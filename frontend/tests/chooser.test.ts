/** Choosing a folder for a library: what lies there, what it looks like, and being sure where it looks like something else. */
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import FolderChooser from '@/parts/FolderChooser.vue'
import { api } from '@/api/client'
import { answerAs, mountAlone, type Asked, type Call } from './mounting'

const FOLDERS: Record<string, object> = {
  '/': { parent: null, folders: [{ path: '/media', name: 'media', readable: true }] },
  '/media': {
    parent: '/',
    folders: [
      { path: '/media/Tin Songs', name: 'Tin Songs', readable: true },
      { path: '/media/locked', name: 'locked', readable: false },
    ],
  },
  '/media/Tin Songs': { parent: '/media', folders: [] },
}
const PREVIEW = {
  suggestion: 'music',
  counts: { films: 0, episodes: 0, clips: 0, songs: 31, photos: 2, others: 0 },
  complete: false,
}
let shown: VueWrapper
let told: { asked: Call[]; changes: Call[] }
const rows = () => shown.findAll('.browse .row').map((row) => row.text())
const open = async (name: string) => {
  await shown
    .findAll('.browse .row')
    .find((row) => row.text().includes(name))
    ?.trigger('click')
  await flushPromises()
}
const declare = async (which = 0) => {
  await shown.findAll('.actions button').at(which)?.trigger('click')
  await flushPromises()
}

beforeEach(async () => {
  told = answerAs(() => ({
    '/api/browse': (asked?: Asked) =>
      FOLDERS[String(asked?.params?.query?.path)] ?? new Error('gone'),
    '/api/browse/preview': PREVIEW,
  }))
  shown = mountAlone(FolderChooser)
  await flushPromises()
})
afterEach(() => {
  shown.unmount()
  vi.restoreAllMocks()
})

describe('choosing a folder', () => {
  it('begins at the top, where nothing can be declared', () => {
    expect(rows()).toEqual(['media'])
    expect(shown.find('.actions button').attributes('disabled')).toBeDefined()
    expect(told.asked.map((call) => call.path)).not.toContain('/api/browse/preview')
  })

  it('goes down and up, and says what cannot be opened', async () => {
    await open('media')
    expect(rows()).toHaveLength(3)
    const locked = shown.findAll('.browse .row').find((row) => row.text().includes('locked'))
    expect(locked?.attributes('disabled')).toBeDefined()
    expect(locked?.text()).toContain('cannot be read')
    await shown.findAll('.browse .row').at(0)?.trigger('click')
    await flushPromises()
    expect(rows()).toEqual(['media'])
  })

  it('names the library as its folder, and takes it for what it looks like', async () => {
    await open('media')
    await open('Tin Songs')
    expect(shown.find('.where').text()).toBe('/media/Tin Songs')
    expect(shown.find('.counts').text()).toContain('31 songs')
    expect(shown.find('.counts').text()).toContain('and more')
    await declare()
    expect(told.changes.map((call) => call.asked?.body)).toEqual([
      {
        name: 'Tin Songs',
        kind: 'music',
        folders: ['/media/Tin Songs'],
        language: 'en',
        country: '',
        sure: false,
      },
    ])
    expect(shown.emitted('added')).toHaveLength(1)
  })

  it('goes where somebody types', async () => {
    await shown.find('.path input').setValue('/media')
    await shown.find('.path').trigger('submit')
    await flushPromises()
    expect(rows().join()).toContain('Tin Songs')
  })

  it('says what is wrong with a path that is not there', async () => {
    await shown.find('.path input').setValue('/nowhere')
    await shown.find('.path').trigger('submit')
    await flushPromises()
    expect(shown.find('[role=alert]').text()).toContain('gone')
  })

  it('asks where the kind is unlikely, and declares it when somebody is sure', async () => {
    await open('media')
    await open('Tin Songs')
    const asks = vi.spyOn(api, 'POST')
    asks.mockResolvedValueOnce({
      error: { reference: 'kind-unlikely', message: 'These look like music.', hint: 'Confirm it.' },
      response: new Response(null, { status: 409 }),
    } as never)
    await declare()
    expect(shown.find('.what [role=alert]').text()).toContain('These look like music.')
    expect(shown.findAll('.actions button')).toHaveLength(2)
    await declare(1)
    expect((asks.mock.lastCall as unknown as [string, Asked])[1].body).toMatchObject({ sure: true })
    expect(shown.emitted('added')).toHaveLength(1)
  })
})
