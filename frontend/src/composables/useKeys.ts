/** Keys of a place. Never while somebody types. */
import { useEventListener } from '@vueuse/core'

export type Keys = Record<string, (event: KeyboardEvent) => void>

export function isTyping(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null
  return (
    !!element &&
    (element.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(element.tagName))
  )
}

export function useKeys(keys: Keys): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
    if (
      document.querySelector(
        '[role="dialog"][aria-modal="true"], .el-overlay:not([style*="display: none"])',
      )
    )
      return
    const handler = keys[event.key]
    if (handler) {
      event.preventDefault()
      handler(event)
    }
  })
}
