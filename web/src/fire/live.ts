import { useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { useReadings, wire, type Arrival } from '../api/stream'
import type { CookView, Traces } from '../api/schema.gen'
import { append, type Arrived } from './scale'

/** How long readings are kept that an answer on its way may not hold yet. */
const recentFor = 30_000

/**
 * Follows a cook: new readings and what others log show by themselves. read are
 * the traces as the server gave them; traces are these with what came since.
 */
export function useLive(cook: Ref<CookView | null>, read: Ref<Traces | undefined>) {
  const traces = shallowRef<Traces>()
  let readAt = 0
  let recent: { came: number; reading: Arrived }[] = []
  const client = useQueryClient()
  /** The last reading of each probe, as it came. */
  const latest = shallowRef(new Map<number, { at: number; c: number }>())
  const anew = (what: string) => client.invalidateQueries({ queryKey: [what, cook.value?.id] })
  // Now and then, so that the columns stay as wide as a pixel.
  let grew = false
  useIntervalFn(() => {
    if (grew) void anew('traces')
    grew = false
  }, 60_000)

  /** Puts readings on the ends of the traces, without asking for them again. */
  function arrived(rows: Arrival[]) {
    const readings = rows.map((r): Arrived => ({
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
    else grew = true
  }

  watch(
    read,
    (t) => {
      readAt = Date.now()
      traces.value =
        t &&
        append(
          t,
          recent.map((r) => r.reading),
        ).traces
    },
    { immediate: true },
  )

  useReadings(
    computed(() => cook.value?.id),
    arrived,
    // What came while the stream was not open; it brings the last seconds by itself.
    (lost) => traces.value && (lost || Date.now() - readAt > 10_000) && void anew('traces'),
  )
  watch(
    () => cook.value?.id,
    () => {
      latest.value = new Map()
      recent = []
    },
  )
  return { wire, latest, traces }
}
