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

/** Whether a dialog lies over the page; one that was closed may still be in the document, and is not seen. */
function isCovered(): boolean {
  const covers = document.querySelectorAll<HTMLElement>(
    '[role="dialog"][aria-modal="true"], .el-overlay',
  )
  return [...covers].some(
    (cover) =>
      !cover.closest('.el-overlay[style*="display: none"]') && cover.style.display !== 'none',
  )
}

export function useKeys(keys: Keys): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
    if (isCovered()) return
    const handler = keys[event.key]
    if (handler) {
      event.preventDefault()
      handler(event)
    }
  })
}
