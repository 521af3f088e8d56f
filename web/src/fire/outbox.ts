import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { EventInput, Problem, TrialView } from '../api/schema.gen'

interface Entry {
  cook: number
  body: EventInput
}

const waiting = useLocalStorage<Entry[]>('barn.outbox', [])
const sending = ref(false)

/**
 * Presses of the pads, sent in their order. While the barn cannot be reached
 * they are kept on this device, with the time they were made; each has a number of
 * its own, so that one sent twice is logged once.
 */
export function useOutbox(cook: () => number, took: (v: TrialView) => void) {
  const problem = ref<Problem | null>(null)
  const mine = computed(() => waiting.value.filter((e) => e.cook === cook()))
  const send = (e: Entry) => ok(api.POST('/api/cooks/{id}/events', { params: { path: { id: e.cook } }, body: e.body }))

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
          if (!(err instanceof Refused) || err.problem.status === 0) return
          // It can never get through as it is: say why, and let the others by.
          problem.value = err.problem
        }
        waiting.value = waiting.value.slice(1)
      }
    } finally {
      sending.value = false
    }
  }
  /** Logs a press; undefined when it was kept, or refused. One without a time is of the moment it is pressed. */
  async function log(body: EventInput, pressed: string): Promise<TrialView | undefined> {
    problem.value = null
    const e = { cook: cook(), body }
    if (waiting.value.length === 0) {
      try {
        return await send(e)
      } catch (err) {
        if (!(err instanceof Refused)) throw err
        if (err.problem.status !== 0) {
          problem.value = err.problem
          return undefined
        }
      }
    }
    waiting.value = [...waiting.value, { ...e, body: { ...body, at: body.at ?? pressed } }]
    return undefined
  }
  const isWaiting = (press: string) => waiting.value.some((e) => e.body.press === press)
  /** Takes back a press that was not sent yet. */
  function drop(press: string): boolean {
    const there = isWaiting(press)
    waiting.value = waiting.value.filter((e) => e.body.press !== press)
    return there
  }
  useEventListener(window, 'online', () => void handIn())
  useIntervalFn(() => void handIn(), 2000, { immediateCallback: true })
  return { waiting: mine, problem, log, drop, isWaiting }
}
