import { useQueryClient } from '@tanstack/vue-query'
import { useEventSource, useThrottleFn } from '@vueuse/core'
import { computed, watch, type Ref } from 'vue'
import type { CookView } from '../api/schema.gen'

/** Follows a cook: new readings and what others log show by themselves. */
export function useLive(cook: Ref<CookView | null>, refresh: () => unknown) {
  const client = useQueryClient()
  const url = computed(() => (cook.value ? `/api/live?cook=${cook.value.id}` : undefined))
  const { status, event, lastEventId, data } = useEventSource(url, ['readings', 'changed'] as const, {
    autoReconnect: { retries: () => true, delay: 1000 },
  })
  const redraw = useThrottleFn(
    () => void client.invalidateQueries({ queryKey: ['traces', cook.value?.id] }),
    1500,
    true,
    true,
  )
  const reread = useThrottleFn(() => void refresh(), 700, true, true)
  watch([event, lastEventId, data], () => {
    if (event.value === 'readings') void redraw()
    if (event.value === 'changed') void Promise.all([reread(), redraw()])
  })
  // Back after a break: what was missed is read anew.
  watch(status, (now, before) => {
    if (now === 'OPEN' && before === 'CONNECTING') void Promise.all([reread(), redraw()])
  })
  return { cutOff: computed(() => url.value !== undefined && status.value !== 'OPEN') }
}
