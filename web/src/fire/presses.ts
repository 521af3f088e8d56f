import { useLocalStorage, useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { CookView, Detail, Event, EventInput } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { uuid } from '../ui/uuid'
import { useOutbox } from './outbox'

/** A press of this device, as it stands. */
export interface Press {
  press: string
  cook: number
  act: Event['act']
  at: string
  on: string // what it was done to
  note: string
  detail: Detail
  made: number // true time
  round?: string // of readings, all of which are taken back at once
}
/** What is pressed: an act on cuts, or on pits; at null is now. */
export type Pressed = Pick<EventInput, 'act' | 'at' | 'cut_ids' | 'pit_run_ids' | 'sure'> & { detail?: Detail }

// Undo reaches back ten minutes, also after the page was loaded anew.
const undoFor = 600_000
const presses = useLocalStorage<Press[]>('barn.presses', [])
/** Amendments follow one another, since each makes it another press. */
const amending = ref(Promise.resolve())

/** Logs presses of this device, and amends and takes back the last of them. now is the cook's clock. */
export function usePresses(cook: () => CookView, now: () => number) {
  const { trial, set } = useThisTrial()
  /** What was done last waits for a second hand. */
  const secondHand = ref(false)
  const outbox = useOutbox(() => cook().id, set)
  const tick = useNow({ interval: 5000 })
  const mine = computed(() => presses.value.filter((p) => p.cook === cook().id && +tick.value - p.made < undoFor))
  const last = computed(() => mine.value[mine.value.length - 1] ?? null)

  /** False when it was refused. */
  async function log(p: Pressed, round?: string): Promise<boolean> {
    secondHand.value = false
    const press = uuid()
    const detail = p.detail ?? {}
    const at = p.at ?? new Date(now()).toISOString()
    const v = await outbox.log({ ...p, detail, note: '', press }, at)
    if (!v && !outbox.isWaiting(press)) return false // it was turned away, and can be mended
    if (v?.waits) return (secondHand.value = true) // it is not of the record yet: there is nothing to take back
    const cuts = trial.value.cuts.filter((c) => p.cut_ids.includes(c.id)).map((c) => c.name)
    const pits = cook().runs.filter((r) => p.pit_run_ids.includes(r.id))
    const on = [...cuts, ...pits.map((r) => r.pit)].join(', ')
    const stood = v?.events.find((e) => e.press === press)?.at ?? at
    const here = Date.now()
    const kept = presses.value.filter((q) => here - q.made < undoFor)
    const made = Math.max(here, ...kept.map((q) => q.made + 1)) // a press is known by it
    presses.value = [...kept, { press, cook: cook().id, act: p.act, at: stood, on, note: '', detail, made, round }]
    return true
  }
  /** Another time, note or detail for the last press. */
  function amend(change: (was: Press) => Partial<Pick<Press, 'at' | 'note' | 'detail'>>) {
    const made = last.value?.made
    amending.value = amending.value.then(async () => {
      const was = presses.value.find((p) => p.made === made)
      if (!was) return
      const then = { ...was, ...change(was) }
      if (JSON.stringify(then) === JSON.stringify(was)) return
      const { press, waits } = await outbox.amend(was.press, { at: then.at, note: then.note, detail: then.detail })
      secondHand.value = waits
      if (outbox.problem.value || waits) return
      presses.value = presses.value.map((p) => (p.made === made ? { ...then, press } : p))
    })
    return amending.value
  }
  /** Takes the last press back, or all of the round that it was of. */
  async function undo() {
    const p = last.value
    if (!p) return
    await amending.value
    const those = p.round ? mine.value.filter((q) => q.round === p.round).reverse() : [p]
    for (const q of those) if (!(await takeBack(q))) return
  }
  async function takeBack(p: Press): Promise<boolean> {
    const stands = presses.value.find((q) => q.made === p.made)?.press ?? p.press
    const { gone, waits } = await outbox.undo(stands)
    secondHand.value = waits
    if (!gone) return false
    presses.value = presses.value.filter((q) => q.made !== p.made)
    return true
  }
  /** How many presses an undo takes back. */
  const undoes = computed(() =>
    last.value?.round ? mine.value.filter((q) => q.round === last.value!.round).length : 1,
  )
  /** Whether this device did it here of late, though the barn may not have it yet. */
  const did = (act: Event['act']) => mine.value.some((p) => p.act === act)
  return { last, undoes, did, log, amend, undo, outbox, secondHand }
}
