import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'

/** The barn's pits by name; one that is typed and not there yet is added. */
export function usePits() {
  const client = useQueryClient()
  const { data: pits, isFetched } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
  const names = computed(() => pits.value?.map((p) => p.name) ?? [])
  async function idOf(name: string): Promise<number> {
    const known = pits.value?.find((p) => p.name.toLowerCase() === name.trim().toLowerCase())
    if (known) return known.id
    const added = await ok(api.POST('/api/pits', { body: { name } }))
    await client.invalidateQueries({ queryKey: ['pits'] })
    return added.id
  }
  return { pits, isFetched, names, idOf }
}
