import { computed, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import type { PlanView } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { ticks } from '../fire/scale'
import { hourOf } from '../ui/time'
import { railOf, railX, type Rail } from './rail'

/** The clock of a plan's rail, which all its lines share: moments as percent of the width. */
export interface RailScale {
  rail: ComputedRef<Rail>
  width: Ref<number>
  marks: ComputedRef<number[]>
  nights: ComputedRef<[number, number][]>
  x: (t: string | number) => number
  left: (t: string | number) => { left: string }
  between: (a: string | number, b: string | number) => { left: string; width: string }
}
export const railKey: InjectionKey<RailScale> = Symbol('rail')

const pc = (v: number) => `${v}%`

export function useRailScale(work: () => PlanView, width: Ref<number>): RailScale {
  const rail = computed(() => railOf(work()))
  const x = (t: string | number) => railX(rail.value, t)
  const marks = computed(() =>
    ticks(rail.value.fire, rail.value.to, Math.max(1, width.value) * (1 - rail.value.lead)).filter(
      (t) => t > rail.value.fire && (x(t) / 100 - rail.value.lead) * width.value > 24, // clear of what is before
    ),
  )
  const nights = computed(() => {
    const out: [number, number][] = []
    let from: number | null = null
    const step = 15 * 60_000
    for (let t = Math.ceil(rail.value.fire / step) * step; t <= rail.value.to; t += step) {
      const dark = hourOf(t) >= vocabulary.night.from || hourOf(t) < vocabulary.night.to
      if (dark) from ??= t
      if ((!dark || t + step > rail.value.to) && from !== null) {
        out.push([from, t])
        from = null
      }
    }
    return out
  })
  return {
    rail,
    width,
    marks,
    nights,
    x,
    left: (t) => ({ left: pc(x(t)) }),
    between: (a, b) => ({ left: pc(x(a)), width: pc(Math.max(0.2, x(b) - x(a))) }),
  }
}
