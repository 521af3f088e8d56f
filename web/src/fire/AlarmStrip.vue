<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn, useLocalStorage, usePermission, useWakeLock, useWebNotification } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Alarm, CookView } from '../api/schema.gen'
import KeyCap from '../ui/KeyCap.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { useKeys } from '../ui/keys'
import { clock } from '../ui/time'
import { sentence } from '../ui/units'
import { chime } from './chime'

/** What the crew must be told: heard, seen and flashed until somebody says it was seen. */
const { cook } = defineProps<{ cook: CookView; /** Where its choices go is there. */ options: boolean }>()
const client = useQueryClient()
const { run, problem } = useAct()
const key = computed(() => ['alarms', cook.id])
const { data } = useQuery({
  queryKey: key,
  queryFn: () => ok(api.GET('/api/cooks/{id}/alarms', { params: { path: { id: cook.id } } })),
})
const unseen = computed(() => (data.value ?? []).filter((a) => !a.seen_at && !a.over_at))
const known = computed(() => (data.value ?? []).filter((a) => a.seen_at && !a.over_at))
async function see(a: Alarm) {
  const v = await run(() => ok(api.POST('/api/alarms/{id}/seen', { params: { path: { id: a.id } } })))
  if (v) client.setQueryData(key.value, v)
}
useKeys((k) => {
  if (k !== 'k' || unseen.value.length === 0) return false
  return (void see(unseen.value[0]!), true)
})

// Sound: at once, again after three minutes and after five, then every five.
const sound = useLocalStorage('barn.sound', false)
const heard = ref(new Map<number, number>())
const due = [0, 3, 5].map((m) => m * 60_000)
const since = new Map<number, number>()
function ring() {
  for (const a of unseen.value) {
    if (!since.has(a.id)) since.set(a.id, Date.now())
    const times = heard.value.get(a.id) ?? 0
    const next = due[times] ?? (times - 1) * 300_000
    if (Date.now() - since.get(a.id)! < next) continue
    heard.value.set(a.id, times + 1)
    if (sound.value) chime(a.level === 'alarm')
    if (times === 0 && permission.value === 'granted')
      void show({ title: sentence(a.words), tag: `alarm ${a.id}`, renotify: true })
  }
}
useIntervalFn(ring, 1000)
watch(unseen, ring)

// Only a secure page may notify and keep the screen awake.
const secure = window.isSecureContext
const permission = usePermission('notifications')
const { show } = useWebNotification({ requestPermissions: false })
async function ask() {
  await Notification.requestPermission()
}
const wake = useWakeLock()
watch(
  () => cook.now,
  () => {
    if (wake.isSupported.value && !wake.isActive.value) void wake.request('screen').catch(() => undefined)
  },
  { immediate: true },
)
onScopeDispose(() => void wake.release())
</script>

<template>
  <section class="alarms no-print" aria-label="Alarms">
    <ProblemNote :problem="problem" />
    <div
      v-for="(a, i) in unseen"
      :key="a.id"
      class="one"
      :class="a.level"
      role="alert"
      :data-testid="`alarm-${a.kind.replaceAll(' ', '-')}`"
    >
      <b class="num at">{{ clock(a.at) }}</b>
      <span class="triangle words">{{ sentence(a.words) }}</span>
      <Button @click="see(a)"><KeyCap v-if="i === 0">K</KeyCap> Seen</Button>
    </div>
    <p v-if="known.length" class="known small">
      <span v-for="a in known" :key="a.id" class="triangle" data-testid="alarm-known"
        >{{ clock(a.at) }} {{ sentence(a.words) }} <b>Seen by {{ a.seen_by }}.</b></span
      >
    </p>
    <Teleport v-if="options" defer to="#fire-options">
      <div class="row options small">
        <label class="row"
          ><input v-model="sound" type="checkbox" aria-label="Sound on this device" @change="sound && chime(false)" />
          Sound on this device</label
        >
        <Button v-if="secure && permission === 'prompt'" label="Notify me" size="small" text @click="ask" />
        <span v-if="!secure" class="soot"
          >Off on this address: notices and keeping the screen awake. <RouterLink to="/crew">Why</RouterLink></span
        >
      </div>
    </Teleport>
  </section>
</template>

<style scoped>
.one {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 10px 16px;
  min-height: 64px;
  background: var(--watch-wash);
  color: var(--watch);
  border-top: 3px solid var(--watch);
}
.one.alarm {
  background: var(--alarm-wash);
  color: var(--alarm);
  border-color: var(--alarm);
  animation: flash 1.2s steps(2) 6;
}
@keyframes flash {
  50% {
    background: var(--alarm);
    color: var(--on-alarm);
  }
}
.at {
  font-size: 20px;
}
.words {
  font-weight: 700;
  font-size: 19px;
  flex: 1;
}
.one :deep(button) {
  min-height: 48px;
}
.known {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  padding: 6px 16px;
  color: var(--watch);
  background: var(--watch-wash);
}
.options {
  gap: 4px 16px;
}
.options input {
  width: 20px;
  height: 20px;
}
.options label {
  gap: 8px;
  min-height: 36px;
}
@media (prefers-reduced-motion: reduce) {
  .one.alarm {
    animation: none;
  }
}
</style>
