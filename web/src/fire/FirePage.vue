<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced, useNow } from '@vueuse/core'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useGate } from '../gate/gate'
import StopStrips from '../gate/StopStrips.vue'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { useKeys } from '../ui/keys'
import { clock, dateTime, fromLocal, toLocal } from '../ui/time'
import AlarmStrip from './AlarmStrip.vue'
import ClashStrip from './ClashStrip.vue'
import DueStrip from './DueStrip.vue'
import EventLog from './EventLog.vue'
import FireChart from './FireChart.vue'
import FirePads from './FirePads.vue'
import type { Align } from './lanes'
import { useLive } from './live'
import LogImport from './LogImport.vue'
import OutlookStrip from './OutlookStrip.vue'
import { savePNG, saveSVG } from './picture'
import ProbeDialog from './ProbeDialog.vue'
import RehearsalBar from './RehearsalBar.vue'
import { useReplay, useUntil } from './replay'
import ReplayBar from './ReplayBar.vue'
import SafetyStrip from './SafetyStrip.vue'
import SoFarStrip from './SoFarStrip.vue'
import WaysOut from './WaysOut.vue'

const { trial, shut } = useThisTrial()
const router = useRouter()
const { run, busy, problem } = useAct()
const client = useQueryClient()
const { gate } = useGate()

const cookId = ref(trial.value.cooks[0]?.id ?? null)
const cook = computed(() => trial.value.cooks.find((k) => k.id === cookId.value) ?? null)
const importing = ref(false)
const probing = ref(false)
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
const width = ref(window.innerWidth > 900 ? window.innerWidth - 300 : window.innerWidth - 84)
const asked = refDebounced(zoomed, 120)
const columns = refDebounced(width, 200)
/** Lanes that are shifted show what lies outside of the view on the clock. */
const shift = ref(0)
const wanted = computed(() => {
  const v = asked.value
  if (!v) return { from: 0, to: 0, columns: Math.max(50, columns.value) }
  // Half a view more to each side, for a hand that moves on.
  const span = v[1] - v[0]
  const from = v[0] - span / 2
  const to = v[1] + span / 2 + shift.value
  return {
    from: Math.round(from),
    to: Math.round(to),
    columns: Math.max(50, Math.round(columns.value * Math.min((to - from) / span, 5))),
  }
})
const { data: read } = useQuery({
  queryKey: computed(() => ['traces', cookId.value, wanted.value]),
  queryFn: () =>
    ok(api.GET('/api/cooks/{id}/traces', { params: { path: { id: cookId.value! }, query: wanted.value } })),
  enabled: computed(() => cookId.value !== null),
  placeholderData: keepPreviousData,
  staleTime: 30_000,
  // Ten thousand numbers: neither compared nor watched one by one.
  structuralSharing: false,
  shallow: true,
})
const { wire, latest, traces } = useLive(
  computed(() => (shut.value ? null : cook.value)),
  read,
)
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
  // Both ends move in steps, themselves by doubling, so that one more reading does not shift all that is drawn.
  const step = 60_000 * 2 ** Math.max(0, Math.floor(Math.log2((b - a) / 3_600_000)))
  return [a - 3 * step, Math.ceil((b + 60_000) / step) * step]
})
// A cook whose cuts are all off can be played again.
const finished = computed(() => {
  const cuts = trial.value.cuts.filter((c) => c.placement?.cook_id === cookId.value)
  const pulled = new Set(events.value.filter((e) => e.act === 'pull').map((e) => e.cut_id))
  return hasLog.value && cuts.length > 0 && cuts.every((c) => pulled.has(c.id))
})
// What is likely: the view reaches to the table.
const ahead = ref(false)
const burning = computed(
  () => !shut.value && !finished.value && events.value.some((e) => e.act === 'on') && wire.value === 'live',
)
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
watch(cookId, () => {
  zoomed.value = null
  replay.end()
})

// Lanes side by side: on the clock, or on what was done to each.
const align = ref<Align>('clock')
const aligns: { label: string; value: Align }[] = [
  { label: 'Clock', value: 'clock' },
  { label: 'From on', value: 'on' },
  { label: 'From wrap', value: 'wrap' },
  { label: 'From pull', value: 'pull' },
]

const replay = useReplay(whole)
const { until, playing, speed } = replay
const shown = useUntil(events, () => until.value)
const waysOut = ref(false)
const chart = ref<InstanceType<typeof FireChart> | null>(null)
const pictureTitle = computed(() => `${trial.value.ask.question} ${dateTime(cook.value!.serve_at)}`)
const picture = (as: (plot: HTMLElement, title: string) => unknown) => as(chart.value!.plot!, pictureTitle.value)
const print = () => window.print()
/** To a quarter minute: what hangs on it need not be drawn each second. */
const nowHere = computed(() => until.value ?? Math.round(cookNow.value / 15_000) * 15_000)

