import { watch } from 'vue'
import { CookClock } from './cookClock'

// One a cook for all pages: a page that opens with an older answer is not set back by it.
const clocks = new Map<number, CookClock>()

function clockOf(id: number): CookClock {
  const clock = clocks.get(id) ?? new CookClock(Date.now)
  clocks.set(id, clock)
  return clock
}

/** Has a cook's clock run slower at once, while the barn is asked to. */
export const slowDown = (id: number, rate: number): void => clockOf(id).slow(rate)

/** What it is now by a cook's own clock, ms; 0 without a cook. */
export function useCookNow(cook: () => { id: number; now: string; rate: number } | null): () => number {
  watch(cook, (k) => k && clockOf(k.id).hear(Date.parse(k.now), k.rate), { immediate: true })
  return () => {
    const k = cook()
    return k ? clockOf(k.id).now() : 0
  }
}
