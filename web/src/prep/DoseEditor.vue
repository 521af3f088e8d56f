<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { doseKindValues, doseSaltValues, type Dose, type Outline } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import NumberInput from '../ui/NumberInput.vue'
import { useKept } from '../ui/kept'
import ProblemNote from '../ui/ProblemNote.vue'
import { dosesDiffer } from '../plan/differs'
import TwoPlans from '../plan/TwoPlans.vue'
import { usualDose } from './dose'
import { allNumbers } from '../ui/number'

/** What each arm gets: the same for every cut of it, by its weight or its surface. */
const emit = defineEmits<{ kept: [] }>()
const { trial, set, refresh, shut } = useThisTrial()
const { run, busy, problem } = useAct()
const { data: pantry } = useQuery({ queryKey: ['pantry'], queryFn: () => ok(api.GET('/api/pantry')) })
const arm = ref(0)
const outline = ref<Outline | null>(null)
const base = ref('')
const changed = computed(() => outline.value !== null && JSON.stringify(outline.value) !== base.value)
const { restore, restored, letGo } = useKept('Prep', () => `doses ${trial.value.id}`, outline, base)
function begin() {
  base.value = JSON.stringify(trial.value.outline)
  outline.value = JSON.parse(base.value) as Outline
}
// What is typed stays over what others keep meanwhile.
watch(
  () => trial.value.outline,
  () => !changed.value && begin(),
  { immediate: true },
)
outline.value = (shut.value ? null : restore()) ?? outline.value
function putBack() {
  begin()
  letGo()
}
const doses = computed(() => outline.value?.arms[arm.value]?.doses ?? [])
const armOptions = computed(() => trial.value.ask.arms.map((a, i) => ({ label: a.tag, value: i })))
const recipes = (d: Dose) => [
  { id: 0, name: 'no recipe' },
  ...(pantry.value?.recipes ?? []).filter((r) => r.kind === d.kind || (d.kind === 'rub' && r.kind === 'rub')),
]
function setRecipe(d: Dose, id: number) {
  d.recipe_id = id
  const r = pantry.value?.recipes.find((r) => r.id === id)
  if (r) d.name = r.name
}
function setKind(i: number, kind: Dose['kind']) {
  doses.value.splice(i, 1, { kind, ...usualDose[kind] })
}
const add = () => doses.value.push({ kind: 'rub', ...usualDose.rub })
function toAll() {
  const mine = JSON.stringify(doses.value)
  for (const a of outline.value!.arms) a.doses = JSON.parse(mine) as Dose[]
}
type Part = 'share' | 'water' | 'strength' | 'spacing_cm' | 'g_per_m2'
interface Line {
  part: Part
  label: string
  percent: boolean
}
const parts: Record<Dose['kind'], Line[]> = {
  brine: [
    { part: 'share', label: 'Salt in the meat, %', percent: true },
    { part: 'water', label: 'Water, % of the meat', percent: true },
  ],
  'dry brine': [{ part: 'share', label: 'Salt, % of the meat', percent: true }],
  injection: [
    { part: 'share', label: 'Pick-up, %', percent: true },
    { part: 'strength', label: 'Salt in it, %', percent: true },
    { part: 'spacing_cm', label: 'Sites every, cm', percent: false },
  ],
  binder: [{ part: 'g_per_m2', label: 'g to the m²', percent: false }],
  rub: [
    { part: 'g_per_m2', label: 'g to the m²', percent: false },
    { part: 'share', label: 'or % of the meat', percent: true },
  ],
}
// Somebody kept another outline meanwhile.
const standing = ref<Outline | null>(null)
const apart = computed(() =>
  dosesDiffer(
    outline.value!,
    standing.value!,
    (id) => trial.value.ask.arms.find((a) => a.id === id)?.tag ?? `arm ${id}`,
  ),
)
const made = () => JSON.parse(base.value) as Outline
async function compare() {
  await refresh('cooks')
  const theirs = trial.value.outline
  if (theirs.kept_at === made().kept_at) return // it was refused for something else
  if (dosesDiffer(made(), theirs, String).length === 0) return onto(theirs) // of the doses nothing was changed
  standing.value = theirs
}
/** Puts what was typed onto the outline that stands, and keeps it. */
function onto(theirs: Outline) {
  const typed = outline.value!.arms
  base.value = JSON.stringify(theirs)
  outline.value = {
    ...made(),
    arms: theirs.arms.map((a) => ({ ...a, doses: typed.find((x) => x.arm_id === a.arm_id)?.doses ?? a.doses })),
  }
  standing.value = problem.value = null
  return keep()
}
function takeTheirs() {
  standing.value = problem.value = null
  putBack()
}
async function keep() {
  if (!allNumbers()) return
  const v = await run(() =>
    ok(
      api.PUT('/api/trials/{id}/outline', {
        params: { path: { id: trial.value.id }, query: { from: made().kept_at } },
        body: outline.value!,
      }),
    ),
  )
  if (!v) return void (problem.value?.status === 409 && (await compare()))
  set(v)
  putBack()
  emit('kept')
}
</script>

