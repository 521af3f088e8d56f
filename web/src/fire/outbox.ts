import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { CorrectionInput, EventInput, Problem, Logged } from '../api/schema.gen'
import { uuid } from '../ui/uuid'

/** A press of a pad, or what one is to say instead. */
type Entry = { cook: number } & ({ body: EventInput } | { of: string; to: CorrectionInput })
/** An entry that the barn would not take, and why. */
export interface Turned {
  cook: number
  text: string
  why: string
  remedy: string
  at: string
  body: EventInput | null // to be mended and sent again
  asks: boolean // it may well be so: somebody has only to say it
}

const waiting = useLocalStorage<Entry[]>('barn.outbox', [])
const turned = useLocalStorage<Turned[]>('barn.turned-away', [])
const sending = ref(false)

/** How long an answer may take before a press waits, ms. */
const longest = 8000
/** Answers after which a press waits and is sent again: no answer, a stumble, a proxy's word, nobody signed in. */
const waits = (status: number) => status === 0 || status === 401 || status === 408 || status === 429 || status >= 500

/**
 * Presses of the pads and what is amended of them, sent in their order. While
 * the barn cannot be reached they are kept on this device, with the time they were
 * made; each has a number of its own, so that one sent twice counts once.
 */
export function useOutbox(cook: () => number, took: (v: Logged) => void) {
  const problem = ref<Problem | null>(null)
  const mine = computed(() => waiting.value.filter((e) => e.cook === cook()))
  const send = (e: Entry) => {
    const signal = AbortSignal.timeout(longest)
    return 'body' in e
      ? ok(api.POST('/api/cooks/{id}/events', { params: { path: { id: e.cook } }, body: e.body, signal }))
      : ok(api.PUT('/api/presses/{press}', { params: { path: { press: e.of } }, body: e.to, signal }))
  }
  const keyOf = (e: Entry) => ('body' in e ? e.body.press : e.to.press)
  const remove = (e: Entry) => (waiting.value = waiting.value.filter((w) => keyOf(w) !== keyOf(e)))

  function turnAway(e: Entry, p: Problem) {
    const body = 'body' in e ? e.body : null
    const text = body ? `${body.act} ${body.note}`.trim() : 'an amendment'
    const at = (body ? body.at : 'to' in e ? e.to.at : null) ?? new Date().toISOString()
    const asks = !!body && p.errors.some((x) => x.field === 'sure')
    const remedy = [p.remedy, ...p.errors.slice(1).map((x) => `${x.problem}: ${x.remedy}`)].filter(Boolean).join(' ')
    turned.value = [...turned.value, { cook: e.cook, text, why: p.title, remedy, at, body, asks }]
  }
  /** Sends what waits, the oldest first; stops at the first that does not get through. */
  async function handIn(): Promise<void> {
    if (sending.value || waiting.value.length === 0) return
    sending.value = true
    try {
      while (waiting.value.length > 0) {
        const e = waiting.value[0]!
        try {
          const v = await send(e)
          if (e.cook === cook()) took(v)
        } catch (err) {
          if (!(err instanceof Refused) || waits(err.problem.status)) return
          // It can never get through as it is: keep it, say why, and let the others by.
          turnAway(e, err.problem)
        }
        remove(e)
      }
    } finally {
      sending.value = false
    }
  }
  /** Keeps one on this device, then sends it; undefined when it waits, or was refused. */
  async function put(e: Entry, kept: Entry): Promise<Logged | undefined> {
    problem.value = null
    const alone = waiting.value.length === 0 && !sending.value
    waiting.value = [...waiting.value, kept]
    if (!alone) return undefined
    sending.value = true
    try {
      const v = await send(e)
      remove(kept)
      return v
    } catch (err) {
      if (!(err instanceof Refused)) throw err
      if (!waits(err.problem.status)) {
        remove(kept)
        // A press is kept to be mended; an amendment still stands in its form.
        if ('body' in kept) turnAway(kept, err.problem)
        else problem.value = err.problem
      }
      return undefined
    } finally {
      sending.value = false
    }
  }
  /** Logs a press. One without a time is of the moment it is pressed. */
  function log(body: EventInput, pressed: string) {
    return put({ cook: cook(), body }, { cook: cook(), body: { ...body, at: body.at ?? pressed } })
  }
  /** Lets a press say something else; the answer is the press under which it stands now. */
  async function amend(of: string, to: Omit<CorrectionInput, 'press' | 'why'>) {
    const i = waiting.value.findIndex((e) => 'body' in e && e.body.press === of)
    if (i >= 0) {
      waiting.value = waiting.value.map((e, n) => (n === i && 'body' in e ? { ...e, body: { ...e.body, ...to } } : e))
      return { press: of, view: undefined }
    }
    const press = uuid()
    const e = { cook: cook(), of, to: { ...to, press, why: '' } }
    const view = await put(e, e)
    return { press: problem.value ? of : press, view }
  }
  const isWaiting = (press: string) =>
    waiting.value.some((e) => ('body' in e ? e.body.press === press : e.to.press === press))
  /** Takes back what of a press was not sent yet; the answer is what the barn has of it, null when that is nothing. */
  function drop(press: string): string | null {
    const change = waiting.value.find((e) => 'to' in e && e.to.press === press)
    if (change && 'of' in change) {
      waiting.value = waiting.value.filter((e) => e !== change)
      return drop(change.of)
    }
    if (!waiting.value.some((e) => 'body' in e && e.body.press === press)) return press
    waiting.value = waiting.value.filter((e) => !('body' in e && e.body.press === press))
    return null
  }
  const turnedAway = computed(() => turned.value.filter((e) => e.cook === cook()))
  const forget = (e: Turned) => (turned.value = turned.value.filter((x) => x !== e))
  useEventListener(window, 'online', () => void handIn())
  useIntervalFn(() => void handIn(), 2000, { immediateCallback: true })
  return { waiting: mine, problem, log, amend, drop, isWaiting, turnedAway, forget }
}
