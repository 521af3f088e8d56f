<script setup lang="ts">
import { useNow } from '@vueuse/core'
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, provide, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { useKept } from '../ui/kept'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, date, dateTime, fromLocal, toLocal } from '../ui/time'
import { shortWeight, typedTemperature } from '../ui/units'
import CalendarDialog from './CalendarDialog.vue'
import ClashList from './ClashList.vue'
import { draftKey, usePlanDraft, type Draft } from './draft'
import { spanText } from './rail'
import PhaseList from './PhaseList.vue'
import PlacesForm from './PlacesForm.vue'
import PlanRail from './PlanRail.vue'
import { tens } from './tasks'
import TwoDrafts from './TwoDrafts.vue'
import WhatIf from './WhatIf.vue'
import { allNumbers } from '../ui/number'

const { trial, set, shut, refresh } = useThisTrial()
const { isPitmaster } = useSession()
const { run, busy, problem } = useAct()
const plan = usePlanDraft()
provide(draftKey, plan)
const { draft, work, refused, working, dirty, complete } = plan
const picked = ref<{ arm: number; phase: number } | null>({ arm: 0, phase: 0 })
const calendar = ref(false)
/** What somebody else kept while this plan was made: the second sees both, and chooses. */
const standing = ref<{ cook: CookView; theirs: Draft } | null>(null)
const placesOpen = ref(false)

const written = computed(() => (isPitmaster.value && !shut.value ? draft.value : null))
const { restore, restored, letGo } = useKept(
  'Plan',
  () => `plan ${trial.value.id} ${draft.value?.id ?? 'new'}`,
  written,
  plan.kept,
)
function putBack() {
  plan.putBack()
  letGo()
}
function open(k: CookView | null) {
  problem.value = standing.value = null
  plan.open(k)
  placesOpen.value = k === null
  const was = restore()
  if (was) draft.value = was
}
// A plan that others change shows, unless something is typed over it.
const theirs = computed(() => {
  const k = trial.value.cooks.find((k) => k.id === draft.value?.id)
  return JSON.stringify([k?.serve_at, k?.runs, trial.value.outline, trial.value.cuts.map((c) => [c.id, c.placement])])
})
/** The cook that is still to come is the one to plan. */
const coming = () => {
  const now = Date.now()
  return trial.value.cooks.find((k) => Date.parse(k.serve_at) > now && !k.played) ?? trial.value.cooks[0] ?? null
}
watch(
  () => trial.value.id,
  () => open(coming()),
  { immediate: true },
)
watch(theirs, () => {
  const k = trial.value.cooks.find((k) => k.id === draft.value?.id)
  if (!dirty.value && k) plan.open(k)
})
const chances = [0.5, 0.7, 0.8, 0.9, 0.95, 0.98].map((value) => ({ label: `${Math.round(value * 100)} in 100`, value }))
const slices = [0, 5, 10, 15, 20, 30, 45, 60].map((m) => ({ label: `${m} min`, value: m * 60 }))
/** Where the lengths come from: the barn's own cooks of the kind, or the model. */
const lengths = computed(() => {
  const own = new Map<string, number>()
  const model: string[] = []
  for (const l of work.value?.lanes ?? []) {
    const arm = trial.value.ask.arms[l.arm]!
    const cut = work.value!.cuts.find((c) => trial.value.cuts.find((k) => k.id === c.id)?.arm_id === arm.id)
    if (cut?.house) own.set(arm.tag, cut.house)
    else model.push(arm.tag)
  }
  const said = [...own].map(([tag, n]) => `${tag} from ${n} cooks of your own`)
  if (model.length) said.push(own.size ? `${model.join(', ')} from the cook model` : 'all from the cook model')
  return `Lengths: ${said.join(', ')}.`
})
// A table in the past is said plainly, with the next time of that hour; one that was cooked is no plan any more.
const now = useNow({ interval: 30_000 })
const cooked = computed(() => trial.value.events.some((e) => e.act === 'on' && e.cut_id !== null))
const past = computed(() => {
  const t = draft.value?.serve ? Date.parse(fromLocal(draft.value.serve)) : NaN
  return !cooked.value && !shut.value && t < +now.value ? t : null
})
const nextTime = computed(() => {
  const day = 86_400_000
  return (past.value ?? 0) + Math.ceil((+now.value - (past.value ?? 0)) / day) * day
})
const today = toLocal(Date.now()).slice(0, 10)
const setNext = () => (draft.value!.serve = toLocal(nextTime.value))
/** About what facts, rail and what-if will take, so that nothing below jumps when they come. */
const room = computed(
  () => 96 + 33 + 98 * trial.value.ask.arms.length + 41 * (draft.value?.runs.length ?? 1) + 190 + 74,
)
const firstHand = computed(() => work.value?.tasks[0] ?? null)

