import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { AnswerInput, Problem, SealInput, TasteView } from '../api/schema.gen'

/** What is tapped of a sample and not sealed yet. */
export interface Draft {
  scores: Record<string, number>
  faults: string[]
}
type Sealed = SealInput & { code: string; answer?: undefined }
/** What waits to be handed in: the seal of a sample, or the answer about a plate. */
type Waiting = Sealed | { flight: number; code?: undefined; answer: AnswerInput }

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
  const queue = useLocalStorage<Waiting[]>(`barn.seals.${token}`, [])
  // Opened on this phone before: then a page that the barn is away from can still be read.
  const opened = useLocalStorage(`barn.opened.${token}`, false)
  const sending = ref(false)
  const path = { path: { token } }
  const keyOf = (flight: number, code: string) => `${flight} ${code}`
  const queued = (flight: number, code: string) => queue.value.some((s) => s.flight === flight && s.code === code)
  const answered = (flight: number) => queue.value.some((s) => s.flight === flight && s.answer)

  async function load(): Promise<void> {
    try {
      const signal = AbortSignal.timeout(longest)
      // The first time binds the page to this phone.
      view.value = opened.value
        ? await ok(api.GET('/api/taste/{token}', { params: path, signal }))
        : await ok(api.POST('/api/taste/{token}/open', { params: path, signal }))
      opened.value = true
      if (!view.value.closed && queue.value.length === 0) problem.value = null
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      if (e.problem.status === 403 && opened.value) {
        opened.value = false // freed meanwhile
        return load()
      }
      if (!view.value || !waits(e.problem.status)) problem.value = e.problem
    }
  }
  function send(w: Waiting) {
    const signal = AbortSignal.timeout(longest)
    if (w.answer) return ok(api.POST('/api/taste/{token}/answer', { params: path, body: w.answer, signal }))
    const { code, ...body } = w
    return ok(api.POST('/api/taste/{token}/samples/{code}/seal', { params: { path: { token, code } }, body, signal }))
  }
  const put = (flight: number, code: string, d: Draft) => (drafts.value = { ...drafts.value, [keyOf(flight, code)]: d })
  /** Sends what is sealed, the oldest first; stops at the first that does not get through. */
  async function handIn(): Promise<void> {
    if (sending.value || queue.value.length === 0) return
    sending.value = true
    try {
      while (queue.value.length > 0) {
        const first = queue.value[0]!
        try {
          view.value = await send(first)
          problem.value = null
        } catch (e) {
          if (!(e instanceof Refused) || waits(e.problem.status)) return
          // It cannot be sealed as it is: what was tapped is open again, with the reason.
          problem.value = e.problem
          if (!first.answer && !first.excused)
            put(first.flight, first.code, { scores: first.scores, faults: first.faults })
        }
        queue.value = queue.value.slice(1)
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
    // A second look starts from what was sealed.
    if (!view.value?.plates.find((p) => p.flight === flight)?.sheet.second_look)
      drafts.value = Object.fromEntries(Object.entries(drafts.value).filter(([k]) => k !== keyOf(flight, code)))
    await handIn()
  }
  async function answer(a: AnswerInput) {
    problem.value = null
    queue.value = [...queue.value, { flight: a.flight, answer: a }]
    await handIn()
  }
  async function consent() {
    try {
      view.value = await ok(api.POST('/api/taste/{token}/consent', { params: path }))
    } catch (e) {
      if (!(e instanceof Refused)) throw e // it is kept with the next that gets through
    }
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
      ended: p.ended || answered(p.flight),
      samples: p.samples.map((s) => (queued(p.flight, s.code) ? { ...s, sealed: true } : s)),
    })),
  )
  void load()
  // Also while tasting: a sample can be stopped. After it, what was tasted may be shared.
  const over = () => view.value?.closed && (view.value.was.length > 0 || document.visibilityState !== 'visible')
  useIntervalFn(() => {
    if (!sending.value && queue.value.length === 0 && !over()) void load()
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
    put,
    seal,
    answer,
    tell,
    consent,
    sending,
    waiting: computed(() => queue.value.length),
  }
}
