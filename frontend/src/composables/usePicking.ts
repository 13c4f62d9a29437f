/** Picking many entries of a shelf, to write something of all of them. */
import { provide, ref, type InjectionKey, type Ref } from 'vue'

export interface Picking {
  /** Whether tiles are picked instead of opened. */
  on: Ref<boolean>
  picked: Ref<number[]>
  pick: (id: number, range: boolean) => void
}

export const PICKING: InjectionKey<Picking> = Symbol('picking')

/** What is picked of entries in their order; tiles below the caller find it by {@link PICKING}. */
export function usePicks(entries: () => readonly { id: number }[]) {
  const picking = ref(false)
  const picked = ref<number[]>([])
  let last = 0
  /** With the shift key everything between this one and the last is taken along. */
  function pick(id: number, range: boolean): void {
    const ids = entries().map((entry) => entry.id)
    const ends = [ids.indexOf(last), ids.indexOf(id)].sort((a, b) => a - b)
    const [from, to] = ends as [number, number]
    const isPicked = picked.value.includes(id)
    if (range && from >= 0)
      picked.value = [...new Set([...picked.value, ...ids.slice(from, to + 1)])]
    else
      picked.value = isPicked ? picked.value.filter((other) => other !== id) : [...picked.value, id]
    last = id
  }
  function stop(): void {
    picking.value = false
    picked.value = []
  }
  provide<Picking>(PICKING, { on: picking, picked, pick })
  return { picking, picked, stop }
}