async function compare(id: number) {
  await refresh('cooks', 'cuts')
  const cook = trial.value.cooks.find((k) => k.id === id)
  if (cook && cook.version !== draft.value!.version)
    // it may be refused for something else
    standing.value = { cook, theirs: plan.draftOf(cook) }
}
function takeTheirs() {
  const { cook } = standing.value!
  letGo()
  standing.value = problem.value = null
  plan.open(cook)
}
async function keepMine() {
  draft.value!.version = standing.value!.cook.version
  standing.value = null
  await keep()
}
async function keep() {
  if (!allNumbers()) return
  const d = draft.value!
  const sent = JSON.stringify(d)
  const v = await run(() =>
    d.id === null
      ? ok(api.POST('/api/trials/{id}/cooks', { params: { path: { id: trial.value.id } }, body: plan.body(d) }))
      : ok(api.PUT('/api/cooks/{id}', { params: { path: { id: d.id } }, body: plan.body(d) })),
  )
  if (!v) return void (problem.value?.status === 409 && d.id !== null && (await compare(d.id)))
  letGo()
  const { cooks } = set(v)!
  const k = cooks.find((k) => k.id === d.id) ?? cooks[cooks.length - 1]!
  if (JSON.stringify(draft.value) === sent) open(k)
  else plan.goOn(k)
}
</script>

