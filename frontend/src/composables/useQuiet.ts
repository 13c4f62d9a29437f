/** Controls go when nobody moves, and come with the pointer, a touch, a key, the focus. */
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { ref, type Ref } from 'vue'

const QUIET_AFTER_MS = 3000

/** `may`: whether it may become quiet now. */
export function useQuiet(may: () => boolean): { isQuiet: Ref<boolean>; stir: () => void } {
  const isQuiet = ref(false)
  const quiet = useTimeoutFn(() => (isQuiet.value = may()), QUIET_AFTER_MS)
  const stir = () => {
    isQuiet.value = false
    quiet.start()
  }
  useEventListener(window, ['pointermove', 'pointerdown', 'keydown', 'focusin'], stir)
  return { isQuiet, stir }
}
