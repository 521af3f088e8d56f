import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, Due } from '../api/schema.gen'
import { logsAs } from '../plan/tasks'
import { span } from '../ui/time'
import { waiting } from './outbox'
import { dueAfter } from './waiting'

/** What the plan of a cook wants done next, in order of time; the strip, the pads and the lanes ask once. */
export function useDue(cook: () => CookView, wanted: () => boolean = () => true) {
  const { data, isPending } = useQuery({
    queryKey: computed(() => ['due', cook().id]),
    queryFn: () => ok(api.GET('/api/cooks/{id}/due', { params: { path: { id: cook().id } } })),
    refetchInterval: 60_000,
    enabled: computed(wanted),
  })
  /** What this device did is done, though the barn may not know it. */
  const due = computed(() => {
    const runs = cook().runs.map((r) => r.id)
    return dueAfter(data.value?.due ?? [], waiting.value, cook().id, runs, (d) => logsAs(d.act))
  })
  return { view: data, due, isPending }
}

export const dueAt = (d: Due) => Date.parse(d.at.middle)
/** How long until it is due, in words. */
export function dueIn(d: Due, now: number): string {
  const hours = (dueAt(d) - now) / 3_600_000
  if (Math.abs(hours) < 1 / 60) return 'now'
  return hours < 0 ? `${span(-hours)} late` : `in ${span(hours)}`
}
