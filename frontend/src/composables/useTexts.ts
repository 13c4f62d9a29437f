/** The text track that is shown, how large, and by how much it is shifted against the film. */
import { useEventListener, useLocalStorage } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'

const STEP_SECONDS = 0.5
const SIZES = [70, 85, 100, 125, 150, 200] as const

export function useTexts(media: Ref<HTMLMediaElement | null>, chosen: Ref<number | null>) {
  const offset = ref(0)
  const size = useLocalStorage('indice.text-size', 100)
  const applied = new WeakMap<TextTrackCue, number>()

  function show(): void {
    for (const track of media.value?.textTracks ?? []) {
      const wanted = track.id === `text-${chosen.value}`
      if (!wanted) track.mode = 'disabled'
      else if (track.mode !== 'showing') track.mode = 'showing'
    }
    shift()
  }
  /** Cues carry their own times: they are moved by what they were not moved yet. */
  function shift(): void {
    for (const track of media.value?.textTracks ?? []) {
      if (track.mode === 'disabled') continue
      for (const cue of [...(track.cues ?? [])]) {
        const more = offset.value - (applied.get(cue) ?? 0)
        if (!more) continue
        cue.startTime += more
        cue.endTime += more
        applied.set(cue, offset.value)
      }
    }
  }
  function move(by: number): void {
    offset.value = Math.round((offset.value + by * STEP_SECONDS) * 10) / 10
    shift()
  }
  function grow(by: number): void {
    const at = SIZES.findIndex((one) => one >= size.value)
    size.value = SIZES[Math.min(Math.max((at < 0 ? 2 : at) + by, 0), SIZES.length - 1)] ?? 100
  }
  watch(chosen, show)
  useEventListener(() => media.value?.textTracks, 'addtrack', show)
  return { offset, size, show, shift, move, grow }
}
