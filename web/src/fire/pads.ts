import { until, useMediaQuery, useNow } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import type { CookView, CutView, Detail, Event } from '../api/schema.gen'
import { logsAs } from '../plan/tasks'
import { useThisTrial } from '../trial/trial'
import { handheld } from '../ui/screens'
import { span } from '../ui/time'
import { inHand, more, pads } from './acts'
import { dueAt, dueIn, useDue } from './due'

type Act = Event['act']
/** How long a press waits for the plan, ms. */
const planWithin = 5000

/**
 * The pads of a cook: which are at hand, and what each says: when it is due, or how long ago it was
 * last pressed. They keep their places: what is due moves no pad. now is the cook's clock.
 */
export function usePads(cook: () => CookView, now: () => number, targets: Ref<CutView[]>, runs: Ref<number[]>) {
  const { trial } = useThisTrial()
  const { due, isPending } = useDue(cook)
  const small = useMediaQuery(handheld)
  const tick = useNow({ interval: 15_000 })
  const about = computed(() => (void tick.value, now()))
  const nextOf = (a: Act) =>
    due.value.find(
      (d) => logsAs(d.act) === a && (d.cuts.length === 0 || targets.value.some((c) => d.cuts.includes(c.id))),
    )
  const isDue = (a: Act) => {
    const d = nextOf(a)
    return !!d && dueAt(d) - about.value < 600_000
  }
  function says(a: Act): string {
    const d = nextOf(a)
    if (d && dueAt(d) - about.value < 7_200_000) return dueIn(d, about.value)
    const mine = new Set(targets.value.map((c) => c.id))
    const was = trial.value.events.filter(
      (e) => e.act === a && ((e.cut_id && mine.has(e.cut_id)) || (e.pit_run_id && runs.value.includes(e.pit_run_id))),
    )
    const last = Math.max(...was.map((e) => Date.parse(e.at)))
    return was.length ? `${span(Math.max(0, about.value - last) / 3_600_000)} ago` : ''
  }
  const shown = computed(() => (small.value ? inHand : pads))
  const behind = computed(() => [...pads.filter((a) => !shown.value.includes(a)), ...more])
  /** What is due of what lies behind More. */
  const dueBehind = computed(() => behind.value.find(isDue))
  /** What is due of an act, where it is due of all that is pressed. What goes in is the plan's to say: it is waited for a little. */
  async function planned(a: Act): Promise<Detail> {
    if (isPending.value) await until(isPending).toBe(false, { timeout: planWithin })
    const d = nextOf(a)
    return d && (d.cuts.length === 0 || targets.value.every((c) => d.cuts.includes(c.id))) ? d.detail : {}
  }
  return { small, shown, behind, dueBehind, isDue, says, planned, noPlanYet: isPending }
}
