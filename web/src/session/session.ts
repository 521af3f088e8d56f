import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ok } from '../api/client'
import { beginAt } from '../api/stream'
import type { Trust } from '../crew/trusts'
import { zone } from '../ui/settings'

// A guest's page needs no session, and on the plain port there is none.
const ballot = /^\/(taste|join)(\/|$)/.test(location.pathname)

async function begin() {
  const answer = api.GET('/api/session')
  const session = await ok(answer)
  const told = (await answer).response.headers.get('Barn-Told')
  if (told) beginAt(told)
  return session
}

/** Who is here, and which barn it is. */
export function useSession() {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ['session'], queryFn: begin, staleTime: 60_000, enabled: !ballot })
  watch(
    query.data,
    (s) => {
      if (s?.barn) zone.value = s.barn.time_zone
    },
    { immediate: true },
  )
  return {
    session: query.data,
    error: query.error,
    person: computed(() => query.data.value?.person ?? null),
    isPitmaster: computed(() => query.data.value?.person?.role === 'pitmaster'),
    /** Whether one may do what the pitmaster trusts only some with. */
    mayWith: (trust: Trust) => {
      const p = query.data.value?.person
      return p?.role === 'pitmaster' || !!p?.trusts.includes(trust)
    },
    /** After signing in or out: who is here, then forget what another was shown. */
    renew: async () => {
      await client.refetchQueries({ queryKey: ['session'] })
      client.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session', type: 'inactive' })
    },
  }
}
