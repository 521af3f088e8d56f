import { useQuery, useQueryClient, type QueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, ok } from './client'
import type { Event, Logged, TrialParts, TrialView } from './schema.gen'

/** What changes of a trial answer: the parts they touched, or the entries they made. */
export type Changed = TrialParts | Logged

/** Counts what was put into the picture of each trial, so that a read that began before is not put over it. */
const stamps = new Map<number, number>()
const stamp = (id: number) => stamps.set(id, (stamps.get(id) ?? 0) + 1)

const key = (id: number) => ['trial', id]

/** Keeps the picture where the service worker looks for the last answer: a reload while the barn is away shows it. */
const copying = new Map<number, ReturnType<typeof setTimeout>>()
function keepCopy(v: TrialView) {
  if (!('caches' in window)) return
  clearTimeout(copying.get(v.id))
  copying.set(
    v.id,
    setTimeout(() => {
      const body = new Response(JSON.stringify(v), { headers: { 'Content-Type': 'application/json' } })
      void caches.open('barn-record').then((c) => c.put(`/api/trials/${v.id}`, body))
    }, 500),
  )
}

/** Puts what changed into the picture of a trial. */
function put(client: QueryClient, id: number, v: Changed) {
  const now = client.setQueryData<TrialView>(key(id), (was) => was && { ...was, ...('gone' in v ? logged(was, v) : v) })
  if (now) keepCopy(now)
  return now
}

/** The log with what a press made of it. */
function logged(was: TrialView, l: Logged) {
  const out = new Set([...l.gone, ...l.events.map((e) => e.id)])
  const order = (a: Event, b: Event) => Date.parse(a.at) - Date.parse(b.at) || a.id - b.id
  return { events: [...was.events.filter((e) => !out.has(e.id)), ...l.events].sort(order), clashes: l.clashes }
}

const parts = ['ask', 'steps', 'cuts', 'cooks', 'log', 'imports', 'table'] as const
export type Part = (typeof parts)[number]

/** Reads parts of a trial that is shown, once more if something was put meanwhile. */
export async function readParts(client: QueryClient, id: number, which: string[]): Promise<void> {
  const of = parts.filter((p: Part) => which.includes(p))
  const shown = client
    .getQueryCache()
    .find({ queryKey: key(id) })
    ?.isActive()
  if (!shown || of.length === 0) return
  const before = stamps.get(id)
  try {
    const v = await ok(api.GET('/api/trials/{id}/parts', { params: { path: { id }, query: { of } } }))
    if (stamps.get(id) !== before) return readParts(client, id, which)
    put(client, id, v)
  } catch {
    // Cut off: the stream says so, and reads all anew when it is back.
  }
}

/** One trial, kept up by the stream and by every call that changes it. */
export function useTrial(id: Ref<number>) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: computed(() => key(id.value)),
    queryFn: () => ok(api.GET('/api/trials/{id}', { params: { path: { id: id.value } } })),
  })
  /** Puts what a change answered into the picture; the answer is the trial with it. */
  function set(v: Changed | undefined): TrialView | undefined {
    if (!v) return undefined
    const of = 'trial_id' in v ? v.trial_id : v.id
    stamp(of)
    void client.invalidateQueries({ queryKey: ['trials'] })
    return put(client, of, v)
  }
  return {
    trial: query.data,
    error: query.error,
    set,
    refresh: (...which: Part[]) => readParts(client, id.value, which),
  }
}
