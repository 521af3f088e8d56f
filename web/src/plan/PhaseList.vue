<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, inject, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { phaseKindValues, type End, type Phase, type PhasesInput } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import LateInput from '../ui/LateInput.vue'
import { ounceG, system, withTemperatureUnit } from '../ui/units'
import { draftKey, spanText } from './draft'

/** The phases of one arm, in order, each with what ends it. */
const picked = defineModel<{ arm: number; phase: number } | null>('picked', { required: true })
const { trial, shut } = useThisTrial()
const { draft } = inject(draftKey)!
const { run } = useAct()
const { data: holders } = useQuery({ queryKey: ['holders'], queryFn: () => ok(api.GET('/api/holders')) })
const arm = computed(() => picked.value?.arm ?? 0)
const phases = computed(() => draft.value!.outline.arms[arm.value]?.phases ?? [])
const open = computed(() => phases.value[picked.value?.phase ?? -1] ?? null)
const armOptions = computed(() => trial.value.ask.arms.map((a, i) => ({ label: a.tag, value: i })))

const watchOf = (w: End['watch']) => vocabulary.watches.find((x) => x.watch === w)!
const kindOf = (k: Phase['kind']) => vocabulary.kinds.find((x) => x.kind === k)!
const typed = (w: End['watch']) => watchOf(w).usual !== ''
const allowed = (p: Phase) => kindOf(p.kind).ends
const watchOptions = (p: Phase) => allowed(p).map(watchOf)
function setWatch(c: End, w: End['watch']) {
  c.watch = w
  c.typed = watchOf(w).usual
  if (w !== 'core') c.place = undefined
}
function setKind(p: Phase, kind: Phase['kind']) {
  p.kind = kind
  for (const c of p.ends) if (!allowed(p).includes(c.watch)) setWatch(c, 'time')
  if (!p.set_typed) p.set_typed = kindOf(kind).usual
}
/** A bare number gets the unit its field is in. */
function tidy(watch: End['watch'], text: string): string {
  if (watch === 'core' || watch === 'cooling') return withTemperatureUnit(text)
  const bare = /^[\d.,]+$/.test(text)
  return bare ? `${text} ${watch === 'loss' ? '%' : 'h'}` : text
}
const says = (p: Phase) =>
  p.ends
    .map((c) => (typed(c.watch) ? c.typed : watchOf(c.watch).words.replace('when ', '')))
    .join(p.all ? ' and ' : ' or ')

const hours = (s: number) => (s ? String(Math.round((s / 3600) * 100) / 100) : '')
const minutes = (s: number) => (s ? String(Math.round(s / 60)) : '')
type Spans = 'spritz_every_s' | 'spritz_from_s' | 'least_s' | 'most_s'
function put(p: Phase, field: Spans, text: string | undefined, unit: number) {
  const v = Number((text ?? '').replace(',', '.'))
  p[field] = Number.isFinite(v) && v > 0 ? Math.round(v * unit) : 0
}

const blank = (p: Pick<Phase, 'kind' | 'name' | 'set_typed' | 'ends'>): Phase => ({
  ...{ set_C: 0, all: false, wrap: '', liquid_g: 0, spritz_every_s: 0, spritz_from_s: 0, least_s: 0, most_s: 0 },
  holder_id: 0,
  ...p,
})
function add() {
  const at = phases.value.map((p) => p.kind).lastIndexOf('smoke') + 1
  const ends: End[] = [{ watch: 'core', value: 0, typed: '203 F' }]
  phases.value.splice(at, 0, blank({ kind: 'smoke', name: 'finish', set_typed: '250 F', ends }))
  picked.value = { arm: arm.value, phase: at }
}
function addHold() {
  for (const [a, other] of draft.value!.outline.arms.entries()) {
    if (other.phases.some((p) => p.kind === 'hold')) continue
    const ends: End[] = [{ watch: 'time', value: 7200, typed: spanText(7200) }]
    const hold = blank({ kind: 'hold', name: 'hold', set_typed: '150 F', ends })
    other.phases.push({ ...hold, wrap: 'foil', least_s: 1800, holder_id: holders.value?.[0]?.id ?? 0 })
    if (a === arm.value) picked.value = { arm: a, phase: other.phases.length - 1 }
  }
}
function remove(i: number) {
  phases.value.splice(i, 1)
  picked.value = { arm: arm.value, phase: Math.min(i, phases.value.length - 1) }
}
function move(i: number, by: number) {
  const [p] = phases.value.splice(i, 1)
  phases.value.splice(i + by, 0, p!)
  picked.value = { arm: arm.value, phase: i + by }
}
async function school(s: PhasesInput['school']) {
  const of = draft.value!
  const path = { id: trial.value.id }
  const usual = await run(() =>
    Promise.all(
      of.outline.arms.map((a) =>
        ok(api.POST('/api/trials/{id}/phases', { params: { path }, body: { arm_id: a.arm_id, school: s } })),
      ),
    ),
  )
  if (!usual || draft.value !== of) return // put back meanwhile
  for (const [a, other] of of.outline.arms.entries()) {
    const held = usual[a]!.some((p) => p.kind === 'hold') ? [] : other.phases.filter((p) => p.kind === 'hold')
    other.phases = [...usual[a]!, ...held]
  }
  picked.value = { arm: arm.value, phase: 0 }
}
const schools: { label: string; value: PhasesInput['school'] }[] = [
  { label: 'By the clock', value: 'clock' },
  { label: 'By temperature', value: 'temperature' },
  { label: 'By feel', value: 'feel' },
]
const liquid = ref('')
watch(
  open,
  (p) =>
    (liquid.value = p?.liquid_g ? (system.value === 'F' ? `${Math.round(p.liquid_g / ounceG)}` : `${p.liquid_g}`) : ''),
  { immediate: true },
)
function putLiquid(p: Phase) {
  const v = Number(liquid.value.replace(',', '.'))
  p.liquid_g = Number.isFinite(v) && v > 0 ? (system.value === 'F' ? v * ounceG : v) : 0
}
</script>

