import type { QueryClient } from '@tanstack/vue-query'
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { onScopeDispose, ref, watch, type Ref } from 'vue'
import { Changes, Line, type Arrival, type Ears, type Source, type Wire } from './line'
import { readParts } from './trials'

export type { Arrival } from './line'

/** joining until the stream stands; cut off when nothing is heard. */
export const wire = ref<Wire>('joining')
/** When the barn was heard last by this device, ms; 0 is never. */
export const heardAt = useLocalStorage('barn.heard', 0)

const cook = ref(0)
const listeners = new Set<{ arrived: (rows: Arrival[]) => void; opened: (lost: boolean) => void }>()

/** An event source of the browser as the line sees it. */
function open(told: string, of: number, ears: Ears): Source {
  const s = new EventSource(`/api/live?${new URLSearchParams({ told, cook: String(of) })}`)
  s.addEventListener('beat', () => ears.beat())
  s.addEventListener('heard', () => ears.heard())
  s.addEventListener('readings', (e: MessageEvent<string>) => ears.arrived(JSON.parse(e.data) as Arrival[]))
  s.addEventListener('changed', (e: MessageEvent<string>) => {
    const m = JSON.parse(e.data) as { trial: number; parts: string[]; told: string }
    ears.changed(m.trial, m.parts, m.told)
  })
  s.onopen = () => ears.opened()
  s.onerror = () => ears.failed()
  return {
    close: () => s.close(),
    get over() {
      return s.readyState === EventSource.CLOSED
    },
  }
}

function later(ms: number, f: () => void) {
  const timer = setTimeout(f, ms)
  return () => clearTimeout(timer)
}

// What changed is read by the page that is open; it comes with the first of them.
let follow: (trial: number, parts: string[]) => void = () => undefined
let hearDevices: () => void = () => undefined
const line = new Line({
  open,
  now: Date.now,
  later,
  state: (w) => (wire.value = w),
  sign: (ms) => {
    if (ms - heardAt.value > 5000) heardAt.value = ms
  },
  changed: (trial, parts) => follow(trial, parts),
  arrived: (rows) => listeners.forEach((l) => l.arrived(rows)),
  heard: () => hearDevices(),
  opened: (lost) => listeners.forEach((l) => l.opened(lost)),
})
/** What this page was told of before its stream stands. */
export const beginAt = (told: string) => line.beginAt(told)

/** Follows the barn while somebody is signed in: one line for all pages. */
export function useStream(client: QueryClient, on: Ref<boolean>) {
  const anew = (keys: string[]) => keys.forEach((k) => void client.invalidateQueries({ queryKey: [k] }))
  const changes = new Changes(Date.now, later, (r) => {
    if (r.all) return void client.invalidateQueries()
    // What hangs on a trial is asked once it is known how the trial stands.
    void Promise.allSettled(r.trials.map(([id, parts]) => readParts(client, id, parts))).then(() => anew(r.keys))
  })
  follow = (trial, parts) => changes.add(trial, parts)
  hearDevices = () => anew(['burning', 'devices', 'scales', 'probes'])

  useIntervalFn(() => line.check(), 500)
  watch(
    [on, cook],
    ([signedIn]) => {
      if (signedIn) line.follow(cook.value)
      else line.close()
    },
    { immediate: true },
  )
  onScopeDispose(() => line.close())
}

/**
 * Has the stream bring the readings of a cook while this page is shown. It begins with those of the
 * last seconds; opened says whether it was lost for longer.
 */
export function useReadings(
  of: Ref<number | undefined>,
  arrived: (rows: Arrival[]) => void,
  opened: (lost: boolean) => void,
) {
  const listener = { arrived, opened }
  listeners.add(listener)
  watch(
    of,
    (id) => {
      if (cook.value === (id ?? 0)) return
      cook.value = id ?? 0
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    listeners.delete(listener)
    cook.value = 0
  })
}
