import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, Due } from '../api/schema.gen'
import { span } from '../ui/time'

/** What the plan of a cook wants done next, in order of time; the strip, the pads and the lanes ask once. */
export function useDue(cook: () => CookView, wanted: () => boolean = () => true) {
  const { data, isPending } = useQuery({
    queryKey: computed(() => ['due', cook().id]),
    queryFn: () => ok(api.GET('/api/cooks/{id}/due', { params: { path: { id: cook().id } } })),
    refetchInterval: 60_000,
    enabled: computed(wanted),
  })
  return { view: data, due: computed(() => data.value?.due ?? []), isPending }
}

export const dueAt = (d: Due) => Date.parse(d.at.middle)
/** How long until it is due, in words. */
export function dueIn(d: Due, now: number): string {
  const hours = (dueAt(d) - now) / 3_600_000
  if (Math.abs(hours) < 1 / 60) return 'now'
  return hours < 0 ? `${span(-hours)} late` : `in ${span(hours)}`
}
