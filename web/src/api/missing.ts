import type { Query, QueryClient } from '@tanstack/vue-query'
import { onScopeDispose, readonly, ref } from 'vue'
import { Refused } from './client'

/** Whether the page that is open asks for what this device never had, and the barn does not answer. */
export function useMissing(client: QueryClient) {
  const missing = ref(false)
  const cache = client.getQueryCache()
  const look = () => (missing.value = cache.findAll({ type: 'active' }).some(lacks))
  let waits = 0 // an answer changes many queries at once
  onScopeDispose(
    cache.subscribe(() => {
      waits ||= window.setTimeout(() => {
        waits = 0
        look()
      }, 100)
    }),
  )
  return readonly(missing)
}

function lacks({ state }: Query): boolean {
  if (state.data !== undefined) return false
  const why = state.error ?? state.fetchFailureReason
  return (
    state.fetchStatus === 'paused' ||
    (why instanceof Refused && (why.problem.status === 0 || why.problem.status >= 502))
  )
}
