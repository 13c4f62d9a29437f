/** Music that plays on while one looks around: one queue for the whole house, shown by the player that stays. */
import { computed, shallowRef } from 'vue'
import type { Picture, Playable } from '@/api/client'

export interface Queue {
  title: string
  subtitle: string
  picture: Picture | null
  entryId: number
  items: readonly Playable[]
}

const playing = shallowRef<Queue>()
const place = shallowRef(0)

export function usePlayer() {
  const current = computed(() => playing.value?.items[place.value])
  function play(what: Queue, at = 0): void {
    playing.value = what
    place.value = at
  }
  function step(by: number): void {
    const next = place.value + by
    if (playing.value && next >= 0 && next < playing.value.items.length) place.value = next
  }
  function close(): void {
    playing.value = undefined
    place.value = 0
  }
  return { playing, place, current, play, step, close }
}
