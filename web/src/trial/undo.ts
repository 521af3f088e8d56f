import { useLocalStorage, useNow } from '@vueuse/core'
import { computed } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { VoidInput } from '../api/schema.gen'
import { useThisTrial } from './trial'

/** What was done on this device and can be undone for ten minutes, on this trial. */
interface Done {
  trial: number
  words: string
  made: number
  void?: VoidInput // what was voided
  served?: number // a flight
  reasons?: number[] // given for these cuts
  ended?: true
}

const undoFor = 600_000
const done = useLocalStorage<Done[]>('barn.undo', [])

/** Offers what was just done for undoing, and undoes the last of it. */
export function useUndo() {
  const { trial, set } = useThisTrial()
  const { run, busy, problem } = useAct()
  const now = useNow({ interval: 5000 })
  const last = computed(() => {
    const mine = done.value.filter((d) => d.trial === trial.value.id && +now.value - d.made < undoFor)
    return mine[mine.length - 1]
  })
  const forget = (d: Done) => (done.value = done.value.filter((x) => x.made !== d.made))

  function offer(words: string, what: Pick<Done, 'void' | 'served' | 'reasons' | 'ended'>) {
    problem.value = null
    const made = Date.now()
    done.value = [...done.value.filter((d) => made - d.made < undoFor), { trial: trial.value.id, words, made, ...what }]
  }
  const voided = (subject: VoidInput['subject'], id: number, words: string) =>
    offer(words, { void: { subject, id, press: '' } })

  async function undo() {
    const d = last.value
    if (!d) return
    const path = { path: { id: d.served ?? d.trial } }
    const v = await run(() => {
      if (d.void) return ok(api.POST('/api/trials/{id}/unvoid', { params: path, body: d.void }))
      if (d.reasons)
        return ok(api.POST('/api/trials/{id}/gate-reason/undo', { params: path, body: { cuts: d.reasons } }))
      if (d.served) return ok(api.POST('/api/flights/{id}/void', { params: path, body: { why: 'undone' } }))
      return ok(api.POST('/api/trials/{id}/end/undo', { params: path }))
    })
    if (!v) return
    set(v)
    forget(d)
  }
  return { last, offer, voided, undo, forget, busy, problem }
}
