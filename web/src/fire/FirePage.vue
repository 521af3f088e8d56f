<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useGate } from '../gate/gate'
import StopStrips from '../gate/StopStrips.vue'
import StepLine from '../trial/StepLine.vue'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { useKeys } from '../ui/keys'
import { dateTime, fromLocal, toLocal } from '../ui/time'
import AlarmStrip from './AlarmStrip.vue'
import BurnSoFar from './BurnSoFar.vue'
import ClashStrip from './ClashStrip.vue'
import DoubtStrip from './DoubtStrip.vue'
import DueStrip from './DueStrip.vue'
import EventLog from './EventLog.vue'
import FireChart from './FireChart.vue'
import FirePads from './FirePads.vue'
import FireTools from './FireTools.vue'
import type { Align } from './lanes'
import { useLive } from './live'
import OutlookStrip from './OutlookStrip.vue'
import { savePNG, saveSVG } from './picture'
import { useReplay, useUntil } from './replay'
import SafetyStrip from './SafetyStrip.vue'
import SoFarStrip from './SoFarStrip.vue'
import { useTraces, useView } from './view'
import { useCookNow } from './now'

// What is opened by a hand comes when it is.
const LeftInPits = defineAsyncComponent(() => import('../rest/LeftInPits.vue'))
const LogImport = defineAsyncComponent(() => import('./LogImport.vue'))
const ProbeDialog = defineAsyncComponent(() => import('./ProbeDialog.vue'))
const WaysOut = defineAsyncComponent(() => import('./WaysOut.vue'))
const ReplayBar = defineAsyncComponent(() => import('./ReplayBar.vue'))
const RehearsalBar = defineAsyncComponent(() => import('./RehearsalBar.vue'))
const ReadingsTable = defineAsyncComponent(() => import('./ReadingsTable.vue'))

const { trial, shut } = useThisTrial()
const route = useRoute()
const router = useRouter()
const { run, busy, problem } = useAct()
const client = useQueryClient()

/** The one that is asked for; of burns, the first that is not over; else the first. */
const cookId = ref(
  (
    trial.value.cooks.find((k) => k.id === Number(route.query.cook)) ??
    trial.value.cooks.find((k) => trial.value.ask.kind && Date.parse(k.serve_at) > Date.parse(k.now)) ??
    trial.value.cooks[0]
  )?.id ?? null,
)
const cook = computed(() => trial.value.cooks.find((k) => k.id === cookId.value) ?? null)
const importing = ref(false)
const probing = ref(false)
// The cook's own clock: a rehearsal's runs fast.
const real = useNow({ interval: 1000 })
const clockNow = useCookNow(() => cook.value)
const cookNow = computed(() => (void real.value, clockNow()))

async function rehearse() {
  const r = await run(() =>
    ok(api.POST('/api/cooks/{id}/rehearse', { params: { path: { id: cook.value!.id } }, body: { rate: 60 } })),
  )
  if (r) await router.push(`/trials/${r.trial_id}/fire`)
}

const { zoomed, width, shift, read } = useTraces(cookId)
const { wire, latest, traces } = useLive(
  computed(() => (shut.value ? null : cook.value)),
  read,
)
const hasLog = computed(() => !!traces.value?.traces.length)
// It reads every reading there is: the picture comes first.
const { gate } = useGate(() => !!traces.value)
const events = computed(() =>
  trial.value.events.filter(
    (e) =>
      e.cook_id === cookId.value ||
      cook.value?.runs.some((r) => r.id === e.pit_run_id) ||
      trial.value.cuts.some((c) => c.id === e.cut_id && c.placement?.cook_id === cookId.value),
  ),
)
// A cook whose cuts are all off can be played again.
const finished = computed(() => {
  const cuts = trial.value.cuts.filter((c) => c.placement?.cook_id === cookId.value)
  const pulled = new Set(events.value.filter((e) => e.act === 'pull').map((e) => e.cut_id))
  return hasLog.value && cuts.length > 0 && cuts.every((c) => pulled.has(c.id))
})
const burning = computed(
  () => !shut.value && !finished.value && events.value.some((e) => e.act === 'on') && wire.value === 'live',
)
const { whole, ahead, view, look, by, toggleAhead } = useView({ cook, traces, events, burning, zoomed })
watch(cookId, () => {
  zoomed.value = null
  replay.end()
})

// Lanes side by side: on the clock, or on what was done to each.
const align = ref<Align>('clock')

const replay = useReplay(whole)
const { until, playing, speed } = replay
const shown = useUntil(events, () => until.value)
const waysOut = ref(false)
const chart = ref<InstanceType<typeof FireChart> | null>(null)
const pads = ref<InstanceType<typeof FirePads> | null>(null)
const pictureTitle = computed(() => `${trial.value.ask.question} ${dateTime(cook.value!.serve_at)}`)
const picture = (as: (plot: HTMLElement, title: string) => unknown) => as(chart.value!.plot!, pictureTitle.value)
/** To a quarter minute: what hangs on it need not be drawn each second. */
const nowHere = computed(() => until.value ?? Math.ceil(cookNow.value / 15_000) * 15_000)

