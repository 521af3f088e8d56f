import { useQueryClient } from '@tanstack/vue-query'
import { useThrottleFn } from '@vueuse/core'
import { onScopeDispose, ref, watch, type Ref } from 'vue'
import type { CookView } from '../api/schema.gen'

/** How long the server keeps a forecast for all who ask. */
const forecastKept = 5_000

/** Follows a cook: new readings and what others log show by themselves. */
export function useLive(cook: Ref<CookView | null>, refresh: () => unknown) {
  const client = useQueryClient()
  const wire = ref<'joining' | 'live' | 'cut off'>('joining')
  const anew = (what: string) => client.invalidateQueries({ queryKey: [what, cook.value?.id] })
  const redraw = useThrottleFn(() => void anew('traces'), 1500, true, true)
  const reread = useThrottleFn(() => void refresh(), 700, true, true)
  const foresee = useThrottleFn(() => void anew('forecast'), forecastKept, true, false)
  const alarmed = () => void Promise.all([anew('alarms'), anew('due')])
  const all = () => void Promise.all([redraw(), reread(), foresee(), alarmed()])

  let stream: EventSource | null = null
  let again: ReturnType<typeof setTimeout> | undefined
  function close() {
    clearTimeout(again)
    stream?.close()
    stream = null
  }
  function open(id: number) {
    close()
    const s = (stream = new EventSource(`/api/live?cook=${id}`))
    s.addEventListener('readings', () => void redraw())
    s.addEventListener('changed', all)
    s.onopen = () => {
      wire.value = 'live'
      all() // what came before the stream was open
    }
    // The browser comes back by itself, and says what it saw last, unless it was refused.
    s.onerror = () => {
      wire.value = 'cut off'
      if (s.readyState === EventSource.CLOSED) again = setTimeout(() => open(id), 1000)
    }
  }
  watch(
    () => cook.value?.id,
    (id) => {
      wire.value = 'joining'
      if (id === undefined) close()
      else open(id)
    },
    { immediate: true },
  )
  onScopeDispose(close)
  return { wire }
}
