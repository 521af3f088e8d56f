import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref } from 'vue'
import { api, longest, ok, refusalOf } from '../api/client'
import type { CorrectionInput, EventInput, Logged, Problem } from '../api/schema.gen'
import { shelfOf } from '../ui/shelf'
import { uuid } from '../ui/uuid'
import { PressBox, type Entry, type Turned } from './pressBox'

export type { Turned } from './pressBox'

const waiting = useLocalStorage<Entry[]>('barn.outbox', [])
const turned = useLocalStorage<Turned[]>('barn.turned-away', [])

const send = (e: Entry) => {
  const signal = AbortSignal.timeout(longest)
  return 'body' in e
    ? ok(api.POST('/api/cooks/{id}/events', { params: { path: { id: e.cook } }, body: e.body, signal }))
    : ok(api.PUT('/api/presses/{press}', { params: { path: { press: e.of } }, body: e.to, signal }))
}
/** What is shown of a cook hears of what was taken for it. */
const shown = new Set<(e: Entry, v: Logged) => boolean>()
const box = new PressBox({
  waiting: shelfOf(waiting),
  turned: shelfOf(turned),
  send,
  refusal: refusalOf,
  took: (e, v) => void [...shown].some((hear) => hear(e, v)),
  now: () => new Date().toISOString(),
})

/** The presses of a cook that wait on this device, and the way to it for new ones. */
export function useOutbox(cook: () => number, took: (v: Logged) => void) {
  const problem = ref<Problem | null>(null)
  const hear = (e: Entry, v: Logged) => {
    if (e.cook !== cook()) return false
    took(v)
    return true
  }
  shown.add(hear)
  onScopeDispose(() => shown.delete(hear))

  function log(body: EventInput, pressed: string) {
    problem.value = null
    return box.log(cook(), body, pressed)
  }
  async function amend(of: string, to: Omit<CorrectionInput, 'press' | 'why' | 'sure'>) {
    const stands = await box.amend(cook(), of, { ...to, press: uuid() })
    problem.value = box.problem
    return { press: stands, waits: box.secondHand }
  }
  useEventListener(window, 'online', () => void box.handIn())
  useIntervalFn(() => void box.handIn(), 2000, { immediateCallback: true })
  return {
    waiting: computed(() => waiting.value.filter((e) => e.cook === cook())),
    problem,
    log,
    amend,
    drop: (press: string) => box.drop(press),
    isWaiting: (press: string) => box.isWaiting(press),
    turnedAway: computed(() => turned.value.filter((e) => e.cook === cook())),
    forget: (e: Turned) => (turned.value = turned.value.filter((x) => x !== e)),
  }
}