<template>
  <section v-if="outline" class="stack">
    <div class="row">
      <h2>What each arm gets</h2>
      <SelectButton
        v-model="arm"
        :options="armOptions"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Arm"
      />
    </div>
    <ProblemNote :problem="problem" />
    <TwoPlans v-if="standing" :rows="apart" @mine="onto(standing!)" @theirs="takeTheirs" />
    <div v-for="(d, i) in doses" :key="i" class="dose rule">
      <Select
        :model-value="d.kind"
        :options="[...doseKindValues]"
        aria-label="Kind of dose"
        :disabled="shut"
        @update:model-value="(k: Dose['kind']) => setKind(i, k)"
      />
      <InputText v-model="d.name" aria-label="Name" :disabled="shut" />
      <Select
        v-if="d.kind !== 'dry brine' && d.kind !== 'brine'"
        :model-value="d.recipe_id"
        :options="recipes(d)"
        option-label="name"
        option-value="id"
        aria-label="Recipe"
        :disabled="shut"
        @update:model-value="(id: number) => setRecipe(d, id)"
      />
      <Select v-else v-model="d.salt" :options="[...doseSaltValues]" aria-label="Kind of salt" :disabled="shut" />
      <div v-for="l in parts[d.kind]" :key="l.part" class="field">
        <label :for="`dose-${i}-${l.part}`">{{ l.label }}</label><NumberInput
          :id="`dose-${i}-${l.part}`"
          v-model="d[l.part]"
          class="mono-input"
          :per="l.percent ? 0.01 : 1"
          zero="0"
          :disabled="shut"
        />
      </div>
      <Button v-if="!shut" label="Take out" size="small" text @click="doses.splice(i, 1)" />
    </div>
    <p v-if="doses.length === 0" class="soot">Nothing goes on or into this arm.</p>
    <div v-if="!shut" class="row">
      <Button label="Another" size="small" outlined @click="add" />
      <Button label="The same for every arm" size="small" outlined @click="toAll" />
      <Button
        v-if="changed"
        label="Save"
        size="small"
        :loading="busy"
        :disabled="standing !== null"
        data-testid="keep-doses"
        @click="keep"
      />
      <template v-if="changed">
        <Button label="Put back" size="small" outlined @click="putBack" />
        <span class="small" data-testid="unsaved">{{
          restored ? 'What you typed before is here again.' : 'Not saved yet.'
        }}</span>
      </template>
    </div>
  </section>
</template>

<style scoped>
.dose {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  align-items: end;
  padding-top: 10px;
}
.dose > :last-child {
  justify-self: start;
}
.dose :deep(input),
.dose :deep(.p-select) {
  width: 100%;
  min-width: 0;
}
</style>