<template>
  <div v-if="draft" class="plan">
    <section class="bar">
      <div class="field">
        <span class="label">On the table at</span>
        <MomentInput v-model="draft.serve" data-field="serve_at" label="On the table" :day="today" :disabled="shut" />
      </div>
      <div class="field">
        <label for="plan-chance">How sure</label>
        <Select
          v-model="draft.outline.chance"
          label-id="plan-chance"
          :options="chances"
          option-label="label"
          option-value="value"
          :disabled="shut"
        />
      </div>
      <div class="field">
        <label for="plan-slice">Slicing</label>
        <Select
          v-model="draft.outline.slice_s"
          label-id="plan-slice"
          :options="slices"
          option-label="label"
          option-value="value"
          :disabled="shut"
        />
      </div>
      <div class="row push acts">
        <template v-if="draft.id !== null">
          <RouterLink class="link" :to="`/trials/${trial.id}/run-sheet?cook=${draft.id}`">Run sheet</RouterLink>
          <RouterLink class="link" :to="`/trials/${trial.id}/labels`">Labels</RouterLink>
          <Button type="button" label="Calendar" size="small" outlined @click="calendar = true" />
        </template>
        <template v-if="isPitmaster && !shut">
          <span v-if="dirty" class="small" data-testid="unsaved">{{
            restored === 'changed since'
              ? 'What you typed before is here again; the plan was changed since.'
              : restored
                ? 'What you typed before is here again.'
                : 'Not saved yet.'
          }}</span>
          <Button v-if="dirty" type="button" label="Put back" size="small" outlined @click="putBack" />
          <Button
            label="Save the plan"
            :loading="busy"
            :disabled="standing !== null"
            data-testid="keep-cook"
            @click="keep"
          />
        </template>
        <p v-else class="soot small">
          {{ shut ? 'The codes are open, so the plan is shut.' : 'A pitmaster saves the plan.' }}
        </p>
      </div>
    </section>
    <ProblemNote class="note" :problem="problem ?? refused" />
    <TwoDrafts
      v-if="standing"
      :mine="draft"
      :theirs="standing.theirs"
      :runs="standing.cook.runs"
      @mine="keepMine"
      @theirs="takeTheirs"
    />
    <div v-if="past" class="warn row" role="status" data-testid="past">
      <span class="triangle"
        >The table is set for {{ dateTime(past) }}, which is past. Nothing can be planned backwards from it.</span
      >
      <Button
        v-if="isPitmaster && !shut"
        type="button"
        outlined
        :label="`Set it to ${dateTime(nextTime)}`"
        @click="setNext"
      />
    </div>
    <section v-if="work" class="facts" :class="{ working }" data-testid="plan-facts">
      <div>
        <b class="n" data-testid="plan-ready">{{ tens(work.ready) }}</b>
        <span class="small soot">to be ready by {{ clock(work.deadline) }}</span>
      </div>
      <div v-if="firstHand">
        <b class="n">{{ clock(firstHand.at.middle) }}</b>
        <span class="small soot">{{ date(firstHand.at.middle) }}, {{ firstHand.words }}</span>
      </div>
      <div v-for="p in work.pits" :key="p.pit">
        <b class="n">{{ clock(p.light) }}</b>
        <span class="small soot"
          >light {{ work.pit_names[p.pit] }}:
          <template v-if="p.fuel_kg">{{ shortWeight(p.fuel_kg) }} {{ work.fuels[p.pit] }}, </template
          ><template v-if="p.fuel_every_s">fed about every {{ Math.round(p.fuel_every_s / 60) }} min, </template
          >{{ p.wood.length }} of wood<template v-if="p.water_kg">, {{ shortWeight(p.water_kg) }} water</template
          >{{ p.known ? '' : ' (usual rates)' }}</span
        >
      </div>
      <div class="late">
        <span class="small">{{ work.late.words }}</span>
        <span class="small soot">{{ lengths }}</span>
      </div>
    </section>
    <div v-if="work" class="scroll"><PlanRail v-model:picked="picked" :work="work" /></div>
    <div v-else-if="complete && !refused" class="working-out" :style="{ height: `${room}px` }" role="status">
      <p class="page soot">Working back from the table</p>
    </div>
    <p v-else-if="!complete" class="page soot">
      Give the serving time, a pit with its set point and at least one cut a place, and the plan is worked back from the
      table.
    </p>
    <WhatIf v-if="work" />
    <div class="lower">
      <div class="stack">
        <template v-if="work">
          <h2>What stands in the way</h2>
          <ClashList :work="work" />
        </template>
        <details :open="placesOpen || !complete">
          <summary>Pits, places and hands</summary>
          <PlacesForm />
        </details>
      </div>
      <aside class="side stack">
        <PhaseList v-model:picked="picked" />
        <h2>Cooks of this trial</h2>
        <p v-if="trial.cooks.length === 0" class="soot">None yet.</p>
        <button
          v-for="(k, i) in trial.cooks"
          :key="k.id"
          type="button"
          class="cook rule"
          :class="{ here: draft.id === k.id }"
          @click="open(k)"
        >
          <b class="num">{{ i + 1 }}</b>
          <span
            ><b>{{ dateTime(k.serve_at) }}</b
            ><br /><span class="soot small">{{
              k.runs
                .map((r) => `${r.pit} ${typedTemperature({ c: r.set_point_c, typed: r.set_point_typed })}`)
                .join(', ')
            }}</span></span
          >
          <span class="num push">{{ trial.cuts.filter((c) => c.placement?.cook_id === k.id).length }} cuts</span>
        </button>
        <div v-if="isPitmaster && !shut"><Button label="Plan another cook" outlined @click="open(null)" /></div>
        <p v-if="work" class="small soot">
          Hold hot at 140 F or over (135 F in the FDA Food Code 2022, 3-501.16), measured in the holder and not on its
          dial. Salt, brine and thaw at 40 F or under. Check the current edition and your local code.
          {{ spanText(draft.outline.slice_s) }}
          of slicing counts as waiting.
        </p>
      </aside>
    </div>
    <CalendarDialog v-if="draft.id !== null" v-model="calendar" :cook="draft.id" />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: flex-end;
  padding: 10px 16px;
  border-bottom: var(--line) solid var(--grain);
}
.acts {
  gap: 12px;
}
.link {
  display: inline-flex;
  align-items: center;
  min-height: 36px;
  font-weight: 600;
}
.note {
  margin: 8px 16px;
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
  padding: 10px 16px;
}
.facts > div {
  display: flex;
  flex-direction: column;
  max-width: 340px;
}
.n {
  font: 700 26px/1.1 var(--font-num);
}
.facts.working .n {
  color: transparent;
  -webkit-text-stroke: 1px var(--ink);
}
.late {
  margin-left: auto;
  justify-content: center;
}
.scroll {
  overflow-x: auto;
}
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  border-top: var(--line) solid var(--grain);
}
.lower > div {
  padding: 16px;
}
.side {
  border-left: var(--line-strong) solid var(--ink);
  background: var(--board);
  padding: 16px;
}
summary {
  font: 700 20px var(--font-head);
  min-height: 40px;
  cursor: pointer;
}
.cook {
  display: flex;
  gap: 12px;
  align-items: center;
  text-align: left;
  background: none;
  border-width: var(--line) 0 0;
  padding: 12px 4px;
  cursor: pointer;
  min-height: 48px;
}
.cook.here {
  background: var(--trough);
}
@media (max-width: 900px) {
  .lower {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    border-left: 0;
    border-top: var(--line-strong) solid var(--ink);
  }
  .acts,
  .late {
    margin-left: 0;
  }
}
</style>
