import { nextTick, onMounted, watch, type Ref } from 'vue'

/** Scrolls a row that is wider than the screen so that the place where one is can be seen whole. */
export function useKeptInView(row: Ref<HTMLElement | undefined>, place: () => unknown): void {
  async function show(): Promise<void> {
    await nextTick()
    const here = row.value?.querySelector<HTMLElement>('[aria-current=page]')
    const box = row.value
    if (!here || !box || box.scrollWidth <= box.clientWidth) return
    // not scrollIntoView: it would scroll the page as well
    box.scrollLeft = here.offsetLeft - box.offsetLeft - (box.clientWidth - here.offsetWidth) / 2
  }
  onMounted(show)
  watch(place, show)
}
