import { ref } from 'vue'
import { Refused } from './client'
import type { Problem } from './schema.gen'

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
