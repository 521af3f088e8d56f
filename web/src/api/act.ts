import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { api, ok, Refused } from './client'
import type { Problem, TrialView } from './schema.gen'

/** Runs a call of the user's, one at a time, and keeps what it was refused for. */
export function useAct() {
  const busy = ref(false)
  const problem = ref<Problem | null>(null)
  async function run<T>(call: () => Promise<T>): Promise<T | undefined> {
    busy.value = true
    problem.value = null
    try {
      return await call()
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      problem.value = e.problem
      return undefined
    } finally {
      busy.value = false
    }
  }
  /** What is wrong with one field, for the words under it. */
  const fault = (field: string) => problem.value?.errors.find((e) => e.field === field)
  return { busy, problem, run, fault }
}

/** One trial, refreshed by every call that changes it. */
export function useTrial(id: Ref<number>) {
  const client = useQueryClient()
  const key = computed(() => ['trial', id.value])
  const query = useQuery({
    queryKey: key,
    queryFn: () => ok(api.GET('/api/trials/{id}', { params: { path: { id: id.value } } })),
  })
  function set(v: TrialView | undefined) {
    if (!v) return
    client.setQueryData(key.value, v)
    void client.invalidateQueries({ queryKey: ['trials'] })
  }
  return { trial: query.data, error: query.error, set, refresh: () => query.refetch() }
}
