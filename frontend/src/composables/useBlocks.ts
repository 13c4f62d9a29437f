/** A long list in blocks: each begins where the one before ended, and is fetched when it comes near what is seen. */
import { computed, reactive, ref, watch, type Ref } from 'vue'
import type { EntryCard } from '@/api/client'

export interface Blocks {
  /** Where each block begins; the first begins at nothing. */
  cursors: Ref<string[]>
  /** What was fetched so far, in its order. */
  loaded: Readonly<Ref<EntryCard[]>>
  /** What a block holds, as far as it was fetched. */
  held: (index: number) => readonly EntryCard[]
  found: (index: number, entries: EntryCard[], following: string | null) => void
}

export function useBlocks(wanted: () => unknown): Blocks {
  const cursors = ref<string[]>([''])
  const pages = reactive(new Map<number, EntryCard[]>())
  watch(
    () => JSON.stringify(wanted()),
    () => {
      cursors.value = ['']
      pages.clear()
    },
  )
  const loaded = computed(() => cursors.value.flatMap((_, index) => pages.get(index) ?? []))
  return {
    cursors,
    loaded,
    held: (index) => pages.get(index) ?? [],
    found(index, entries, following) {
      pages.set(index, entries)
      if (following === null) cursors.value = cursors.value.slice(0, index + 1)
      else if (cursors.value[index + 1] !== following) cursors.value[index + 1] = following
    },
  }
}
