import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { api, longest, ok, onlyAs, refusalOf } from '../api/client'
import type { CorrectionInput, EventInput, Logged, Problem } from '../api/schema.gen'
import { useSession } from '../session/session'
import { shelfOf } from '../ui/shelf'
import { uuid } from '../ui/uuid'
import { isOf, PressBox, type Entry, type Turned, type Who } from './pressBox'

export type { Turned } from './pressBox'

/** Whether this device has no room for what waits: then it is in the open page alone. */
const full = ref(false)
const room = { onError: () => void (full.value = true) }
/** What waits on this device, of all cooks and people. */
export const waiting = useLocalStorage<Entry[]>('barn.outbox', [], room)
const turned = useLocalStorage<Turned[]>('barn.turned-away', [], room)
watch(waiting, (w) => w.length === 0 && (full.value = false))

/** Who was signed in on this device last, also while the barn is away. */
const who = useLocalStorage<Who>('barn.person', { id: 0, name: '' })

const send = (e: Entry): Promise<Logged> => {
  const way = { signal: AbortSignal.timeout(longest), headers: { [onlyAs]: e.who ? String(e.who.id) : undefined } }
  if ('body' in e)
    return ok(api.POST('/api/cooks/{id}/events', { params: { path: { id: e.cook } }, body: e.body, ...way }))
  if ('to' in e) return ok(api.PUT('/api/presses/{press}', { params: { path: { press: e.of } }, body: e.to, ...way }))
  return ok(
    api.POST('/api/presses/{press}/void', { params: { path: { press: e.undo } }, body: { why: 'undo' }, ...way }),
  )
}
/** What is shown of a cook hears of what was taken for it. */
const shown = new Set<(e: Entry, v: Logged) => boolean>()
const box = new PressBox({
  waiting: shelfOf(waiting),
  turned: shelfOf(turned),
  who: () => who.value,
  send,
  refusal: refusalOf,
  took: (e, v) => void [...shown].some((hear) => hear(e, v)),
  now: () => new Date().toISOString(),
})

/** The presses of a cook that wait on this device, and the way to it for new ones. */
export function useOutbox(cook: () => number, took: (v: Logged) => void) {
  const problem = ref<Problem | null>(null)
  const { person } = useSession()
  watch(person, (p) => p && (who.value = { id: p.id, name: p.name }), { immediate: true, flush: 'sync' })
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
  /** False when it was refused or waits for a second hand. */
  async function undo(press: string) {
    const gone = await box.undo(cook(), press)
    problem.value = box.problem
    return { gone, waits: box.secondHand }
  }
  useEventListener(window, 'online', () => void box.handIn())
  useIntervalFn(() => void box.handIn(), 2000, { immediateCallback: true })
  return {
    waiting: computed(() => waiting.value.filter((e) => e.cook === cook() && isOf(e, who.value))),
    /** Whose entries wait here until they sign in again. */
    waitsFor: computed(() => [...new Set(waiting.value.filter((e) => !isOf(e, who.value)).map((e) => e.who!.name))]),
    problem,
    full,
    log,
    amend,
    undo,
    isWaiting: (press: string) => box.isWaiting(press),
    turnedAway: computed(() => turned.value.filter((e) => e.cook === cook())),
    forget: (e: Turned) => (turned.value = turned.value.filter((x) => x !== e)),
  }
}