const when = ref('')
const marked = computed(() => (when.value ? Date.parse(fromLocal(when.value)) : null))
const log = ref<InstanceType<typeof EventLog> | null>(null)

useKeys((key) => {
  if (!cook.value) return
  if (key === 'i') return (importing.value = !shut.value)
  if (key === 'q') return (probing.value = true)
  if (key === 'x' && burning.value) return (waysOut.value = true)
  if (key === ' ' && (finished.value || until.value !== null)) return (replay.toggle(), true)
  if (key === 'y' && burning.value) return (toggleAhead(), true)
  if (key === '+' || key === '=') return (by(0.7), true)
  if (key === '-') return (by(1 / 0.7), true)
  if (key === 'ArrowLeft' || key === 'ArrowRight') return (by(1, key === 'ArrowLeft' ? -0.2 : 0.2), true)
})

async function imported() {
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
    <header class="print-only page">
      <h1>{{ trial.ask.question }}</h1>
      <p>
        Cook for the table of <b class="num">{{ dateTime(cook.serve_at) }}</b>, printed
        <span class="num">{{ dateTime(real) }}</span>{{
          trial.rehearses !== null ? '. A rehearsal: nothing here counts' : ''
        }}.
      </p>
    </header>
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
        <Button v-if="burning" size="small" outlined data-testid="open-ways" @click="waysOut = true"
          >Ways out <KeyCap>X</KeyCap></Button
        >
        <Button size="small" outlined label="All" class="zoom" :disabled="!zoomed" @click="look(null)" />
        <Button size="small" outlined @click="probing = true">Probes <KeyCap>Q</KeyCap></Button>
      </span>
    </div>
    <ProblemNote :problem="problem" />
    <AlarmStrip v-if="!shut" :cook="cook" />
    <ClashStrip v-if="!shut" :events="events" />
    <StopStrips v-if="gate" :gate="gate" />
    <DueStrip v-if="!shut && !finished" :cook="cook" :now="cookNow" />
    <ReplayBar
      v-if="until !== null"
      v-model:speed="speed"
      :from="whole[0]"
      :to="whole[1]"
      :until="until"
      :playing="playing"
      @toggle="replay.toggle"
      @seek="replay.seek"
      @end="replay.end"
    />
    <FireChart
      ref="chart"
      :cook="cook"
      :traces="hasLog ? traces : undefined"
      :waiting="!traces"
      :latest="latest"
      :view="view"
      :align="align"
      :marked="marked"
      :now="nowHere"
      :ahead="ahead && burning ? cookNow : null"
      :until="until"
      @view="look"
      @mark="(ms) => (when = toLocal(ms))"
      @size="(w) => (width = w)"
      @shift="(by) => (shift = by)"
      @event="(e) => log?.mend(e)"
    />
    <FirePads v-if="!shut" v-model="when" :cook="cook" />
    <div class="tools row no-print">
      <SelectButton
        v-model="align"
        :options="aligns"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Lanes side by side"
        data-testid="align"
      />
      <Button v-if="finished && until === null" size="small" outlined data-testid="replay-start" @click="replay.play"
        ><KeyCap>Space</KeyCap> Play it again</Button
      >
      <span id="fire-options" class="push" />
      <span class="row">
        <Button size="small" outlined label="Save SVG" @click="picture(saveSVG)" />
        <Button size="small" outlined label="Save PNG" @click="picture(savePNG)" />
        <Button size="small" outlined label="Print" @click="print" />
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
    <p v-if="traces && !hasLog" class="none">No log yet. Import the logger's file, or log by hand below.</p>
    <OutlookStrip v-if="!shut" :cook="cook" />
    <SoFarStrip v-if="until === null && traces" :cook="cook" />
    <SafetyStrip v-if="until === null && !shut" :cook="cook" />
    <EventLog ref="log" :cook="cook" :events="shown" />
    <WaysOut v-model="waysOut" :cook="cook" />
    <ProbeDialog v-model="probing" :cook="cook" @changed="client.invalidateQueries({ queryKey: ['traces', cookId] })" />
    <LogImport v-model="importing" :cook="cook" @imported="imported" />
  </div>
</template>

<style scoped>
.bar {
  padding: 8px 16px;
  background: var(--lime);
}
.tools {
  padding: 8px 16px;
  background: var(--board);
  border-top: var(--line) solid var(--grain);
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
  /* On a phone: what is due, the numbers, and the pads always at hand. */
  .fire {
    display: flex;
    flex-direction: column;
  }
  .fire > .pads {
    order: 2;
    position: sticky;
    bottom: 0;
    z-index: 2;
  }
  .bar .zoom {
    display: none;
  }
}
@media print {
  .fire > :deep(.log) {
    break-before: page;
  }
}
</style>
