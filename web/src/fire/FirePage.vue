<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced, useNow } from '@vueuse/core'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { useKeys } from '../ui/keys'
import { clock, dateTime, fromLocal, toLocal } from '../ui/time'
import AlarmStrip from './AlarmStrip.vue'
import DueStrip from './DueStrip.vue'
import EventLog from './EventLog.vue'
import FireChart from './FireChart.vue'
import FirePads from './FirePads.vue'
import { useLive } from './live'
import LogImport from './LogImport.vue'
import OutlookStrip from './OutlookStrip.vue'
import ProbeDialog from './ProbeDialog.vue'
import RehearsalBar from './RehearsalBar.vue'

const { trial, set, refresh, shut } = useThisTrial()
const router = useRouter()
const { run, busy, problem } = useAct()
const client = useQueryClient()

const cookId = ref(trial.value.cooks[0]?.id ?? null)
const cook = computed(() => trial.value.cooks.find((k) => k.id === cookId.value) ?? null)
const importing = ref(false)
const probing = ref(false)
const { wire } = useLive(
  computed(() => (shut.value ? null : cook.value)),
  refresh,
)

// The cook's own clock: a rehearsal's runs fast.
const real = useNow({ interval: 1000 })
const seenAt = ref(Date.now())
watch(cook, () => (seenAt.value = Date.now()))
const cookNow = computed(() =>
  cook.value ? Date.parse(cook.value.now) + Math.max(0, +real.value - seenAt.value) * cook.value.rate : 0,
)

async function rehearse() {
  const r = await run(() =>
    ok(api.POST('/api/cooks/{id}/rehearse', { params: { path: { id: cook.value!.id } }, body: { rate: 60 } })),
  )
  if (r) await router.push(`/trials/${r.trial_id}/fire`)
}

// The view: all of the log until a hand zooms.
const zoomed = ref<[number, number] | null>(null)
const width = ref(900)
const asked = refDebounced(zoomed, 120)
const columns = refDebounced(width, 200)
const { data: traces } = useQuery({
  queryKey: computed(() => ['traces', cookId.value, asked.value?.[0] ?? 0, asked.value?.[1] ?? 0, columns.value]),
  queryFn: () =>
    ok(
      api.GET('/api/cooks/{id}/traces', {
        params: {
          path: { id: cookId.value! },
          query: {
            from: Math.round(asked.value?.[0] ?? 0),
            to: Math.round(asked.value?.[1] ?? 0),
            columns: Math.max(50, columns.value),
          },
        },
      }),
    ),
  enabled: computed(() => cookId.value !== null),
  placeholderData: keepPreviousData,
  staleTime: 30_000,
})
const hasLog = computed(() => !!traces.value?.traces.length)
const events = computed(() =>
  trial.value.events.filter(
    (e) =>
      e.cook_id === cookId.value ||
      cook.value?.runs.some((r) => r.id === e.pit_run_id) ||
      trial.value.cuts.some((c) => c.id === e.cut_id && c.placement?.cook_id === cookId.value),
  ),
)
const whole = computed<[number, number]>(() => {
  const serve = Date.parse(cook.value?.serve_at ?? '')
  const t = hasLog.value ? [Date.parse(traces.value!.first), Date.parse(traces.value!.last)] : []
  const all = [...t, ...events.value.map((e) => Date.parse(e.at))]
  if (all.length === 0) return [serve - 10 * 3_600_000, serve]
  const [a, b] = [Math.min(...all), Math.max(...all)]
  return [a - (b - a) * 0.05 - 60_000, b + (b - a) * 0.02 + 60_000]
})
// What is likely: the view reaches to the table.
const ahead = ref(false)
const burning = computed(() => !shut.value && events.value.some((e) => e.act === 'on') && wire.value === 'live')
const reach = computed<[number, number]>(() => {
  if (!ahead.value || !cook.value) return whole.value
  const serve = Date.parse(cook.value.serve_at)
  return [whole.value[0], Math.max(whole.value[1], serve) + 20 * 60_000]
})
const view = computed(() => zoomed.value ?? reach.value)
function look(v: [number, number] | null) {
  const [a, b] = reach.value
  zoomed.value =
    !v || (v[0] <= a && v[1] >= b) || v[1] - v[0] > 2 * (b - a) ? null : v[1] - v[0] < 120_000 ? zoomed.value : v
}
function by(factor: number, shift = 0) {
  const [a, b] = view.value
  const mid = (a + b) / 2 + shift * (b - a)
  look([mid - ((b - a) / 2) * factor, mid + ((b - a) / 2) * factor])
}
function toggleAhead() {
  ahead.value = !ahead.value
  zoomed.value = null
}
watch(cookId, () => (zoomed.value = null))

const when = ref('')
const marked = computed(() => (when.value ? Date.parse(fromLocal(when.value)) : null))
const log = ref<InstanceType<typeof EventLog> | null>(null)

