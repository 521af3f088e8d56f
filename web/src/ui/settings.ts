import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { readAs, type Reader } from './reader'

/** What a reader chose on this device, and the barn's zone. */
export const system = useLocalStorage<Reader['temperatures']>('barn.units', 'F')
export const weights = useLocalStorage<Reader['weights']>('barn.weights', system.value === 'F' ? 'lb' : 'kg')
export const mark = useLocalStorage<Reader['mark']>('barn.mark', '.')
export const hours = useLocalStorage<Reader['hours']>('barn.hours', '24')
export const zone = ref('UTC')

readAs({
  get temperatures() {
    return system.value
  },
  get weights() {
    return weights.value
  },
  get hours() {
    return hours.value
  },
  get mark() {
    return mark.value
  },
  get zone() {
    return zone.value
  },
})
