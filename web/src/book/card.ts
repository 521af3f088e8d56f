import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, ok } from '../api/client'
import type { CardRange, CardStep } from '../api/schema.gen'
import { span } from '../ui/time'
import { difference, fixed, temperature } from '../ui/units'
import { vocabulary } from '../api/vocabulary.gen'

export function useCard(id: Ref<number>) {
  return useQuery({
    queryKey: computed(() => ['book', 'card', id.value]),
    queryFn: () => ok(api.GET('/api/book/cards/{id}', { params: { path: { id: id.value } } })),
  })
}

/** How a phase ends, as the crew wrote it. */
export function endOf(s: CardStep): string {
  return s.ends
    .map((e) => {
      const w = vocabulary.watches.find((x) => x.watch === e.watch)?.words ?? e.watch
      return e.typed || w
    })
    .join(s.all ? ' and ' : ' or ')
}

/** What its end goes by, in a word or two. */
export const endsBy = (s: CardStep) =>
  s.ends
    .map((e) => vocabulary.watches.find((w) => w.watch === e.watch)?.words ?? e.watch)
    .join(s.all ? ' and ' : ' or ')

const half = (r: CardRange) => (r.high - r.low) / 2

/** How far the winning arm's cuts lay apart in it. */
export function tolerance(s: CardStep): string {
  if (s.end_c) return `±${difference(half(s.end_c))} core`
  if (s.lasted) return `${span(Math.max(0, s.lasted.low))} to ${span(s.lasted.high)}`
  if (s.heat) return `pit ${temperature(s.heat.middle)} ±${difference(half(s.heat))}`
  return ''
}

/** When it ends, h after it went on: shortest to longest. */
export function endsAt(s: CardStep): string {
  const r = s.ends_at
  if (!r) return ''
  return r.n === 0 || half(r) < 0.05 ? clockH(r.middle) : `${clockH(Math.max(0, r.low))} to ${clockH(r.high)}`
}
export const clockH = (h: number) =>
  `${Math.floor(Math.round(h * 60) / 60)}:${String(Math.round(h * 60) % 60).padStart(2, '0')}`

export const amount = (g: number) => (g < 10 ? fixed(g, 1) : fixed(g, 0))
