import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ok } from '../api/client'
import type { CutGate, GateView, Shown } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { clock, span } from '../ui/time'
import { temperature } from '../ui/units'

/** What the gate says of this trial; read anew whenever the trial is, and not before it is wanted. */
export function useGate(wanted: () => boolean = () => true) {
  const { trial } = useThisTrial()
  const client = useQueryClient()
  const key = computed(() => ['gate', trial.value.id])
  const { data, isFetched } = useQuery({
    queryKey: key,
    queryFn: () => ok(api.GET('/api/trials/{id}/gate', { params: { path: { id: trial.value.id } } })),
    enabled: computed(wanted),
  })
  watch(trial, () => void client.invalidateQueries({ queryKey: key.value }))
  /** asked: it answered, or could not; what stands under it may come then. */
  return { gate: data, asked: isFetched, of: (id: number) => data.value?.cuts.find((c) => c.cut_id === id) }
}

export const speciesNames = [
  { label: 'red meat', value: 'red meat' },
  { label: 'poultry', value: 'poultry' },
  { label: 'fish', value: 'fish' },
] as const
export const handlingNames = [
  { label: 'whole muscle', value: 'intact' },
  { label: 'injected, pierced or rolled', value: 'pierced' },
  { label: 'minced', value: 'minced' },
  { label: 'stuffed', value: 'stuffed' },
] as const

export const meatName = (m: GateView['meat']) =>
  [m.species || 'meat', handlingNames.find((h) => h.value === m.handling)?.label ?? 'handled how?']
    .concat(m.whole_bird ? ['whole bird'] : [])
    .join(', ')

/** The working of one place: which reading, when, by whom, and of which line. */
export function working(s: Shown, row: number): string {
  const from = [s.probe, s.by].filter(Boolean).join(', ') || 'by hand'
  const where = [s.place, from].filter(Boolean).join(', ')
  const share = s.share > 0 && s.share < 1 ? `, ${Math.floor(100 * s.share)} % of the time that would do` : ''
  if (s.passed && s.how === 'by time')
    return `${temperature(s.from_c)} to ${temperature(s.c)} held ${span(s.held_s / 3600)} = enough at ${clock(s.at!)}, ${where}`
  const stands = s.stands ? standsFor[s.stands] : ''
  if (s.passed) return `${temperature(s.c)} at ${clock(s.at!)}, of ${temperature(row)}, ${where}`
  return `${temperature(s.c)} at most, of ${temperature(row)}${share}, ${where}${stands}`
}

/** Why a place that did not pass by itself does not stop the piece. */
const standsFor = {
  'coldest found': '; its probe was out, and the coldest found later answers for it',
  cooling: '; first read as it rested, and no colder than a rest leaves it',
}

/** Whether a pitmaster's reason is all that it wants, but for the time when it was eaten. */
export const opensByReason = (c: CutGate | undefined) => {
  const stops = c?.stops.filter((s) => !s.waived && s.key !== 'eaten') ?? []
  return stops.length > 0 && stops.every((s) => s.opens === 'reason')
}

/** Whether it may be served, now or by saying when it was. */
export const mayBeServed = (c: CutGate | undefined) =>
  isOpen(c) || !!c?.stops.every((s) => s.waived || s.key === 'eaten')

export const isOpen = (c: CutGate | undefined) => c?.open ?? false
