<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputNumber from 'primevue/inputnumber'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { useCrew } from '../crew/people'
import { api, ok } from '../api/client'
import type { FlightInput } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import CutRuling from '../gate/CutRuling.vue'
import { mayBeServed, useGate } from '../gate/gate'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ArmName from '../ui/ArmName.vue'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import FormatChoice from './FormatChoice.vue'
import { fromLocal, toLocal } from '../ui/time'

/** A flight to be served: what is asked, who tastes and who knows, which pieces, and how they are handed out. */
const emit = defineEmits<{ done: [] }>()
const { trial, set, refresh, armOf } = useThisTrial()
const { person } = useSession()
const { of: rulingOf } = useGate()
const { offer } = useUndo()
const serving = useAct()
const people = useCrew()
const path = computed(() => ({ path: { id: trial.value.id } }))

const openCuts = computed(() => trial.value.cuts.filter((c) => mayBeServed(rulingOf(c.id)) && c.arm_id !== null))
const f = reactive({
  format: 'scores' as FlightInput['format'],
  carver: (person.value?.id ?? 0) as number, // 0: all is open, -1: shuffled cups
  cuts: openCuts.value.slice(0, 6).map((c) => c.id),
  places: ['middle of the piece'],
  tasters: trial.value.tasters.map((t) => t.id),
  open: [] as number[],
  duplicate: false,
  warm: 0,
  bites: 2,
  water: 60,
  second: false,
  choice: false,
  repeats: 1,
  rounds: 1,
  served: '', // when, of a cook that is over
})
const over = computed(() => f.cuts.some((id) => rulingOf(id)?.over))
// The gate may answer after the form is there.
watch(openCuts, (now) => {
  if (!f.cuts.length) f.cuts = now.slice(0, 6).map((c) => c.id)
})
const dressing = reactive<Record<number, { carving: string; sight: boolean }>>(
  Object.fromEntries(trial.value.ask.arms.map((_, i) => [i, { carving: '', sight: false }])),
)
const rule = computed(() => vocabulary.formats.find((x) => x.format === f.format)!)
const carvers = computed(() => [
  ...(people.value ?? []).map((p) => ({ label: p.name, value: p.id })),
  { label: 'nobody: all of us know, in the open', value: 0 },
  ...(f.tasters.length === 1 ? [{ label: 'nobody: I am alone and shuffle closed cups', value: -1 }] : []),
])
const seated = (id: number) => trial.value.tasters.find((t) => t.id === id)!
/** Who of the tasters knows the codes: all in the open, the carver, and who is said to. */
const knows = (id: number) =>
  f.carver === 0 || (f.carver > 0 && seated(id).person_id === f.carver) || f.open.includes(id)
