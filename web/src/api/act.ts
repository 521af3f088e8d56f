import { ref } from 'vue'
import { Refused } from './client'
import type { Problem } from './schema.gen'
import { Turns } from './turns'

/** Runs calls of the user's, one after the other, and keeps what the last was refused for. */
export function useAct() {
  const busy = ref(false)
  const problem = ref<Problem | null>(null)
  const turns = new Turns()
  let waiting = 0
  async function run<T>(call: () => Promise<T>): Promise<T | undefined> {
    waiting++
    busy.value = true
    try {
      return await turns.take(() => {
        problem.value = null
        return call()
      })
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      problem.value = e.problem
      return undefined
    } finally {
      busy.value = --waiting > 0
    }
  }
  /** What is wrong with one field, for the words under it. */
  const fault = (field: string) => problem.value?.errors.find((e) => e.field === field)
  return { busy, problem, run, fault }
}