useKeys((key) => {
  if (!cook.value) return
  if (key === 'i') return (importing.value = !shut.value)
  if (key === 'q') return (probing.value = true)
  if (key === 'y' && burning.value) return (toggleAhead(), true)
  if (key === '+' || key === '=') return (by(0.7), true)
  if (key === '-') return (by(1 / 0.7), true)
  if (key === 'ArrowLeft' || key === 'ArrowRight') return (by(1, key === 'ArrowLeft' ? -0.2 : 0.2), true)
})

async function imported(r: { trial: typeof trial.value }) {
  set(r.trial)
  zoomed.value = null
  await client.invalidateQueries({ queryKey: ['traces', cookId.value] })
}
</script>

<template>
  <div v-if="!cook" class="page stack">
    <h1>No cook is planned</h1>
    <p>Fire needs a cook with its pit, and cuts placed in it.</p>
    <RouterLink :to="`/trials/${trial.id}/plan`">Plan the cook</RouterLink>
  </div>
  <div v-else class="fire">
    <RehearsalBar v-if="trial.rehearses !== null" :cook="cook" />
    <div class="bar row no-print">
      <SelectButton
        v-if="trial.cooks.length > 1"
        v-model="cookId"
        :options="trial.cooks.map((k, i) => ({ label: `Cook ${i + 1}`, value: k.id }))"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Cook"
      />
      <span
        >Table <b class="num">{{ dateTime(cook.serve_at) }}</b></span
      >
      <template v-if="!shut">
        <span
          >Now <b class="num" data-testid="cook-now">{{ clock(cookNow) }}</b></span
        >
        <span class="wire" :class="{ off: wire === 'cut off' }" role="status" data-testid="wire">{{
          wire === 'cut off' ? 'Cut off: what is shown may be old. Trying again.' : wire === 'live' ? 'live' : ''
        }}</span>
      </template>
      <span class="push row">
        <Button class="zoom" size="small" outlined aria-label="Closer" @click="by(0.7)"
          >Closer <KeyCap>+</KeyCap></Button
        >
        <Button class="zoom" size="small" outlined aria-label="Further" @click="by(1 / 0.7)"
          >Further <KeyCap>-</KeyCap></Button
        >
        <Button
          v-if="burning"
          size="small"
          :outlined="!ahead"
          class="zoom"
          :aria-pressed="ahead"
          data-testid="ahead"
          @click="toggleAhead"
          >Likely <KeyCap>Y</KeyCap></Button
        >
        <Button size="small" outlined label="All" class="zoom" :disabled="!zoomed" @click="look(null)" />
        <Button size="small" outlined @click="probing = true">Probes <KeyCap>Q</KeyCap></Button>
        <Button
          v-if="!shut && trial.rehearses === null"
          size="small"
          outlined
          label="Rehearse"
          :loading="busy"
          @click="rehearse"
        />
        <Button v-if="!shut" size="small" data-testid="open-import" @click="importing = true"
          >Import a log <KeyCap>I</KeyCap></Button
        >
      </span>
    </div>
    <ProblemNote :problem="problem" />
    <AlarmStrip v-if="!shut" :cook="cook" />
    <DueStrip v-if="!shut" :cook="cook" :now="cookNow" />
    <FireChart
      :cook="cook"
      :traces="hasLog ? traces : undefined"
      :view="view"
      :marked="marked"
      :ahead="ahead && burning ? cookNow : null"
      @view="look"
      @mark="(ms) => (when = toLocal(ms))"
      @size="(w) => (width = w)"
      @event="(e) => log?.mend(e)"
    />
    <p v-if="traces && !hasLog" class="none">No log yet. Import the logger's file, or log by hand below.</p>
    <OutlookStrip v-if="!shut" :cook="cook" />
    <FirePads v-if="!shut" v-model="when" :cook="cook" />
    <EventLog ref="log" :cook="cook" :events="events" />
    <ProbeDialog v-model="probing" :cook="cook" @changed="client.invalidateQueries({ queryKey: ['traces', cookId] })" />
    <LogImport v-model="importing" :cook="cook" @imported="imported" />
  </div>
</template>

<style scoped>
.bar {
  padding: 8px 16px;
  background: var(--lime);
}
.wire {
  color: var(--ember);
  font-weight: 700;
}
.wire.off {
  color: var(--watch);
  background: var(--watch-wash);
  padding: 2px 8px;
}
.none {
  padding: 10px 16px;
  background: var(--board);
  color: var(--soot);
}
@media (max-width: 900px) {
  /* On a phone the pads come before the picture. */
  .fire {
    display: flex;
    flex-direction: column;
  }
  .fire > * {
    order: 2;
  }
  .bar,
  .fire > .alarms,
  .fire > .due,
  .fire > .pads {
    order: 1;
  }
  .zoom {
    display: none;
  }
}
</style>
