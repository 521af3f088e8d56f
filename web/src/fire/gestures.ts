import { useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/** What a hand does on the lanes; a view is from, to in ms. */
interface Lanes {
  view: () => [number, number]
  /** The moment under a pixel of the plot. */
  at: (px: number) => number
  /** Time in a pixel, ms. */
  per: () => number
  look: (view: [number, number]) => void
  mark: (ms: number) => void
}

/**
 * Dragging moves the view, a click marks a moment, a pinch and the wheel with
 * Ctrl zoom around where they are; the plain wheel is the page's.
 */
export function useGestures(plot: Ref<HTMLElement | null>, lanes: Lanes) {
  const hover = ref<number | null>(null)
  let since = -Infinity
  let drag: { px: number; view: [number, number]; moved: boolean } | null = null
  const fingers = new Map<number, number>()
  let apart = 0

  const local = (e: MouseEvent) => e.clientX - plot.value!.getBoundingClientRect().left
  function zoom(factor: number, ms: number) {
    since = performance.now()
    const [a, b] = lanes.view()
    lanes.look([ms - (ms - a) * factor, ms + (b - ms) * factor])
  }
  function pinch() {
    const [a, b] = [...fingers.values()] as [number, number]
    const now = Math.abs(a - b)
    if (apart > 8 && now > 8) zoom(apart / now, lanes.at((a + b) / 2))
    apart = now
  }
  useEventListener(
    plot,
    'wheel',
    (e: WheelEvent) => {
      if (!e.ctrlKey && !e.metaKey) return
      e.preventDefault()
      zoom(e.deltaY > 0 ? 1.25 : 0.8, lanes.at(local(e)))
    },
    { passive: false },
  )
  useEventListener(plot, 'pointerdown', (e: PointerEvent) => {
    fingers.set(e.pointerId, local(e))
    drag = fingers.size === 1 ? { px: local(e), view: [...lanes.view()], moved: false } : null
    apart = 0
  })
  useEventListener(plot, 'pointermove', (e: PointerEvent) => {
    if (fingers.has(e.pointerId)) fingers.set(e.pointerId, local(e))
    if (fingers.size === 2) return pinch()
    if (!drag) {
      hover.value = e.pointerType === 'touch' ? null : lanes.at(local(e))
      return
    }
    since = performance.now()
    const by = local(e) - drag.px
    if (Math.abs(by) > 4) drag.moved = true
    if (!drag.moved) return
    hover.value = null
    const ms = by * lanes.per()
    lanes.look([drag.view[0] - ms, drag.view[1] - ms])
  })
  useEventListener(plot, 'pointerup', (e: PointerEvent) => {
    fingers.delete(e.pointerId)
    if (drag && !drag.moved) lanes.mark(Math.round(lanes.at(local(e)) / 60_000) * 60_000)
    drag = null
  })
  const leave = (e: PointerEvent) => {
    fingers.delete(e.pointerId)
    hover.value = null
    drag = null
  }
  useEventListener(plot, 'pointerleave', leave)
  useEventListener(plot, 'pointercancel', leave)
  /** How long a hand has rested, ms. */
  return { hover, rested: () => performance.now() - since }
}
