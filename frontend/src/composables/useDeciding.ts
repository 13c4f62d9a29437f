/** Saying what an entry is, that it is right, that it is none of these; and taking back what was said. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type EntryCard } from '@/api/client'
import type { Waiting } from './useWaiting'

export function useDeciding({ data, again, chosenId, current, match, leave }: Waiting) {
  const { t } = useI18n()
  const client = useQueryClient()
  const problem = ref<unknown>()
  /** What was decided here, for taking it back. */
  const last = ref<number[]>([])
  const deciding = useMutation({
    mutationFn: ({ entry, candidate }: { entry: EntryCard; candidate: number | null }) =>
      ask(
        api.POST('/api/entries/{entry_id}/decision', {
          params: { path: { entry_id: entry.id } },
          body: { candidate_id: candidate },
        }),
      ),
    onMutate: ({ entry }) => {
      problem.value = undefined
      leave(entry)
    },
    onSuccess: (_done, { entry, candidate }) => {
      last.value.push(entry.id)
      ElMessage({
        message: t(candidate === null ? 'matches.kept' : 'matches.taken', { title: entry.title }),
        type: 'success',
        grouping: true,
      })
      void client.invalidateQueries() // not waited for: the next key must not be lost while lists are fetched
    },
    onError: (reason, { entry }) => {
      problem.value = reason
      chosenId.value = entry.id
    },
  })
  /** What was pressed for an entry before it was there, or while the one before was being sent. */
  const pressed = ref<{ entry: number; index: number | null }>()
  /** Decide on the entry at hand: a candidate by its place, or nothing of them. No key is lost. */
  function decide(index: number | null): void {
    if (current.value) pressed.value = { entry: current.value.id, index }
  }
  watch([pressed, match, deciding.isPending], () => {
    const { entry, index } = pressed.value ?? {}
    if (entry === undefined || index === undefined || deciding.isPending.value) return
    if (entry !== current.value?.id) pressed.value = undefined
    if (match.value?.entry.id !== entry) return
    pressed.value = undefined
    const candidate = index === null ? null : match.value.candidates[index]?.id
    if (candidate !== undefined) deciding.mutate({ entry: match.value.entry, candidate })
  })
  const settling = useMutation({
    mutationFn: async (together: readonly EntryCard[]) => {
      await ask(
        api.POST('/api/decisions', {
          body: { choices: together.map((card) => ({ entry_id: card.id, candidate_id: null })) },
        }),
      )
      return together
    },
    onSuccess: async (together) => {
      last.value.push(...together.map((card) => card.id))
      ElMessage({ message: t('matches.takenAll', together.length), type: 'success' })
      await client.invalidateQueries()
    },
    onError: (reason) => (problem.value = reason),
  })
  function takeAll(together: readonly EntryCard[]): void {
    if (together.length > 1 && !settling.isPending.value && !deciding.isPending.value)
      settling.mutate(together)
  }
  const confirming = useMutation({
    mutationFn: (entry: EntryCard) =>
      ask(
        api.POST('/api/entries/{entry_id}/confirm', { params: { path: { entry_id: entry.id } } }),
      ),
    onMutate: leave,
    onSuccess: (_done, entry) => {
      last.value.push(entry.id)
      void client.invalidateQueries({ queryKey: ['matches'] })
    },
    onError: (reason) => (problem.value = reason),
  })
  function confirm(): void {
    if (again.value && current.value && !confirming.isPending.value)
      confirming.mutate(current.value)
  }
  async function undo(id?: number): Promise<void> {
    const entry = id ?? last.value.pop() ?? data.value?.decided[0]?.id
    if (!entry) return
    try {
      await ask(
        api.DELETE('/api/entries/{entry_id}/decision', { params: { path: { entry_id: entry } } }),
      )
      ElMessage({ message: t('matches.undone'), type: 'info' })
      await client.invalidateQueries()
      chosenId.value = entry
    } catch (reason) {
      problem.value = reason
    }
  }
  return { problem, decide, takeAll, confirm, undo, isBusy: deciding.isPending }
}
