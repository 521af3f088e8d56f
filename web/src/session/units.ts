import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { watch } from 'vue'
import { api } from '../api/client'
import type { OwnUnits, Session } from '../api/schema.gen'
import { useSession } from './session'
import { hours, mark, system, weights } from '../ui/settings'

/** Whose choice on this device did not reach the barn yet; 0 is nobody's. */
const unsent = useLocalStorage('barn.own-units', 0)

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

  async function keep(id: number) {
    const units = shown()
    unsent.value = id
    client.setQueryData<Session>(['session'], (s) => (s?.person ? { ...s, person: { ...s.person, units } } : s))
    try {
      const { response } = await api.PUT('/api/me/units', { body: units, keepalive: true })
      if (response.ok && JSON.stringify(units) === JSON.stringify(shown())) unsent.value = 0
    } catch {
      // Away: it is sent when the page is opened again.
    }
  }

  watch(
    () => person.value && { id: person.value.id, units: person.value.units },
    (now) => {
      if (!now) return
      if (unsent.value === now.id) {
        if (JSON.stringify(now.units) !== JSON.stringify(shown())) void keep(now.id)
        return
      }
      const { temperatures, weights: w, hours: h, mark: m } = now.units
      if (temperatures) system.value = temperatures as 'F' | 'C'
      if (w) weights.value = w as 'lb' | 'kg'
      if (h) hours.value = h as '12' | '24'
      if (m) mark.value = m as '.' | ','
    },
    { immediate: true },
  )
  watch([system, weights, hours, mark], () => {
    const p = person.value
    const now = shown()
    if (p && (Object.keys(now) as (keyof OwnUnits)[]).some((k) => p.units[k] !== now[k])) void keep(p.id)
  })
}
