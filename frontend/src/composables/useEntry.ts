/** What a page of an entry knows of it, and how it is played from there. */
import { ElMessage } from 'element-plus'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import type { Entry } from '@/api/client'
import { usePlayer } from './usePlayer'

export function useEntry(entry: () => Entry) {
  const i18n = useI18n()
  const router = useRouter()
  const player = usePlayer()
  const card = computed(() => entry().card)
  const fact = (name: string): unknown => entry().facts.find((one) => one.field === name)?.value
  const playable = computed(() => entry().plays.filter((one) => !one.extra))
  const isMusic = computed(() => ['artist', 'album', 'track'].includes(card.value.kind))
  const cells = computed(() => entry().grid.flatMap((row) => row.cells))
  /** Of a series and a season the next episode plays, where there is one. */
  const canPlay = computed(
    () =>
      playable.value.length > 0 ||
      cells.value.some((cell) => cell.state !== 'missing') ||
      (card.value.kind === 'season' && entry().children.length > 0),
  )
  /** Whether all of it was seen. */
  const whole = computed(() => {
    const there = cells.value.filter((cell) => cell.entry_id)
    if (there.length) return there.every((cell) => cell.seen)
    const below = card.value.kind === 'season' ? entry().children : []
    return below.length ? below.every((child) => child.mark?.seen) : !!card.value.mark?.seen
  })
  function play(at = 0): void {
    const { id, title, subtitle, picture } = card.value
    if (!isMusic.value) void router.push(`/play/${id}`)
    else player.play({ title, subtitle, picture, entryId: id, items: playable.value }, at)
  }
  function add(where: 'next' | 'end', at?: number): void {
    const { id, title, subtitle, picture } = card.value
    const items = at === undefined ? playable.value : playable.value.slice(at, at + 1)
    player.add({ title, subtitle, picture, entryId: id, items }, where)
    ElMessage({ message: i18n.t('queue.added', items.length), type: 'success' })
  }
  return { card, fact, playable, canPlay, whole, isMusic, play, add }
}