// What lies under the screen comes once the screen itself is painted.
const under = ref(false)
onMounted(() => requestAnimationFrame(() => setTimeout(() => (under.value = true))))

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
    <h1>{{ trial.ask.kind ? 'No burn is planned' : 'No cook is planned' }}</h1>
    <p v-if="!trial.ask.kind">Fire needs a cook with its pit, and cuts placed in it.</p>
    <RouterLink :to="`/trials/${trial.id}/plan`">{{ trial.ask.kind ? 'Plan the burns' : 'Plan the cook' }}</RouterLink>
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
    <h1 class="visually-hidden no-print">Fire</h1>
    <div class="screen" :class="{ pressed: !shut }">
      <div class="strips">
        <RehearsalBar v-if="trial.rehearses !== null" :cook="cook" />
        <p v-if="!shut && wire === 'cut off'" class="cut no-print" role="status" data-testid="wire">
          Connection lost: what is shown may be old. Trying again.
        </p>
        <ProblemNote :problem="problem" />
        <AlarmStrip v-if="!shut" :cook="cook" :options="under" />
        <ClashStrip v-if="!shut" :events="events" />
        <DoubtStrip v-if="!shut" :events="events" />
        <StopStrips v-if="gate" :gate="gate" />
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
      </div>
      <DueStrip
        v-if="!shut && !finished"
        class="due-at"
        :cook="cook"
        :now="cookNow"
        @read="(ids) => pads?.readRound(ids)"
      />
      <FireChart
        ref="chart"
        class="chart-at"
        :cook="cook"
        :traces="hasLog ? traces : undefined"
        :waiting="!traces"
        :latest="latest"
        :view="view"
        :align="align"
        :marked="marked"
        :now="nowHere"
        :ahead="ahead && burning ? cookNow : null"
        :door="shut || finished ? null : nowHere"
        :until="until"
        @view="look"
        @mark="(ms) => (when = toLocal(ms))"
        @size="(w) => (width = w)"
        @shift="(by) => (shift = by)"
        @event="(e) => log?.mend(e)"
      />
      <FirePads v-if="!shut" ref="pads" v-model="when" class="pads-at" :cook="cook"
        ><Button v-if="burning" outlined data-testid="open-ways" @click="waysOut = true"
          >Options <KeyCap>X</KeyCap></Button
        ></FirePads
      >
    </div>
    <template v-if="under">
      <StepLine :trial="trial" here="fire" />
      <FireTools
        v-model:cook="cookId"
        v-model:align="align"
        :of="cook"
        :now="cookNow"
        :live="wire === 'live'"
        :burning="burning"
        :ahead="ahead"
        :zoomed="!!zoomed"
        :replayable="finished && until === null"
        :busy="busy"
        @zoom="by"
        @all="look(null)"
        @ahead="toggleAhead"
        @probes="probing = true"
        @replay="replay.play"
        @rehearse="rehearse"
        @import="importing = true"
        @save="(as) => picture(as === 'svg' ? saveSVG : savePNG)"
      />
      <p v-if="traces && !hasLog" class="none">
        No log yet. Import the logger's file, or read by hand with the pads above.
      </p>
      <ReadingsTable v-if="traces && hasLog" :cook="cook" :traces="traces" :view="view" />
      <BurnSoFar v-if="trial.ask.kind === 'set-ups'" :cook="cook" />
      <div v-if="trial.ask.kind === 'set-ups'" class="page"><LeftInPits :cook="cook" /></div>
      <OutlookStrip v-if="!shut" :cook="cook" />
      <SoFarStrip v-if="until === null && traces" :cook="cook" />
      <SafetyStrip v-if="until === null && !shut" :cook="cook" />
      <EventLog ref="log" :cook="cook" :events="shown" />
    </template>
    <WaysOut v-if="waysOut" v-model="waysOut" :cook="cook" />
    <ProbeDialog
      v-if="probing"
      v-model="probing"
      :cook="cook"
      @changed="client.invalidateQueries({ queryKey: ['traces', cookId] })"
    />
    <LogImport v-if="importing" v-model="importing" :cook="cook" @imported="imported" />
  </div>
</template>

<style scoped>
/* The fire fits the screen: lanes take what due, pads and strips leave. */
.screen {
  display: flex;
  flex-direction: column;
  min-height: calc(100dvh - var(--shell));
}
.chart-at {
  flex: 1 1 0;
  min-height: 250px;
  overflow-y: auto;
}
.cut {
  color: var(--watch);
  background: var(--watch-wash);
  padding: 6px 16px;
  font-weight: 700;
}
.none {
  padding: 10px 16px;
  background: var(--board);
  color: var(--soot);
}
@media (max-height: 500px) {
  /* On its side, or zoomed: numbers left, pads right. */
  .screen.pressed {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    grid-template-rows: auto auto minmax(0, 1fr);
    height: calc(100dvh - var(--shell));
    min-height: 280px;
  }
  .strips {
    grid-column: 1 / -1;
    max-height: 30vh;
    overflow-y: auto;
  }
  .due-at {
    grid-area: 2 / 1;
  }
  .chart-at {
    grid-area: 3 / 1;
    min-height: 0;
  }
  .pads-at {
    grid-area: 2 / 2 / span 2;
    overflow-y: auto;
  }
}
@media print {
  .screen {
    display: block;
  }
  .chart-at {
    overflow: visible;
  }
  .fire > :deep(.log) {
    break-before: page;
  }
}
</style>
