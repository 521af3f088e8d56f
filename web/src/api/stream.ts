import type { QueryClient } from '@tanstack/vue-query'
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { onScopeDispose, ref, watch, type Ref } from 'vue'
import { readParts } from './trials'

/** A reading as the stream brings it. */
export interface Arrival {
  probe_id: number
  at: string
  c: number
}

/** Two heartbeats of the server and a little, ms. */
const silence = 33_000

/** At most so often what changed is read, ms. */
const rereadEvery = 700

/** What hangs on a part of a trial, or on what is the barn's own. */
const hangs: Record<string, string[]> = {
  ask: ['gate', 'prep', 'due', 'settle', 'verdicts'],
  steps: [],
  cuts: ['gate', 'prep', 'due', 'forecast', 'settle', 'verdicts'],
  cooks: ['due', 'prep', 'forecast', 'clocks', 'so-far', 'alarms'],
  log: ['gate', 'due', 'clocks', 'so-far', 'alarms', 'forecast', 'settle', 'verdicts', 'burning'],
  imports: ['gate', 'forecast', 'clocks', 'so-far', 'settle', 'verdicts'],
  table: ['gate', 'key'],
  gate: ['gate'],
  due: ['due'],
  prep: ['prep'],
  traces: ['traces', 'probes', 'clocks', 'forecast', 'gate'],
  alarms: ['alarms', 'clocks', 'forecast'],
  pantry: ['pantry', 'prep'],
  pits: ['pits', 'trial', 'due'],
  catalogue: ['catalogue', 'trial'],
}
const ofList = ['trials', 'home']

/** joining until the stream stands; cut off when nothing is heard. */
export const wire = ref<'joining' | 'live' | 'cut off'>('joining')
/** When the barn was heard last by this device, ms; 0 is never. */
export const heardAt = useLocalStorage('barn.heard', 0)

// What this page was told of before its stream stands: the stream sends what changed since.
let told = ''
export function beginAt(t: string) {
  told ||= t
}

const cook = ref(0)
const listeners = new Set<{ arrived: (rows: Arrival[]) => void; opened: (lost: boolean) => void }>()

/** Follows the barn while somebody is signed in: one line for all pages. */
export function useStream(client: QueryClient, on: Ref<boolean>) {
  let stream: EventSource | null = null
  let again: ReturnType<typeof setTimeout> | undefined
  const dirty = new Map<number, Set<string>>()
  let flushing: ReturnType<typeof setTimeout> | undefined
  let flushed = 0

  function changed(trial: number, parts: string[]) {
    const of = dirty.get(trial) ?? new Set()
    for (const p of parts.length ? parts : ['*']) of.add(p)
    dirty.set(trial, of)
    flushing ??= setTimeout(() => void flush(), Math.max(50, rereadEvery - (Date.now() - flushed)))
  }
  async function flush() {
    flushing = undefined
    flushed = Date.now()
    const all = [...dirty]
    dirty.clear()
    const keys = new Set<string>()
    const reads: Promise<unknown>[] = []
    for (const [trial, parts] of all) {
      if (parts.has('*')) {
        void client.invalidateQueries()
        return
      }
      for (const p of parts) for (const k of hangs[p] ?? [p]) keys.add(k)
      if (trial === 0) continue
      for (const k of ofList) keys.add(k)
      reads.push(readParts(client, trial, [...parts]))
    }
    // What hangs on a trial is asked once it is known how the trial stands.
    await Promise.allSettled(reads)
    for (const k of keys) void client.invalidateQueries({ queryKey: [k] })
  }

  let heard = Date.now()
  let lost = false // what came meanwhile was not heard
  function sign() {
    heard = Date.now()
    if (heard - heardAt.value > 5000) heardAt.value = heard
  }
  function close() {
    clearTimeout(again)
    stream?.close()
    stream = null
  }
  function open() {
    close()
    const s = (stream = new EventSource(`/api/live?${new URLSearchParams({ told, cook: String(cook.value) })}`))
    for (const kind of ['readings', 'changed', 'beat', 'heard']) s.addEventListener(kind, sign)
    s.addEventListener('changed', (e: MessageEvent<string>) => {
      const m = JSON.parse(e.data) as { trial: number; parts: string[]; told: string }
      told = m.told || told
      changed(m.trial, m.parts)
    })
    s.addEventListener('readings', (e: MessageEvent<string>) => {
      const rows = JSON.parse(e.data) as Arrival[]
      for (const l of listeners) l.arrived(rows)
    })
    s.addEventListener('heard', () => {
      for (const k of ['burning', 'devices', 'scales', 'probes']) void client.invalidateQueries({ queryKey: [k] })
    })
    s.onopen = () => {
      sign()
      wire.value = 'live'
      for (const l of listeners) l.opened(lost)
      lost = false
    }
    // The browser comes back by itself, and says what it saw last, unless it was refused.
    s.onerror = () => {
      lost = true
      wire.value = 'cut off'
      if (s.readyState === EventSource.CLOSED) again = setTimeout(open, 1000)
    }
  }
  // A line that swallows bytes stays open: without a sign for two heartbeats it is cut off.
  useIntervalFn(() => {
    if (stream && wire.value === 'live' && Date.now() - heard > silence) {
      lost = true
      wire.value = 'cut off'
      open()
    }
  }, 2000)
  watch(
    [on, cook],
    ([signedIn]) => {
      if (signedIn) open()
      else close()
    },
    { immediate: true },
  )
  onScopeDispose(close)
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
      wire.value = 'joining'
      cook.value = id ?? 0
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    listeners.delete(listener)
    cook.value = 0
  })
}
