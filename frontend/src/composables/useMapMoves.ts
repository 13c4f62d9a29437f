/** Moves a map by mouse, wheel, fingers and keys. */
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { bounded, closer, type Size, type View } from './earth'
import { useKeys } from './useKeys'

const STEP_PX = 90
const STEP = 1.6

export function useMapMoves(element: Ref<HTMLElement | null>, view: Ref<View | undefined>) {
  const { width, height } = useElementSize(element)
  const size = computed<Size>(() => ({ width: width.value, height: height.value }))
  const isDragged = ref(false)
  const fingers = new Map<number, { x: number; y: number }>()

  function pan(dx: number, dy: number): void {
    const now = view.value
    if (now)
      view.value = bounded(
        { ...now, x: now.x - dx / now.scale, y: now.y - dy / now.scale },
        size.value,
      )
  }
  function zoom(factor: number, at?: { x: number; y: number }): void {
    if (view.value) view.value = closer(view.value, size.value, factor, at)
  }
  watch(size, () => {
    if (view.value && width.value) view.value = bounded(view.value, size.value)
  })

  const at = (event: MouseEvent) => {
    const box = element.value?.getBoundingClientRect()
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) }
  }
  useEventListener(
    element,
    'wheel',
    (event: WheelEvent) => {
      event.preventDefault()
      zoom(2 ** (-event.deltaY / (event.deltaMode ? 8 : 300)), at(event))
    },
    { passive: false },
  )
  useEventListener(element, 'pointerdown', (event: PointerEvent) => {
    if (event.button === 0) fingers.set(event.pointerId, at(event))
    isDragged.value = false
  })
  useEventListener(window, 'pointermove', (event: PointerEvent) => {
    const before = fingers.get(event.pointerId)
    if (!before) return
    const now = at(event)
    const other = [...fingers].find(([id]) => id !== event.pointerId)?.[1]
    if (other) {
      const apart = (one: { x: number; y: number }) => Math.hypot(one.x - other.x, one.y - other.y)
      const middle = { x: (now.x + other.x) / 2, y: (now.y + other.y) / 2 }
      zoom(apart(now) / Math.max(apart(before), 1), middle)
      pan((now.x - before.x) / 2, (now.y - before.y) / 2)
    } else if (isDragged.value || Math.hypot(now.x - before.x, now.y - before.y) > 4) {
      pan(now.x - before.x, now.y - before.y)
      isDragged.value = true
    } else return
    fingers.set(event.pointerId, now)
  })
  for (const over of ['pointerup', 'pointercancel'] as const)
    useEventListener(window, over, (event: PointerEvent) => fingers.delete(event.pointerId))

  useKeys({
    ArrowLeft: () => pan(STEP_PX, 0),
    ArrowRight: () => pan(-STEP_PX, 0),
    ArrowUp: () => pan(0, STEP_PX),
    ArrowDown: () => pan(0, -STEP_PX),
    '+': () => zoom(STEP),
    '-': () => zoom(1 / STEP),
  })
  return { size, zoom, step: STEP, isDragged }
}
