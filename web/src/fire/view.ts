import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { api, ok } from '../api/client'
import { handheld } from '../ui/screens'
import type { CookView, Event, Traces } from '../api/schema.gen'

/** The readings of a cook for what is in view, as fine as the screen can show. */
export function useTraces(cookId: Ref<number | null>) {
  const zoomed = ref<[number, number] | null>(null)
  // As wide as the plot will be, so that the first question is the right one.
  const heads = window.matchMedia(handheld).matches ? 84 : window.innerWidth > 1000 ? 148 : 118
  const width = ref(window.innerWidth - heads)
  const asked = refDebounced(zoomed, 120)
  const columns = refDebounced(width, 200)
  /** Lanes that are shifted show what lies outside of the view on the clock. */
  const shift = ref(0)
  const wanted = computed(() => {
    const v = asked.value
    // In steps: a few pixels more or less are no other picture.
    const fine = Math.max(50, Math.ceil(columns.value / 100) * 100)
    if (!v) return { from: 0, to: 0, columns: fine }
    // Half a view more to each side, for a hand that moves on.
    const span = v[1] - v[0]
    const from = v[0] - span / 2
    const to = v[1] + span / 2 + shift.value
    const more = Math.round(fine * Math.min((to - from) / span, 5))
    return { from: Math.round(from), to: Math.round(to), columns: Math.max(50, more) }
  })
  const { data: read } = useQuery({
    queryKey: computed(() => ['traces', cookId.value, wanted.value]),
    queryFn: () =>
      ok(api.GET('/api/cooks/{id}/traces', { params: { path: { id: cookId.value! }, query: wanted.value } })),
    enabled: computed(() => cookId.value !== null),
    placeholderData: keepPreviousData,
    staleTime: 30_000,
    // Ten thousand numbers: neither compared nor watched one by one.
    structuralSharing: false,
    shallow: true,
  })
  return { zoomed, width, shift, read }
}

/** What of a cook is in view: all of it and up to the table, until a hand zooms. */
export function useView(o: {
  cook: Ref<CookView | null>
  traces: Ref<Traces | undefined>
  events: Ref<Event[]>
  burning: Ref<boolean>
  zoomed: Ref<[number, number] | null>
}) {
  const { zoomed } = o
  const whole = computed<[number, number]>(() => {
    const serve = Date.parse(o.cook.value?.serve_at ?? '')
    const log = o.traces.value
    const t = log?.traces.length ? [Date.parse(log.first), Date.parse(log.last)] : []
    const all = [...t, ...o.events.value.map((e) => Date.parse(e.at))]
    if (all.length === 0) return [serve - 10 * 3_600_000, serve]
    const [a, b] = [Math.min(...all), Math.max(...all)]
    // Both ends move in steps, themselves by doubling, so that one more reading does not shift all that is drawn.
    const step = 60_000 * 2 ** Math.max(0, Math.floor(Math.log2((b - a) / 3_600_000)))
    return [a - 3 * step, Math.ceil((b + 60_000) / step) * step]
  })
  const ahead = ref(true)
  const reach = computed<[number, number]>(() => {
    if (!ahead.value || !o.burning.value || !o.cook.value) return whole.value
    const serve = Date.parse(o.cook.value.serve_at)
    return [whole.value[0], Math.max(whole.value[1], serve) + 20 * 60_000]
  })
  const view = computed(() => zoomed.value ?? reach.value)
  function look(v: [number, number] | null) {
    const [a, b] = reach.value
    const wide = !v || (v[0] <= a && v[1] >= b) || v[1] - v[0] > 2 * (b - a)
    if (wide) zoomed.value = null
    else if (v[1] - v[0] >= 120_000) zoomed.value = v
  }
  /** Zooms in or out around the middle, and moves by a share of the view. */
  function by(factor: number, share = 0) {
    const [a, b] = view.value
    const mid = (a + b) / 2 + share * (b - a)
    look([mid - ((b - a) / 2) * factor, mid + ((b - a) / 2) * factor])
  }
  function toggleAhead() {
    ahead.value = !ahead.value
    zoomed.value = null
  }
  return { whole, ahead, view, look, by, toggleAhead }
}