<template>
  <section class="phases" data-testid="phases">
    <div class="row">
      <h2>Phases</h2>
      <SelectButton
        :model-value="arm"
        :options="armOptions"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Arm"
        @update:model-value="(i: number) => (picked = { arm: i, phase: 0 })"
      />
    </div>
    <div v-if="!shut" class="row schools small">
      <span class="soot">Start every arm anew</span>
      <Button v-for="s in schools" :key="s.value" :label="s.label" size="small" outlined @click="school(s.value)" />
    </div>
    <ol>
      <li v-for="(p, i) in phases" :key="i" :class="{ open: picked?.phase === i }">
        <button type="button" class="one" @click="picked = { arm, phase: i }">
          <b>{{ p.name }}</b><span class="num">{{ p.set_typed }}</span
          ><span class="end num">{{ says(p) }}</span>
        </button>
        <form v-if="picked?.phase === i && open === p" class="edit" @submit.prevent>
          <div class="pairs">
            <div class="field">
              <label :for="`name${i}`">What you call it</label
              ><LateInput :id="`name${i}`" v-model="p.name" :disabled="shut" />
            </div>
            <div class="field">
              <span class="label">What it is</span>
              <Select
                :model-value="p.kind"
                :options="[...phaseKindValues]"
                aria-label="Kind of phase"
                :disabled="shut"
                @update:model-value="(k: Phase['kind']) => setKind(p, k)"
              />
            </div>
            <div v-if="kindOf(p.kind).set" class="field">
              <label :for="`set${i}x`">{{ kindOf(p.kind).set }}</label><LateInput
                :id="`set${i}x`"
                v-model="p.set_typed"
                class="mono-input"
                :tidy="withTemperatureUnit"
                :disabled="shut"
              />
            </div>
            <div v-if="p.kind === 'smoke'" class="field">
              <span class="label">Wrapped in</span>
              <Select
                v-model="p.wrap"
                :options="vocabulary.wraps"
                option-label="words"
                option-value="key"
                aria-label="Wrap"
                :disabled="shut"
              />
            </div>
            <div v-if="p.kind === 'hold'" class="field">
              <span class="label">In</span>
              <Select
                v-model="p.holder_id"
                :options="holders ?? []"
                option-label="name"
                option-value="id"
                placeholder="choose"
                aria-label="Holder"
                :disabled="shut"
              />
            </div>
          </div>
          <div v-for="(c, j) in p.ends" :key="j" class="row ends">
            <span class="soot small over">{{ j === 0 ? 'Over' : p.all ? 'and' : 'or' }}</span>
            <Select
              :model-value="c.watch"
              :options="watchOptions(p)"
              option-label="words"
              option-value="watch"
              aria-label="Ends"
              :disabled="shut"
              @update:model-value="(w: End['watch']) => setWatch(c, w)"
            />
            <LateInput
              v-if="typed(c.watch)"
              v-model="c.typed"
              class="mono-input value"
              aria-label="Value"
              :tidy="(t) => tidy(c.watch, t)"
              :disabled="shut"
            />
            <Select
              v-if="c.watch === 'core'"
              :model-value="c.place ?? ''"
              :options="vocabulary.end_places"
              option-label="words"
              option-value="key"
              aria-label="Where in the cut"
              :disabled="shut"
              @update:model-value="(v: string) => (c.place = v || undefined)"
            />
            <Button v-if="p.ends.length > 1 && !shut" label="Drop" size="small" text @click="p.ends.splice(j, 1)" />
          </div>
          <div v-if="p.kind === 'smoke' && !shut" class="row">
            <Button
              v-if="p.ends.length < 3"
              label="Another way to end"
              size="small"
              text
              @click="p.ends.push({ watch: 'time', value: 0, typed: '4 h' })"
            />
            <SelectButton
              v-if="p.ends.length > 1"
              v-model="p.all"
              :options="[
                { label: 'the first', value: false },
                { label: 'all at once', value: true },
              ]"
              option-label="label"
              option-value="value"
              :allow-empty="false"
              aria-label="First or all"
            />
          </div>
          <div v-if="p.kind === 'smoke'" class="pairs three">
            <div class="field">
              <label :for="`se${i}`">Spritz every (min)</label
              ><InputText
                :id="`se${i}`"
                :model-value="minutes(p.spritz_every_s)"
                class="mono-input"
                placeholder="never"
                :disabled="shut"
                @change="put(p, 'spritz_every_s', ($event.target as HTMLInputElement).value, 60)"
              />
            </div>
            <div class="field">
              <label :for="`sf${i}`">from (h)</label
              ><InputText
                :id="`sf${i}`"
                :model-value="hours(p.spritz_from_s)"
                class="mono-input"
                placeholder="0"
                :disabled="shut"
                @change="put(p, 'spritz_from_s', ($event.target as HTMLInputElement).value, 3600)"
              />
            </div>
            <div v-if="p.wrap" class="field">
              <label :for="`lq${i}`">Liquid ({{ system === 'F' ? 'oz' : 'g' }})</label
              ><InputText
                :id="`lq${i}`"
                v-model="liquid"
                class="mono-input"
                placeholder="none"
                :disabled="shut"
                @change="putLiquid(p)"
              />
            </div>
          </div>
          <div v-if="p.kind === 'hold'" class="pairs three">
            <div class="field">
              <label :for="`le${i}`">At least (h)</label
              ><InputText
                :id="`le${i}`"
                :model-value="hours(p.least_s)"
                class="mono-input"
                placeholder="0"
                :disabled="shut"
                @change="put(p, 'least_s', ($event.target as HTMLInputElement).value, 3600)"
              />
            </div>
            <div class="field">
              <label :for="`mo${i}`">At most (h)</label
              ><InputText
                :id="`mo${i}`"
                :model-value="hours(p.most_s)"
                class="mono-input"
                placeholder="no limit"
                :disabled="shut"
                @change="put(p, 'most_s', ($event.target as HTMLInputElement).value, 3600)"
              />
            </div>
          </div>
          <div v-if="!shut" class="row">
            <Button label="Earlier" size="small" text :disabled="i === 0" @click="move(i, -1)" />
            <Button label="Later" size="small" text :disabled="i === phases.length - 1" @click="move(i, 1)" />
            <Button label="Take out" size="small" text class="push" @click="remove(i)" />
          </div>
        </form>
      </li>
    </ol>
    <div v-if="!shut" class="row">
      <Button label="Add a phase" size="small" outlined @click="add" />
      <Button
        v-if="!phases.some((p) => p.kind === 'hold')"
        label="Hold every arm"
        size="small"
        outlined
        data-testid="add-hold"
        @click="addHold"
      />
      <ArmName class="push" :place="arm" :tag="trial.ask.arms[arm]!.tag" />
    </div>
  </section>
</template>

<style scoped>
.phases {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.schools {
  gap: 6px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  border-bottom: var(--line) solid var(--grain);
}
li {
  border-top: var(--line) solid var(--grain);
}
li.open {
  background: var(--trough);
}
.one {
  display: flex;
  gap: 10px;
  align-items: baseline;
  width: 100%;
  min-height: 40px;
  padding: 8px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}
.end {
  margin-left: auto;
  text-align: right;
}
.edit {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 0 8px 10px;
}
.pairs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.pairs.three {
  grid-template-columns: repeat(3, 1fr);
}
.field :deep(input),
.field :deep(.p-select) {
  width: 100%;
}
.ends {
  flex-wrap: nowrap;
  gap: 8px;
}
.ends :deep(.p-select) {
  flex: 1;
  min-width: 0;
}
.over {
  width: 32px;
}
.value {
  width: 92px;
}
</style>
