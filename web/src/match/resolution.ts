import { useLocalStorage } from '@vueuse/core'

/** The step of the scale at hand, kept on this device. */
export const useResolution = () => useLocalStorage('barn.scale-step', '1/4 oz')
