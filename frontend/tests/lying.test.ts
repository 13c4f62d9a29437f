import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { api } from '@/api/client'
import { playableOf } from '@/composables/queue'
import { forgetQueue, usePlayer } from '@/composables/usePlayer'
import LyingView from '@/views/catalog/LyingView.vue'
import { pluginsWith } from './mounting'

interface Asked {
  params?: { path?: Record<string, string>; query?: Record<string, unknown> }
}
const folder = (folder_id: number, path: string, name: string) => ({
  folder_id,
  path,
  name,
  picture: null,
})
const song = (id: number, file_id: number | null = id + 100) => ({
  id,
  title: `Song ${id}`,
  album_id: null,
  album: '',
  artist: 'Osk',
  year: null,
  seconds: 61,
  file_id,
  picture: null,
})
let roots = [folder(7, '', 'Music')]
let asked: Record<string, unknown>[] = []
let shown: VueWrapper | undefined

beforeEach(() => {
  asked = []
  roots = [folder(7, '', 'Music')]
  vi.stubGlobal(
    'IntersectionObserver',
    class {
      observe() {}
      disconnect() {}
    },
  )
  vi.spyOn(api, 'GET').mockImplementation(((path: string, told?: Asked) => {
    const query = told?.params?.query ?? {}
    asked.push({ path, ...query })
    const data = path.endsWith('/pieces')
      ? {
          songs: query.below
            ? [song(1), song(2, null), song(3)]
            : query.path === 'Osk'
              ? [song(1)]
              : [],
          entries: [],
          following: null,
        }
      : query.folder_id === undefined
        ? { folders: roots, following: null, root: '' }
        : {
            folders: query.path ? [] : [folder(7, 'Osk', 'Osk')],
            following: null,
            root: 'Music',
          }
    return Promise.resolve({ data, response: new Response() })
  }) as never)
})
afterEach(() => {
  shown?.unmount()
  forgetQueue()
  vi.restoreAllMocks()
  vi.unstubAllGlobals()
})

async function open(at: string): Promise<VueWrapper> {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/catalog/:shelf/folders', component: LyingView },
      { path: '/:rest(.*)*', component: { template: '<i/>' } },
    ],
  })
  await router.push(at)
  shown = mount(LyingView, {
    global: {
      plugins: pluginsWith(router),
      stubs: { ShelfTop: true },
    },
  })
  await flushPromises()
  await flushPromises()
  return shown
}

describe('folders as they lie', () => {
  it('one folder of the library is stood in at once', async () => {
    const view = await open('/catalog/music/folders')
    expect(view.get('h1').text()).toBe('Music')
    expect(view.findAll('[data-test=folders] a').map((one) => one.attributes('href'))).toEqual([
      '/catalog/music/folders?in=7&path=Osk',
    ])
  })

  it('of several one is chosen first, and nothing is asked of any', async () => {
    roots.push(folder(8, '', 'Attic'))
    const view = await open('/catalog/music/folders')
    expect(view.get('h1').text()).toBe('All folders')
    expect(view.findAll('[data-test=folders] .name').map((one) => one.text())).toEqual([
      'Music',
      'Attic',
    ])
    expect(asked).toHaveLength(1)
    expect(view.find('[data-test=play-below]').exists()).toBe(false)
  })

  it('a folder says its way down, and plays all that is below it', async () => {
    const view = await open('/catalog/music/folders?in=7&path=Osk')
    expect(view.get('h1').text()).toBe('Osk')
    expect(view.find('.crumbs a').attributes('href')).toBe('/catalog/music/folders?in=7')
    await view.get('[data-test=play-below]').trigger('click')
    await flushPromises()
    const { current, queue } = usePlayer()
    expect(current.value?.fileId).toBe(101)
    expect(queue.value.songs.map((one) => one.fileId)).toEqual([101, 103])
  })

  it('a folder with nothing in it says so', async () => {
    const view = await open('/catalog/music/folders?in=7&path=Nowhere')
    expect(view.text()).toContain('Nothing lies in this folder.')
    expect(view.find('[data-test=play-below]').exists()).toBe(false)
  })
})

it('a song that is away plays nothing', () => {
  expect(playableOf(song(5, null))).toMatchObject({
    file_id: 0,
    entry_id: 5,
    by: 'Osk',
    extra: false,
  })
})
