import { useDebounceFn } from '@vueuse/core'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { useGestures } from './gestures'
import { doorPx, timeScale, type Room, type TimeScale } from './scale'

/**
 * The sheet the lanes are drawn on. While a hand moves the picture, it is moved as it is; it is
 * drawn anew once the hand rests.
 */
export function useSheet(o: {
  plot: Ref<HTMLElement | null>
  view: () => [number, number]
  room: () => Room
  /** The moment at which the door hangs. */
  hangs: () => number
  look: (view: [number, number]) => void
  mark: (ms: number) => void
}) {
  const drawn = shallowRef(o.view())
  const rests = 140
  const settle = useDebounceFn(() => (drawn.value = o.view()), rests)
  watch(o.view, (v) => {
    if (rested() < rests) void settle()
    else drawn.value = v
  })
  // The door as its pixel: while that stays, what is drawn does too.
  const door = computed(() => doorPx(drawn.value, o.room(), o.hangs()))
  const scale = computed(() => timeScale(drawn.value, o.room(), door.value))
  const x = computed<TimeScale['x']>(() => scale.value.x)
  const seen = computed(() => timeScale(o.view(), o.room(), doorPx(o.view(), o.room(), o.hangs())))
  const perPx = (v: [number, number]) => (v[1] - v[0]) / Math.max(1, o.room().width - o.room().gutter - o.room().door)
  const moved = computed(() => {
    const [a, b] = drawn.value
    const [c, d] = o.view()
    if (a === c && b === d) return undefined
    return { transform: `translateX(${(a - c) / perPx(o.view())}px) scaleX(${(b - a) / (d - c)})` }
  })
  const { hover, rested } = useGestures(o.plot, {
    view: o.view,
    at: (px) => seen.value.at(px),
    per: () => perPx(o.view()),
    look: o.look,
    mark: o.mark,
  })
  return { drawn, door, x, moved, hover, /** Where the hand sees a moment, also while the sheet is moved. */ seen }
}
