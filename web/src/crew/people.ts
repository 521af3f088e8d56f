import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'

/** Who is of the crew; who left is listed on its page alone. */
export function useCrew() {
  const { data } = useQuery({ queryKey: ['people'], queryFn: () => ok(api.GET('/api/people')) })
  return computed(() => data.value?.filter((p) => !p.left_at))
}
