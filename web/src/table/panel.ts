import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { HeardOf } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'

/** What the panel said of a trial whose codes are open and that was tasted. */
export function usePanel() {
  const { trial, shut } = useThisTrial()
  const {
    data: panel,
    error,
    isLoading: waiting,
  } = useQuery({
    queryKey: computed(() => ['panel', trial.value.id, trial.value.revealed_at]),
    queryFn: () => ok(api.GET('/api/trials/{id}/panel', { params: { path: { id: trial.value.id } } })),
    enabled: computed(() => shut.value && trial.value.flights.length > 0),
  })
  /** The attribute that sums up: overall liking, or the last there is. */
  const whole = computed<HeardOf | undefined>(() =>
    panel.value?.attributes.filter((a) => a.attribute.scale === 'nine').pop(),
  )
  return { panel, error, waiting, whole, tags: computed(() => trial.value.ask.arms.map((a) => a.tag)) }
}

/** A chance, as people count. */
export function inTen(p: number): string {
  if (p < 0.005) return 'hardly ever'
  if (p > 0.95) return 'nearly always'
  return p < 0.095 ? `${Math.max(1, Math.round(p * 100))} times in 100` : `${Math.round(p * 10)} times in 10`
}
