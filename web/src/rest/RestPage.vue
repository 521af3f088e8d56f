<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Event } from '../api/schema.gen'
import GroupRead from '../fire/GroupRead.vue'
import KeptHere from '../fire/KeptHere.vue'
import TurnedAwayList from '../fire/TurnedAwayList.vue'
import { useCookNow } from '../fire/now'
import { usePresses } from '../fire/presses'
import { useGate } from '../gate/gate'
import MeatStrip from '../gate/MeatStrip.vue'
import DoubtStrip from '../fire/DoubtStrip.vue'
import StopStrips from '../gate/StopStrips.vue'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { handheld } from '../ui/screens'
import { clock, dateTime, span } from '../ui/time'
import { temperature } from '../ui/units'
import { cookAtRest, useRest } from './board'
import ComparePhotos from './ComparePhotos.vue'
import LeftInPits from './LeftInPits.vue'
import RestBoard from './RestBoard.vue'
import WeighCard from './WeighCard.vue'
import WeightTable from './WeightTable.vue'
import WhereItWent from './WhereItWent.vue'

const { trial, set, armOf, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { run, busy, problem } = useAct()
const { gate, asked, of: rulingOf } = useGate()
const small = useMediaQuery(handheld)

const cookId = ref(cookAtRest(trial.value.cooks, trial.value.cuts, trial.value.events))
const cook = computed(() => trial.value.cooks.find((k) => k.id === cookId.value) ?? null)
const { rest, asked: answered } = useRest(cookId)
const cuts = computed(() => {
  const mine = trial.value.cuts.filter((c) => c.placement?.cook_id === cookId.value)
  return [...mine].sort((a, b) => armOf(a) - armOf(b) || a.name.localeCompare(b.name))
})
const nameOf = (id: number) => {
  const c = trial.value.cuts.find((c) => c.id === id)
  return c ? `${trial.value.ask.arms[armOf(c)]?.tag ?? ''} ${c.name}`.trim() : ''
}

// The piece on the scale: the one that is picked, else the first that is not weighed out.
const picked = ref<number | null>(null)
const open = (id: number) => {
  const c = trial.value.cuts.find((c) => c.id === id)
  return !!c && !['off', 'rested', 'edible'].every((s) => c.weighings.some((w) => w.stage === s))
}
watch(
  cuts,
  (of) => {
    if (!of.some((c) => c.id === picked.value)) picked.value = of.find((c) => open(c.id))?.id ?? of[0]?.id ?? null
  },
  { immediate: true },
)
const onScale = computed(() => cuts.value.find((c) => c.id === picked.value))
function nextPiece() {
  const i = cuts.value.findIndex((c) => c.id === picked.value)
  const after = [...cuts.value.slice(i + 1), ...cuts.value.slice(0, i)]
  picked.value = after.find((c) => open(c.id))?.id ?? picked.value
}

// The first line answers the page's question.
const states = computed(() => rest.value?.cuts ?? [])
const stillOn = computed(() => states.value.filter((r) => r.state === 'on'))
const toWeigh = computed(() => cuts.value.filter((c) => open(c.id)).length)
const first = computed(() => {
  const n = cuts.value.length
  if (!n) return 'Nothing is planned to be cooked yet.'
  if (states.value.length && states.value.every((r) => r.state === 'not on')) return 'Nothing is on the fire yet.'
  if (stillOn.value.length) return `${stillOn.value.length} of ${n} still on.`
  if (toWeigh.value) return `${toWeigh.value} of ${n} still to weigh out.`
  return `All ${n} weighed out.`
})
const uneven = computed(() => (rest.value?.even.uneven ? rest.value.even : null))
const over = computed(() => states.value.every((r) => r.cut || r.state === 'not on'))
/** Which come off next, and how long the first has waited. */
const order = computed(() => {
  const next = stillOn.value
    .filter((r) => r.likely)
    .sort((a, b) => Date.parse(a.likely!.middle) - Date.parse(b.likely!.middle))
    .slice(0, 4)
    .map((r) => `${nameOf(r.cut_id)} about ${clock(r.likely!.middle)}`)
  const pulls = states.value.flatMap((r) => (r.pull && r.state === 'resting' ? [Date.parse(r.pull)] : []))
  const waits = pulls.length && next.length ? Date.parse(rest.value!.now) - Math.min(...pulls) : 0
  const wait = waits > 600_000 ? ` The first off has waited ${span(waits / 3_600_000)}.` : ''
  return next.length ? `Off next: ${next.join(', ')}.${wait}` : ''
})
const drops = computed(() =>
  (rest.value?.drops ?? []).map(
    (d) =>
      `Oil ${clock(d.at)}: ${temperature(d.drop_c)} at the drop, set ${temperature(d.set_c)}, down to ${temperature(d.low_c)}, ${Math.round(d.under_s / 60)} min under${d.back ? '' : ' and not back'}`,
  ),
)
async function evenOut() {
  const body = { serve_at: uneven.value!.table! }
  set(await run(() => ok(api.PUT('/api/cooks/{id}/meal', { params: { path: { id: cookId.value! } }, body }))))
}

// Read all, one after the other; and what is done to the piece that is picked.
const reading = ref<'all' | number | null>(null)
const read = computed(() => cuts.value.filter((c) => reading.value === 'all' || c.id === reading.value))
const { log, outbox } = usePresses(
  () => cook.value!,
  useCookNow(() => cook.value),
)
async function act(a: Event['act']) {
  if (!onScale.value || !cook.value) return
  await log({ act: a, at: null, cut_ids: [onScale.value.id], pit_run_ids: [] })
}
const tab = ref<'read' | 'weigh' | 'tracks'>('weigh')
const readHere = ref<HTMLElement | null>(null)
watch(
  () => reading.value !== null || tab.value === 'read',
  (shown) => shown && void nextTick(() => readHere.value?.scrollIntoView({ block: 'start' })),
)
const tabs = [
  { label: 'Read all', value: 'read' },
  { label: 'Weigh out', value: 'weigh' },
  { label: 'Tracks', value: 'tracks' },
] as const
const card = ref<HTMLElement | null>(null)
useKeys((key) => {
  if (shut.value || !cook.value) return
  if (key === 'r') return ((reading.value = 'all'), true)
  if (key === 'h') return (void act('hold'), true)
  if (key === 'c') return (void act('carve'), true)
  if (key === 'o')
    return (void nextTick(() => card.value?.querySelector<HTMLInputElement>('[data-testid=weigh-now]')?.focus()), true)
})
</script>

<template>
  <div v-if="asked && (answered || !cook)" class="rest">
    <div class="first">
      <h1>{{ first }}</h1>
      <p v-if="uneven" class="triangle watch" data-testid="uneven">
        {{ over ? 'They rested unevenly' : 'Rest grows uneven' }}: {{ uneven.words }};
        {{ span(uneven.apart_s / 3600) }} apart, {{ span(uneven.allow_s / 3600) }} is allowed. The arms could not be
        told apart from their rest.
      </p>
      <p v-else-if="order" class="soot">{{ order }}</p>
      <Button
        v-if="uneven?.table && isPitmaster && !shut"
        class="push"
        :loading="busy"
        data-testid="even"
        @click="evenOut"
        >Even the rest: table moves to <b class="num">{{ clock(uneven.table) }}</b></Button
      >
      <Button
        v-else-if="cook && !shut && !small && states.some((r) => r.state !== 'not on')"
        class="push"
        outlined
        data-testid="read-all"
        @click="reading = 'all'"
        ><KeyCap>R</KeyCap> Read all</Button
      >
      <SelectButton
        v-if="trial.cooks.length > 1"
        v-model="cookId"
        :options="trial.cooks.map((k) => ({ label: dateTime(k.serve_at), value: k.id }))"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Cook"
      />
    </div>
    <p v-if="uneven && order" class="second soot">{{ order }}</p>
    <div v-if="gate" class="strips"><MeatStrip :gate="gate" /><StopStrips :gate="gate" /></div>
    <DoubtStrip :events="trial.events" />
    <ProblemNote :problem="problem ?? outbox.problem.value" />
    <SelectButton
      v-if="small && cook"
      v-model="tab"
      class="tabs"
      :options="[...tabs]"
      option-label="label"
      option-value="value"
      :allow-empty="false"
      aria-label="What is done here"
    />
    <KeptHere :outbox="outbox" />
    <TurnedAwayList v-if="cook" :outbox="outbox" :cuts="cuts" :cook="cook" :press="log" />
    <div v-if="cook" class="desk" :style="{ '--tracks': cuts.length }">
      <div v-if="reading || (small && tab === 'read')" ref="readHere" class="reading">
        <GroupRead
          :key="String(reading)"
          :cook="cook"
          :cuts="reading ? read : cuts"
          :press="log"
          @close="((reading = null), (tab = 'weigh'))"
        />
      </div>
      <div v-show="!small || tab === 'tracks'" class="pieces">
        <RestBoard v-model:picked="picked" :cook="cook" :rest="rest" :gate="rulingOf" @read="(id) => (reading = id)" />
        <p v-for="d in drops" :key="d" class="small drop">{{ d }}.</p>
        <WhereItWent />
      </div>
      <div v-show="!small || (tab === 'weigh' && !reading)" ref="card" class="side">
        <WeighCard v-if="onScale" :key="onScale.id" :cut="onScale" @next="nextPiece" />
        <div v-if="onScale && !shut" class="row acts" role="group" :aria-label="`What is done to ${onScale.name}`">
          <Button outlined data-testid="rest-hold" @click="act('hold')"><KeyCap>H</KeyCap> Into the hold</Button>
          <Button outlined data-testid="rest-carve" @click="act('carve')"><KeyCap>C</KeyCap> Slice</Button>
          <Button outlined label="Next piece" @click="nextPiece" />
        </div>
      </div>
    </div>
    <ComparePhotos :cuts="cuts" />
    <LeftInPits v-if="cook" :cook="cook" />
    <div class="page"><WeightTable /></div>
  </div>
</template>

<style scoped>
.rest {
  min-height: calc(100dvh - var(--shell));
}
.first {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  padding: 10px 16px;
  background: var(--trough);
  min-height: 64px;
}
h1 {
  font-size: 22px;
  margin: 0;
}
.first p {
  margin: 0;
}
.second {
  margin: 0;
  padding: 0 16px 8px;
  background: var(--trough);
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 336px;
  align-items: start;
  border-top: var(--line-strong) solid var(--ink);
  border-bottom: var(--line-strong) solid var(--ink);
  min-height: calc(var(--tracks) * 95px + 40px);
}
.side {
  border-left: var(--line-strong) solid var(--ink);
}
.reading {
  grid-column: 1 / -1;
  padding: 12px 16px;
  background: var(--trough);
  border-bottom: var(--line-strong) solid var(--ink);
}
.strips > :first-child {
  padding: 0 16px;
}
.acts {
  padding: 0 12px 12px;
  gap: 8px;
}
.drop {
  margin: 0;
  padding: 4px 12px;
}
.tabs {
  display: flex;
  padding: 8px 12px;
}
.tabs :deep(button) {
  flex: 1;
  min-height: 48px;
}
@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
    min-height: 0;
  }
  .side {
    border-left: 0;
    border-top: var(--line-strong) solid var(--ink);
  }
}
</style>
