import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import type { FileItem, TreeNode } from '@/api/client'
import FileList from '@/views/folders/FileList.vue'
import { useTree } from '@/views/folders/useTree'
import { answerAs, pluginsWith, type Asked } from './mounting'

const node = (path: string, has_children = false): TreeNode =>
  ({
    ...{ folder_id: 3, path, name: path.split('/').at(-1) || 'Films', has_children },
    ...{ depth: path ? path.split('/').length : 0, states: { settled: 2 } },
  }) as TreeNode
/** What lies where: three levels, of which the last holds files only. */
const LEVELS: Record<string, TreeNode[]> = {
  '': [node('Drama', true), node('Kite (2001)')],
  Drama: [node('Drama/Moth (1987)'), node('Drama/Weir (1990)')],
}
let router: Router
let shown: VueWrapper | undefined
let tree: ReturnType<typeof useTree>

beforeEach(() => {
  sessionStorage.clear()
  answerAs(() => ({
    '/api/tree': (asked?: Asked) => {
      const query = asked?.params?.query
      return { nodes: query ? (LEVELS[String(query.path)] ?? []) : [node('', true)] }
    },
  }))
  router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { template: '<i/>' } }],
  })
})
afterEach(() => {
  shown?.unmount()
  vi.restoreAllMocks()
})

async function open(query: Record<string, string>): Promise<string[]> {
  await router.push({ query })
  shown = mount(
    defineComponent(() => {
      tree = useTree()
      return () => h('i')
    }),
    { global: { plugins: pluginsWith(router) } },
  )
  await flushPromises()
  await flushPromises()
  return paths()
}
const paths = () => tree.visible.value.map((one) => one.path)
const at = (path: string) => tree.visible.value.find((one) => one.path === path)!

describe('the tree of folders', () => {
  it('opens at the first folder that holds only files, and its address says so', async () => {
    expect(await open({})).toEqual(['', 'Drama', 'Kite (2001)'])
    expect(tree.chosen.value).toEqual({ folder_id: 3, path: 'Kite (2001)' })
  })
  it('opens all that lies above where an address leads', async () => {
    expect(await open({ folder: '3', path: 'Drama/Weir (1990)' })).toEqual([
      ...['', 'Drama', 'Drama/Moth (1987)', 'Drama/Weir (1990)', 'Kite (2001)'],
    ])
  })
  it('opens and closes, and what is chosen opens', async () => {
    await open({})
    tree.choose(at('Drama'))
    await flushPromises()
    expect(paths()).toContain('Drama/Moth (1987)')
    expect(router.currentRoute.value.query).toMatchObject({ folder: '3', path: 'Drama' })
    tree.toggle(at('Drama'))
    expect(paths()).toEqual(['', 'Drama', 'Kite (2001)'])
    tree.toggle(at(''))
    expect(paths()).toEqual([''])
  })
})

describe('the files of a folder', () => {
  const file = (id: number, name: string, more: object = {}): FileItem =>
    ({
      ...{ id, name, path: `Drama/${name}`, directory: 'Drama', kind: 'movie', marks: [] },
      ...{ state: 'settled', serves: 'main', problem: '', tidy: null, entry_id: 1 },
      ...more,
    }) as unknown as FileItem
  const list = (files: FileItem[], asWould: boolean) =>
    (shown = mount(FileList, {
      props: { files, asWould, chosen: 2 },
      global: { plugins: pluginsWith(router) },
    }))
  it('say what each is, and which is chosen', async () => {
    const rows = list([file(1, 'Moth.mkv'), file(2, 'Moth.srt', { kind: 'subtitle' })], false)
    expect(rows.findAll('li').map((one) => one.classes('at'))).toEqual([false, true])
    expect(rows.text()).toContain('subtitle')
    await rows.findAll('button')[0]?.trigger('click')
    expect(rows.emitted('pick')).toEqual([[1]])
  })
  it('say how they would be called, what stays, and what nobody can say', () => {
    const tidy = 'Drama/Moth (1987)/Moth (1987).mkv'
    const rows = list(
      [
        file(1, 'moth.1987.mkv', { tidy }),
        file(2, 'Moth.mkv', { tidy: 'Drama/Moth.mkv' }),
        file(3, 'x.mkv'),
        file(4, 'y.srt', { kind: 'subtitle' }),
      ],
      true,
    )
    const said = rows.findAll('li').map((one) => one.text())
    expect(said[0]).toContain('(1987)')
    expect(said[1]).toContain('stays')
    expect(said[2]).not.toContain('stays')
    expect(said[3]).toContain('stays')
  })
  it('say what is wrong with one', () => {
    const rows = list([file(1, 'Moth.mkv', { problem: 'No permission to read it.' })], false)
    expect(rows.get('.problem').text()).toContain('No permission to read it.')
  })
})
