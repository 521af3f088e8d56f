import type { RemovableRef } from '@vueuse/core'
import type { Shelf } from './outbox'

/** What a page keeps, for modules that know no pages. */
export const shelfOf = <T>(r: RemovableRef<T>): Shelf<T> => ({ get: () => r.value, set: (v) => (r.value = v) })