const blind = computed(() => f.tasters.filter((id) => !knows(id)).length)
const alone = computed(() => f.tasters.length === 1 && blind.value === 1)
const pieces = computed(() =>
  f.cuts.flatMap((id) => {
    const arm = armOf(trial.value.cuts.find((c) => c.id === id)!)
    const d = dressing[arm]
    return f.places.map((place) => ({ cut_id: id, place, carving: d?.carving ?? '', by_sight: d?.sight ?? false }))
  }),
)
const armsIn = computed(() =>
  [...new Set(f.cuts.map((id) => armOf(trial.value.cuts.find((c) => c.id === id)!)))].filter((a) => a >= 0).sort(),
)
const perArm = computed(() =>
  Math.floor((pieces.value.length / Math.max(1, armsIn.value.length)) * (f.format === 'scores' ? f.repeats : 1)),
)
watch(alone, (is) => (f.repeats = is && f.format === 'scores' ? 4 : 1))
watch(
  () => f.format,
  () => {
    f.repeats = alone.value && f.format === 'scores' ? 4 : 1
    f.rounds = alone.value && rule.value.plate === 3 ? 3 : 1
    if (rule.value.most === 2)
      f.cuts = armsIn.value
        .slice(0, 2)
        .map((a) => f.cuts.find((id) => armOf(trial.value.cuts.find((c) => c.id === id)!) === a)!)
  },
)
const { data: tells } = useQuery({
  queryKey: computed(() => ['tells', trial.value.id, f.format, blind.value, perArm.value, f.rounds]),
  queryFn: () =>
    ok(
      api.GET('/api/trials/{id}/tells', {
        params: {
          ...path.value,
          query: { format: f.format, tasters: blind.value, per_arm: Math.min(12, perArm.value), rounds: f.rounds },
        },
      }),
    ),
  placeholderData: (before) => before,
})
const cook = computed(() => trial.value.cuts.find((c) => c.id === f.cuts[0])?.placement?.cook_id)
/** The day it was to be on the table, which an entry of the day after most likely means. */
const day = computed(() => {
  const k = trial.value.cooks.find((k) => k.id === cook.value)
  return k ? toLocal(k.serve_at).slice(0, 10) : undefined
})
const { data: delivered } = useQuery({
  queryKey: computed(() => ['so-far', cook.value]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/so-far', { params: { path: { id: cook.value! } } })),
  enabled: computed(() => cook.value !== undefined),
})
// What was served when this was laid out: two who press at once mean one flight.
const there = ref(trial.value.flights.length)
async function serve() {
  const body: FlightInput = {
    after: there.value,
    format: f.format,
    carver_id: f.carver > 0 ? f.carver : null,
    shuffled: f.carver === -1,
    pieces: pieces.value,
    tasters: f.tasters,
    open: f.tasters.filter((id) => f.carver === 0 || f.open.includes(id)),
    duplicate: f.duplicate && f.format === 'scores',
    repeats: f.format === 'scores' ? f.repeats : 1,
    warm_up: f.warm,
    bites: f.bites,
    water_s: f.water,
    second_look: f.second && f.format === 'scores',
    choice: f.choice && f.format === 'scores',
    rounds: f.format === 'scores' ? 1 : f.rounds,
    served_at: over.value && f.served ? fromLocal(f.served) : null,
  }
  const v = await serving.run(() => ok(api.POST('/api/trials/{id}/flights', { params: path.value, body })))
  if (!v) return void (serving.problem.value?.status === 409 && (await look()))
  const before = new Set(trial.value.flights.map((x) => x.id))
  const fresh = set(v)!.flights.filter((x) => !before.has(x.id))
  if (fresh.length === 1) offer(`Flight ${fresh[0]!.number} was served`, { served: fresh[0]!.id })
  emit('done')
}
/** What is on the table now is shown before it is served once more. */
async function look() {
  await refresh('table')
  there.value = trial.value.flights.length
}
const another = ref('')
function addPlace() {
  if (another.value.trim() && !f.places.includes(another.value.trim())) f.places.push(another.value.trim())
  another.value = ''
}
</script>

<template>
  <form class="trough stack" data-testid="serve-form" @submit.prevent="serve">
    <h3>A new flight</h3>
    <FormatChoice v-model="f.format" />
    <p
      v-if="tells?.said.length"
      class="tells"
      :class="{ triangle: !tells.enough, check: tells.enough }"
      data-testid="tells"
    >
      {{ tells.said.join(' ') }}
    </p>
    <div class="choices">
      <fieldset>
        <legend>Cuts, {{ rule.least === rule.most ? rule.most : `${rule.least} to ${rule.most}` }}</legend>
        <label v-for="c in trial.cuts" :key="c.id" class="row tick">
          <Checkbox v-model="f.cuts" :value="c.id" :input-id="`serve-${c.name}`" />
          <b class="num">{{ c.name }}</b>
          <ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" />
          <CutRuling :ruling="rulingOf(c.id)" />
          <span v-if="rulingOf(c.id)?.advisory" class="small">served by a reason: the eaters are told</span>
        </label>
      </fieldset>
      <fieldset>
        <legend>Tasters</legend>
        <p v-if="trial.tasters.length === 0" class="soot small">Seat somebody first: yourself, if you are alone.</p>
        <div v-for="t in trial.tasters" :key="t.id" class="row tick">
          <label class="row nowrap"
            ><Checkbox v-model="f.tasters" :value="t.id" :input-id="`taste-${t.id}`" /> {{ t.name }}</label
          >
          <label v-if="f.tasters.includes(t.id)" class="row nowrap push small"
            ><Checkbox
              :model-value="knows(t.id)"
              binary
              :disabled="f.carver === 0 || (f.carver > 0 && t.person_id === f.carver)"
              :input-id="`knows-${t.id}`"
              @update:model-value="
                (on: boolean) => (f.open = on ? [...f.open, t.id] : f.open.filter((id) => id !== t.id))
              "
            />
            knows the codes</label
          >
        </div>
      </fieldset>
    </div>
    <div class="row end">
      <div class="field">
        <label for="carver">Who carves and sees the key</label>
        <Select
          v-model="f.carver"
          label-id="carver"
          :options="carvers"
          option-label="label"
          option-value="value"
          placeholder="name one"
          data-testid="carver"
        />
      </div>
      <div class="field">
        <label for="place">From the same place of every piece</label>
        <InputText id="place" v-model="f.places[0]" data-field="pieces[0].place" />
      </div>
      <div v-for="(p, i) in f.places.slice(1)" :key="p" class="field">
        <label :for="`place-${i}`">and from</label>
        <span class="row nowrap"
          ><InputText :id="`place-${i}`" v-model="f.places[i + 1]" />
          <Button label="Remove" size="small" text @click="f.places.splice(i + 1, 1)"
        /></span>
      </div>
      <div v-if="rule.most > 2" class="field">
        <label for="another">Another place, as a sample of its own</label>
        <span class="row nowrap"
          ><InputText
            id="another"
            v-model="another"
            placeholder="point"
            data-testid="another-place"
            @keydown.enter.prevent="addPlace" />
          <Button label="Add" size="small" outlined data-testid="add-place" @click="addPlace"
        /></span>
      </div>
    </div>
    <div v-if="over" class="field" data-testid="served-at">
      <span>The cook is over. When was it served?</span>
      <MomentInput v-model="f.served" label="Served" :day="day" data-field="served_at" />
    </div>
    <p v-if="f.carver === -1" class="board lone" data-testid="lone">
      <b>Alone:</b> take {{ pieces.length * f.repeats }} cups with lids. Write the cut's name under each,
      {{ f.repeats }} of each cut, fill them, shuffle them until you do not know. You get the codes then: write one on
      each lid from left to right, taste, and look under them when all is sealed.
    </p>
    <p v-else-if="f.carver === 0" class="board lone">
      <b>In the open</b> everybody knows which is which. It is kept and marked: it can lean, and says nothing about
      another day.
    </p>
    <details>
      <summary>How it is handed out, and what may give it away</summary>
      <div class="stack more">
        <div class="row end">
          <label class="field"
            ><span>Bites of each</span><InputNumber v-model="f.bites" :min="1" :max="9" input-class="short"
          /></label>
          <label class="field"
            ><span>Water between, seconds</span
            ><InputNumber v-model="f.water" :min="0" :max="900" input-class="short" data-testid="water-s"
          /></label>
          <div v-if="f.format !== 'scores'" class="field">
            <label for="rounds">So many flights alike</label
            ><InputNumber v-model="f.rounds" input-id="rounds" :min="1" :max="12" input-class="short" />
          </div>
          <div v-if="alone && f.format === 'scores'" class="field">
            <label for="repeats">Each cut so many times</label
            ><InputNumber v-model="f.repeats" input-id="repeats" :min="1" :max="8" input-class="short" />
          </div>
          <div class="field">
            <label for="warm">Warm-up sample, not counted</label>
            <Select
              v-model="f.warm"
              label-id="warm"
              :options="[{ name: 'none', id: 0 }, ...trial.cuts]"
              option-label="name"
              option-value="id"
              data-testid="warm-up"
            />
          </div>
        </div>
        <div v-if="f.format === 'scores'" class="row">
          <label class="row nowrap"
            ><Checkbox v-model="f.duplicate" binary input-id="duplicate" :disabled="f.repeats > 1" /> One of them twice,
            hidden: shows how well each taster repeats</label
          >
          <label class="row nowrap"
            ><Checkbox v-model="f.second" binary input-id="second" /> A second look is allowed before the end</label
          >
          <label class="row nowrap"
            ><Checkbox v-model="f.choice" binary input-id="choice" /> At the end: which would you serve, and why</label
          >
        </div>
        <table v-if="armsIn.length">
          <thead>
            <tr>
              <th />
              <th>Sliced and dressed, on the carver's key alone</th>
              <th>Looks like what it is</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in armsIn" :key="a">
              <td><ArmName :place="a" :tag="trial.ask.arms[a]!.tag" /></td>
              <td>
                <InputText
                  v-model="dressing[a]!.carving"
                  placeholder="across the grain, half an inch, no sauce"
                  class="wide"
                  :aria-label="`How ${trial.ask.arms[a]!.tag} is carved`"
                />
              </td>
              <td>
                <Checkbox
                  v-model="dressing[a]!.sight"
                  binary
                  :input-id="`sight-${a}`"
                  :aria-label="`${trial.ask.arms[a]!.tag} can be told by sight`"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="delivered?.flags.length" class="triangle small" data-testid="serve-uneven">
          {{ delivered.flags.join(' ') }}
        </p>
      </div>
    </details>
    <ProblemNote :problem="serving.problem.value" />
    <div class="row">
      <Button type="submit" label="Draw codes and serve" :loading="serving.busy.value" data-testid="serve" /><Button
        label="Not now"
        text
        @click="emit('done')"
      />
      <span class="soot small">{{ pieces.length * f.repeats }} pieces, {{ blind }} who taste blind</span>
    </div>
  </form>
</template>

<style scoped>
form {
  padding: 14px;
}
.tells {
  margin: 0;
  font-weight: 600;
}
.choices {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
}
fieldset {
  border: var(--line) solid var(--edge);
  padding: 8px 12px;
  min-width: 0;
}
.tick {
  min-height: 48px;
  flex-wrap: wrap;
}
.nowrap {
  flex-wrap: nowrap;
}
.end {
  align-items: flex-end;
}
.lone {
  padding: 10px 12px;
  margin: 0;
}
summary {
  min-height: 48px;
  display: flex;
  align-items: center;
  font-weight: 600;
  cursor: pointer;
}
.more {
  padding-top: 8px;
}
.wide {
  width: 100%;
  min-width: 200px;
}
:deep(.short) {
  width: 84px;
}
@media (max-width: 700px) {
  .choices {
    grid-template-columns: 1fr;
  }
}
</style>
