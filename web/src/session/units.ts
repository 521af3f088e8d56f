import { useQueryClient } from '@tanstack/vue-query'
import { watch } from 'vue'
import { api } from '../api/client'
import type { OwnUnits, Session } from '../api/schema.gen'
import { hours } from '../ui/time'
import { mark, system, weights } from '../ui/units'
import { useSession } from './session'

const shown = (): OwnUnits => ({
  temperatures: system.value,
  weights: weights.value,
  hours: hours.value,
  mark: mark.value,
})

/** Shows numbers and clocks as the person who is signed in has them, on whatever device; what
 * they choose here is kept for the others. */
export function useOwnUnits() {
  const client = useQueryClient()
  const { person } = useSession()
  watch(
    () => person.value && { id: person.value.id, units: person.value.units },
    (now) => {
      if (!now) return
      const { temperatures, weights: w, hours: h, mark: m } = now.units
      if (temperatures) system.value = temperatures as 'F' | 'C'
      if (w) weights.value = w as 'lb' | 'kg'
      if (h) hours.value = h as '12' | '24'
      if (m) mark.value = m as '.' | ','
    },
    { immediate: true },
  )
  watch([system, weights, hours, mark], () => {
    const was = person.value?.units
    const now = shown()
    // What was never chosen is as on the device: it is kept once somebody chooses.
    if (!was || (Object.keys(now) as (keyof OwnUnits)[]).every((k) => was[k] === now[k])) return
    client.setQueryData<Session>(['session'], (s) => (s?.person ? { ...s, person: { ...s.person, units: now } } : s))
    void api.PUT('/api/me/units', { body: now }).catch(() => {}) // away: the device has it
  })
}
