import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

/**
 * Drags something by mouse, finger or pen onto an element with `data-drop`.
 * A press that does not move is a click and drops nothing.
 */
export function useDrag<T>(drop: (what: T, target: string) => void) {
  const dragged = ref<T | null>(null)
  const at = ref<{ x: number; y: number } | null>(null)
  const over = ref<string | null>(null)
  let began: { x: number; y: number; what: T } | null = null

  function start(e: PointerEvent, what: T) {
    if (e.button !== 0) return
    began = { x: e.clientX, y: e.clientY, what }
    // A finger would otherwise keep its moves for the element it began on.
    ;(e.target as Element).releasePointerCapture?.(e.pointerId)
  }
  const target = (e: PointerEvent) =>
    (document.elementFromPoint(e.clientX, e.clientY)?.closest('[data-drop]') as HTMLElement | null)?.dataset.drop ??
    null
  useEventListener(window, 'pointermove', (e: PointerEvent) => {
    if (!began) return
    if (!dragged.value && Math.hypot(e.clientX - began.x, e.clientY - began.y) > 6) dragged.value = began.what as never
    if (!dragged.value) return
    at.value = { x: e.clientX, y: e.clientY }
    over.value = target(e)
  })
  function end(e: PointerEvent) {
    const what = dragged.value as T | null
    const on = what === null ? null : target(e)
    began = null
    dragged.value = null
    at.value = over.value = null
    if (what !== null && on !== null && e.type === 'pointerup') drop(what, on)
  }
  useEventListener(window, 'pointerup', end)
  useEventListener(window, 'pointercancel', end)
  return { start, dragged, at, over }
}
