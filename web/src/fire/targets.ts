import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, Target } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import { gratePositions } from '../ui/grate'

export const nothing: Target = { cut_id: null, pit_run_id: null, holder_id: null, point: '', place: '' }

/** What a probe or a column measures, as the value of a list. */
export function valueOf(t: Target): string {
  if (t.cut_id !== null) return `cut ${t.cut_id} ${t.place}`
  if (t.pit_run_id !== null) return `pit ${t.pit_run_id} ${t.point}`
  return t.holder_id !== null ? `holder ${t.holder_id}` : ''
}
export function targetOf(value: string): Target {
  const [what, number, ...rest] = value.split(' ')
  const id = Number(number ?? 0)
  const where = rest.join(' ')
  if (what === 'cut') return { ...nothing, cut_id: id, place: where }
  if (what === 'pit') return { ...nothing, pit_run_id: id, point: where }
  return what === 'holder' ? { ...nothing, holder_id: id } : nothing
}

/** All that can be measured at a cook: points and places of its pits, holders, cuts and places on them. */
export function useTargets(cook: Ref<CookView>, free: string, asked: Ref<boolean>) {
  const { trial } = useThisTrial()
  const { data: holders } = useQuery({
    queryKey: ['holders'],
    queryFn: () => ok(api.GET('/api/holders')),
    enabled: asked,
  })
  const points = vocabulary.points.filter((p) => p.key)
  return computed(() => [
    { label: free, value: '' },
    ...cook.value.runs.flatMap((r) => [
      { label: r.pit, value: `pit ${r.id} ` },
      ...points.map((p) => ({ label: `${r.pit}, ${p.words}`, value: `pit ${r.id} ${p.key}` })),
      ...gratePositions(r).map((p) => ({ label: `${r.pit}, grate at ${p}`, value: `pit ${r.id} ${p}` })),
    ]),
    ...(holders.value ?? []).map((h) => ({ label: h.name, value: `holder ${h.id}` })),
    ...trial.value.cuts
      .filter((c) => c.placement?.cook_id === cook.value.id)
      .flatMap((c) => [
        { label: `${trial.value.ask.cut} ${c.name}`, value: `cut ${c.id} ` },
        ...vocabulary.places.map((p) => ({ label: `${c.name}, ${p.words}`, value: `cut ${c.id} ${p.key}` })),
      ]),
  ])
}
