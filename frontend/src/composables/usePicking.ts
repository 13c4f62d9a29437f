/** Picking many entries of a shelf, to write something of all of them. */
import type { InjectionKey, Ref } from 'vue'

export interface Picking {
  /** Whether tiles are picked instead of opened. */
  on: Ref<boolean>
  picked: Ref<number[]>
  pick: (id: number, range: boolean) => void
}

export const PICKING: InjectionKey<Picking> = Symbol('picking')
