/** Turns from picture to picture by itself, and has the next one ready. */
import { useIntervalFn } from '@vueuse/core'
import { ref, watch } from 'vue'

const EACH_MS = 5000

export function useSlides(step: () => boolean, following: () => string | undefined) {
  const isOn = ref(false)
  const { pause, resume } = useIntervalFn(
    () => {
      if (!step()) isOn.value = false
    },
    EACH_MS,
    { immediate: false },
  )
  watch(isOn, (on) => (on ? resume() : pause()))
  watch(
    following,
    (address) => {
      if (address) new Image().src = address
    },
    { immediate: true },
  )
  /** Who turns by hand looks at that picture as long as at any other. */
  function again(): void {
    if (isOn.value) resume()
  }
  return { isOn, again, toggle: () => (isOn.value = !isOn.value) }
}
