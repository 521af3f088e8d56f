import { useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn, useThrottleFn } from '@vueuse/core'
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import type { CookView, Traces } from '../api/schema.gen'
import { append, type Arrived } from './scale'

/** How long the server keeps a forecast for all who ask. */
const forecastKept = 5_000

/** Two heartbeats of the server and a little, ms. */
const silence = 33_000

/** How long readings are kept that an answer on its way may not hold yet. */
const recentFor = 30_000

/**
 * Follows a cook: new readings and what others log show by themselves. read are
 * the traces as the server gave them; traces are these with what came since.
 */
export function useLive(cook: Ref<CookView | null>, read: Ref<Traces | undefined>, refresh: () => unknown) {
  const traces = shallowRef<Traces>()
  let recent: { came: number; reading: Arrived }[] = []
  const client = useQueryClient()
  const wire = ref<'joining' | 'live' | 'cut off'>('joining')
  /** The last reading of each probe, as it came. */
  const latest = shallowRef(new Map<number, { at: number; c: number }>())
  const anew = (what: string) => client.invalidateQueries({ queryKey: [what, cook.value?.id] })
  const redraw = useThrottleFn(() => void anew('traces'), 60_000, true, true)
  const reread = useThrottleFn(() => void refresh(), 700, true, true)
  const foresee = useThrottleFn(() => void anew('forecast'), forecastKept, true, false)
  const changed = () =>
    void Promise.all([reread(), foresee(), anew('alarms'), anew('due'), anew('clocks'), anew('so-far')])

  /** Puts readings on the ends of the traces, without asking for them again. */
  function arrived(e: MessageEvent<string>) {
    const readings = (JSON.parse(e.data) as { probe_id: number; at: string; c: number }[]).map((r): Arrived => ({
      probe: r.probe_id,
      at: Date.parse(r.at),
      c: r.c,
    }))
    const known = new Map(latest.value)
    for (const r of readings) if (r.at >= (known.get(r.probe)?.at ?? 0)) known.set(r.probe, { at: r.at, c: r.c })
    latest.value = known
    const now = Date.now()
    recent = [...recent.filter((r) => now - r.came < recentFor), ...readings.map((reading) => ({ came: now, reading }))]
    if (!traces.value) return
    const grown = append(traces.value, readings)
    traces.value = grown.traces
    if (!grown.all)
      void anew('traces') // a probe that was not drawn yet: what it measures must be read
    else void redraw() // now and then, so that the columns stay as wide as a pixel
  }

  watch(
    read,
    (t) => {
      traces.value =
        t &&
        append(
          t,
          recent.map((r) => r.reading),
        ).traces
    },
    { immediate: true },
  )

  // A line that swallows bytes stays open: without a sign for two heartbeats it is cut off.
  let heard = Date.now()
  useIntervalFn(() => {
    if (stream && wire.value === 'live' && Date.now() - heard > silence) {
      wire.value = 'cut off'
      if (cook.value) open(cook.value.id)
    }
  }, 2000)
  let stream: EventSource | null = null
  let again: ReturnType<typeof setTimeout> | undefined
  function close() {
    clearTimeout(again)
    stream?.close()
    stream = null
  }
  function open(id: number) {
    close()
    const s = (stream = new EventSource(`/api/live?cook=${id}`))
    const sign = () => (heard = Date.now())
    for (const kind of ['readings', 'changed', 'beat']) s.addEventListener(kind, sign)
    s.addEventListener('readings', arrived)
    s.addEventListener('changed', changed)
    s.onopen = () => {
      sign()
      wire.value = 'live'
      void anew('traces') // what came before the stream was open
      changed()
    }
    // The browser comes back by itself, and says what it saw last, unless it was refused.
    s.onerror = () => {
      wire.value = 'cut off'
      if (s.readyState === EventSource.CLOSED) again = setTimeout(() => open(id), 1000)
    }
  }
  watch(
    () => cook.value?.id,
    (id) => {
      wire.value = 'joining'
      latest.value = new Map()
      recent = []
      if (id === undefined) close()
      else open(id)
    },
    { immediate: true },
  )
  onScopeDispose(close)
  return { wire, latest, traces }
}
