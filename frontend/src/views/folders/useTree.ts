/** The tree of folders: what is open and what lies there, where one is, and how an address leads there. */
import { useQueries, useQuery } from '@tanstack/vue-query'
import { useSessionStorage } from '@vueuse/core'
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type TreeNode } from '@/api/client'

export interface Place {
  folder_id: number
  path: string
}
export const placeKey = (node: Place) => `${node.folder_id}:${node.path}`

export function useTree() {
  const route = useRoute()
  const router = useRouter()
  const opened = useSessionStorage<string[]>('folders.opened', [])
  const { data: roots, error } = useQuery({
    queryKey: ['tree', 'roots'],
    queryFn: () => ask(api.GET('/api/tree')),
  })
  const isOpen = computed(() => new Set(opened.value))
  /** Each open folder is one question: a tree of any size is fetched as far as it is looked at. */
  const levels = useQueries({
    queries: computed(() =>
      opened.value.map((place) => {
        const cut = place.indexOf(':')
        const asked = { folder_id: Number(place.slice(0, cut)), path: place.slice(cut + 1) }
        return {
          queryKey: ['tree', place],
          queryFn: () => ask(api.GET('/api/tree', { params: { query: asked } })),
        }
      }),
    ),
  })
  const below = computed(
    () =>
      new Map(opened.value.map((place, index) => [place, levels.value[index]?.data?.nodes ?? []])),
  )
  const nodes = computed(() => roots.value?.nodes ?? [])
  const visible = computed(() => {
    const shown: TreeNode[] = []
    const add = (node: TreeNode): void => {
      shown.push(node)
      if (isOpen.value.has(placeKey(node)))
        for (const child of below.value.get(placeKey(node)) ?? []) add(child)
    }
    nodes.value.forEach(add)
    return shown
  })
  const chosen = computed(() =>
    route.query.folder
      ? { folder_id: Number(route.query.folder), path: String(route.query.path ?? '') }
      : undefined,
  )
  watch(
    nodes,
    (now) => {
      if (chosen.value) reveal(chosen.value)
      else if (now.length) void openSomething(now[0]!)
    },
    { immediate: true },
  )
  /** The first folder that holds files and no folders is opened, so that there is something to see. */
  async function openSomething(root: TreeNode): Promise<void> {
    let at = root
    const path: TreeNode[] = []
    while (at.has_children) {
      path.push(at)
      const { nodes: found } = await ask(
        api.GET('/api/tree', { params: { query: { folder_id: at.folder_id, path: at.path } } }),
      )
      const leaf = found.find((node) => !node.has_children)
      at = leaf ?? found[0] ?? at
      if (!found.length) break
    }
    if (chosen.value) return
    if (!opened.value.length) opened.value = path.map(placeKey)
    void router.replace({ query: { folder: at.folder_id, path: at.path } })
  }
  /** Open every folder above one that an address names. */
  function reveal(place: Place): void {
    const parts = place.path.split('/')
    const above = [
      `${place.folder_id}:`,
      ...parts
        .slice(0, -1)
        .map((_, at) => `${place.folder_id}:${parts.slice(0, at + 1).join('/')}`),
    ]
    opened.value = [...new Set([...opened.value, ...(place.path ? above : above.slice(0, 0))])]
  }
  function toggle(node: TreeNode): void {
    opened.value = isOpen.value.has(placeKey(node))
      ? opened.value.filter((place) => place !== placeKey(node))
      : [...opened.value, placeKey(node)]
  }
  function choose(node: TreeNode): void {
    if (node.has_children && !isOpen.value.has(placeKey(node))) toggle(node)
    void router.push({ query: { folder: node.folder_id, path: node.path } })
  }
  return { nodes, error, visible, isOpen, chosen, toggle, choose }
}
