import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { Problem, SealInput, TasteView } from '../api/schema.gen'

/** What is tapped of a sample and not sealed yet. */
export interface Draft {
  scores: Record<string, number>
  faults: string[]
}
type Sealed = SealInput & { code: string }

/** Answers after which a seal waits and is sent again. */
const waits = (status: number) => status === 0 || status === 408 || status === 429 || status >= 500
const longest = 8000

/**
 * A taster's ballot. What is tapped, and what is sealed, is on this phone first; seals go
 * to the barn in their order, by themselves, as soon as it can be reached.
 */
export function useBallot(token: string) {
  const view = ref<TasteView | null>(null)
  const problem = ref<Problem | null>(null)
  const drafts = useLocalStorage<Record<string, Draft>>(`barn.plate.${token}`, {})
  const queue = useLocalStorage<Sealed[]>(`barn.seals.${token}`, [])
  const sending = ref(false)
  const path = { path: { token } }
  const keyOf = (flight: number, code: string) => `${flight} ${code}`
  const queued = (flight: number, code: string) => queue.value.some((s) => s.flight === flight && s.code === code)

  async function load() {
    try {
      view.value = await ok(api.GET('/api/taste/{token}', { params: path, signal: AbortSignal.timeout(longest) }))
      if (!view.value.closed && queue.value.length === 0) problem.value = null
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      if (!view.value || !waits(e.problem.status)) problem.value = e.problem
    }
  }
  /** Sends what is sealed, the oldest first; stops at the first that does not get through. */
  async function handIn(): Promise<void> {
    if (sending.value || queue.value.length === 0) return
    sending.value = true
    try {
      while (queue.value.length > 0) {
        const { code, ...body } = queue.value[0]!
        try {
          const params = { path: { token, code } }
          const signal = AbortSignal.timeout(longest)
          view.value = await ok(api.POST('/api/taste/{token}/samples/{code}/seal', { params, body, signal }))
          problem.value = null
        } catch (e) {
          if (!(e instanceof Refused) || waits(e.problem.status)) return
          // It cannot be sealed as it is: what was tapped is open again, with the reason.
          problem.value = e.problem
          if (!body.excused)
            drafts.value = { ...drafts.value, [keyOf(body.flight, code)]: { scores: body.scores, faults: body.faults } }
        }
        queue.value = queue.value.filter((s) => s.code !== code || s.flight !== body.flight)
      }
    } finally {
      sending.value = false
    }
  }
  async function seal(flight: number, code: string, excused: boolean) {
    const d = drafts.value[keyOf(flight, code)] ?? { scores: {}, faults: [] }
    problem.value = null
    queue.value = [
      ...queue.value,
      { flight, code, scores: excused ? {} : d.scores, faults: excused ? [] : d.faults, excused },
    ]
    drafts.value = Object.fromEntries(Object.entries(drafts.value).filter(([k]) => k !== keyOf(flight, code)))
    await handIn()
  }
  async function tell(flight: number, susceptible: boolean) {
    try {
      view.value = await ok(api.POST('/api/taste/{token}/told', { params: path, body: { flight, susceptible } }))
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      problem.value = e.problem
    }
  }
  /** The plates with what is sealed on this phone. */
  const plates = computed(() =>
    (view.value?.plates ?? []).map((p) => ({
      ...p,
      samples: p.samples.map((s) => (queued(p.flight, s.code) ? { ...s, sealed: true } : s)),
    })),
  )
  void load()
  // Also while tasting: a sample can be stopped.
  useIntervalFn(() => {
    if (!sending.value && queue.value.length === 0 && !view.value?.closed) void load()
  }, 4000)
  useIntervalFn(() => void handIn(), 2000, { immediateCallback: true })
  useEventListener(window, 'online', () => void handIn())
  return {
    view,
    plates,
    problem,
    drafts,
    keyOf,
    load,
    seal,
    tell,
    sending,
    waiting: computed(() => queue.value.length),
  }
}
