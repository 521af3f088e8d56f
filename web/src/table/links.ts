import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { useThisTrial } from '../trial/trial'

/** The ways onto the table that this person may hand out. */
export function useLinks() {
  const { trial } = useThisTrial()
  const client = useQueryClient()
  const seats = computed(() => trial.value.tasters.map((t) => `${t.id}${t.bound ? 'b' : ''}`).join())
  const { data } = useQuery({
    queryKey: computed(() => ['links', trial.value.id, seats.value]),
    queryFn: () => ok(api.GET('/api/trials/{id}/links', { params: { path: { id: trial.value.id } } })),
    placeholderData: (before) => before,
  })
  return {
    links: data,
    linkOf: (taster: number) => data.value?.tasters.find((t) => t.taster_id === taster)?.path,
    renew: () => client.invalidateQueries({ queryKey: ['links', trial.value.id] }),
  }
}
