import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, longest, ok, Refused, refusalOf } from '../api/client'
import type { AnswerInput, Problem, TasteView } from '../api/schema.gen'
import { waits } from '../ui/outbox'
import { shelfOf } from '../ui/shelf'
import { sampleKey, SealBox, type Draft, type Waiting } from './sealBox'

export type { Draft } from './sealBox'

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
  async function send(w: Waiting): Promise<TasteView> {
    const signal = AbortSignal.timeout(longest)
    sending.value = true
    try {
      if (w.answer) return await ok(api.POST('/api/taste/{token}/answer', { params: path, body: w.answer, signal }))
      const { code, ...body } = w
      const sample = { params: { path: { token, code } }, body, signal }
      return await ok(api.POST('/api/taste/{token}/samples/{code}/seal', sample))
    } finally {
      sending.value = false
    }
  }
  const box = new SealBox({
    queue: shelfOf(queue),
    drafts: shelfOf(drafts),
    send,
    refusal: refusalOf,
    took: (v) => {
      view.value = v
      problem.value = null
    },
    refused: (p) => (problem.value = p),
  })
  const put = (flight: number, code: string, d: Draft) => box.put(flight, code, d)
  function seal(flight: number, code: string, excused: boolean) {
    problem.value = null
    const again = view.value?.plates.find((p) => p.flight === flight)?.sheet.second_look ?? false
    return box.seal(flight, code, excused, again)
  }
  function answer(a: AnswerInput) {
    problem.value = null
    return box.answer(a)
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
    if (!box.sending && queue.value.length === 0 && !over()) void load()
  }, 4000)
  useIntervalFn(() => void box.handIn(), 2000, { immediateCallback: true })
  useEventListener(window, 'online', () => void box.handIn())
  return {
    view,
    plates,
    problem,
    drafts,
    keyOf: sampleKey,
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
