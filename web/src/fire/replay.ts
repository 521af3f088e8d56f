import { useRafFn } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import type { Event } from '../api/schema.gen'

/**
 * The events up to the moment that is played, all of them when none is. They are in
 * order of time, and the list is another only when there is one more or less.
 */
export function useUntil(events: Ref<Event[]>, until: () => number | null) {
  const times = computed(() => events.value.map((e) => Date.parse(e.at)))
  const count = computed(() => {
    const ms = until()
    return ms === null ? times.value.length : times.value.reduce((n, t) => n + (t <= ms ? 1 : 0), 0)
  })
  return computed(() => events.value.slice(0, count.value))
}

/** Plays a finished cook again: its board as it was, moment by moment. */
export function useReplay(whole: Ref<[number, number]>) {
  /** The moment that is shown; null when nothing is played. */
  const until = ref<number | null>(null)
  const speed = ref(600)
  const frame = useRafFn(
    ({ delta }) => {
      const next = (until.value ?? whole.value[0]) + Math.min(delta, 100) * speed.value
      until.value = Math.min(next, whole.value[1])
      if (next >= whole.value[1]) frame.pause()
    },
    { immediate: false },
  )
  const playing = computed(() => frame.isActive.value)
  function play() {
    if (until.value === null || until.value >= whole.value[1]) until.value = whole.value[0]
    frame.resume()
  }
  function toggle() {
    if (playing.value) frame.pause()
    else play()
  }
  function seek(ms: number) {
    until.value = Math.max(whole.value[0], Math.min(whole.value[1], ms))
  }
  function end() {
    frame.pause()
    until.value = null
  }
  return { until, speed, playing, play, toggle, seek, end }
}
