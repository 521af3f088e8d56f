<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import SelectButton from 'primevue/selectbutton'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutInput, CutView, DimensionInput, WeighingInput } from '../api/schema.gen'
import { money } from '../ask/ask'
import { dimensionOf, useThisTrial, weighingAt } from '../trial/trial'
import { useUndo } from '../trial/undo'
import KeyCap from '../ui/KeyCap.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { Numbers } from '../ui/number'
import {
  fraction,
  length,
  lengthHint,
  temperatureHint,
  typedLength,
  typedTemperature,
  typedWeight,
  weightDifference,
  weightHint,
  withLengthUnit,
  withTemperatureUnit,
  withWeightUnit,
} from '../ui/units'
import FromScale from './FromScale.vue'
import { useLayout } from './layout'
import { useResolution } from './resolution'
import SlipField, { type FieldLine } from './SlipField.vue'

/** The slip of the picked cut: what it is, what it weighs, how thick it is. Enter keeps it and goes on. */
const picked = defineModel<number | null>({ required: true })
const emit = defineEmits<{ divide: [CutView] }>()
const { trial, set, armOf, shut } = useThisTrial()
const { reason, fixed } = useLayout()
const { run, busy, problem } = useAct()
const { voided } = useUndo()
const resolution = useResolution()
const cuts = computed(() => trial.value.cuts)
const cut = computed(() => cuts.value.find((c) => c.id === picked.value) ?? null)
const more = ref(false)

const words = ['name', 'pair', 'animal', 'side', 'batch', 'lot', 'grade', 'section', 'bone'] as const
const weights = ['bought', 'trimmed', 'trim kept', 'trim thrown'] as const satisfies WeighingInput['stage'][]
const sizes = ['thickness', 'fat_cap', 'length', 'cold'] as const satisfies DimensionInput['kind'][]
type Field = (typeof words)[number] | (typeof weights)[number] | (typeof sizes)[number] | 'price'
const slip = reactive(
  Object.fromEntries([...words, ...weights, ...sizes, 'price'].map((k) => [k, ''])) as Record<Field, string>,
)
/** How often a hand has typed here. */
let strokes = 0
function type(field: Field, text: string) {
  strokes++
  slip[field] = text
}
const arm = ref<number | null>(null)
const arms = computed(() => trial.value.ask.arms.map((a) => ({ label: a.tag, value: a.id })))

/** The slip line by line. */
type Line = FieldLine & { of: Field }
const tag = computed<Line[]>(() => [
  { of: 'name', id: 'cut-name', label: 'Name', hint: '1L', as: 'mono' },
  { of: 'pair', id: 'cut-pair', label: 'Same animal or piece', hint: '1', as: 'mono' },
  { of: 'animal', id: 'cut-animal', label: 'Animal', hint: 'Lamb 1', as: 'wide' },
  { of: 'side', id: 'cut-side', label: 'Side', hint: 'left', as: 'plain' },
  ...(trial.value.ask.factors.some((f) => f.set_on === 'batch')
    ? ([{ of: 'batch', id: 'cut-batch', label: 'Batch', hint: '', as: 'plain' }] as const)
    : []),
])
const measured = computed<Line[]>(() => [
  { of: 'bought', id: 'cut-bought', label: 'Bought', hint: weightHint(), as: 'weight', cap: 'B' },
  { of: 'trimmed', id: 'cut-trimmed', label: 'Trimmed weight', hint: weightHint(), as: 'weight', cap: 'W' },
  { of: 'thickness', id: 'cut-thickness', label: 'Thickness', hint: lengthHint(), as: 'mono', cap: 'T' },
  { of: 'fat_cap', id: 'cut-fat', label: 'Fat cap', hint: '3/8', as: 'mono', cap: 'F' },
  { of: 'cold', id: 'cut-cold', label: 'Cold temp', hint: temperatureHint(), as: 'mono', cap: 'C', heat: true },
])
const rarer = computed<Line[]>(() => [
  { of: 'trim kept', id: 'trim-kept', label: 'Trim kept', hint: weightHint(), as: 'weight' },
  { of: 'trim thrown', id: 'trim-thrown', label: 'Trim thrown', hint: weightHint(), as: 'weight' },
  { of: 'length', id: 'cut-length', label: 'Length', hint: lengthHint(), as: 'mono' },
  { of: 'lot', id: 'cut-lot', label: 'Lot', hint: 'hill', as: 'wide' },
  { of: 'grade', id: 'cut-grade', label: 'Grade', hint: '', as: 'plain' },
  { of: 'section', id: 'cut-section', label: 'End or middle', hint: 'end', as: 'plain' },
  { of: 'bone', id: 'cut-bone', label: 'Bone in or out', hint: 'in', as: 'plain' },
  { of: 'price', id: 'cut-price', label: 'Price of it', hint: '41.50', as: 'mono' },
])

/** A line as it is typed in. */
const typedIn = (field: Line) => ({
  field,
  modelValue: slip[field.of],
  disabled: shut.value,
  'onUpdate:modelValue': (text: string) => type(field.of, text),
})

/** What stands in a field now, in the reader's units; only a changed text is a new record. */
function shown(c: CutView | null, field: Field): string {
  if (!c) return ''
  if ((words as readonly string[]).includes(field)) return c[field as (typeof words)[number]]
  if (field === 'price') return c.price_cents === null ? '' : money(c.price_cents)
  const w = weighingAt(c, field)
  if (w) return typedWeight(w)
  const d = dimensionOf(c, field)
  if (!d) return ''
  if (field === 'cold') return typedTemperature({ c: d.value, typed: d.typed })
  return typedLength(d, field === 'fat_cap' ? fraction : length)
}
function lift(c: CutView | null) {
  problem.value = null
  for (const k of Object.keys(slip) as Field[]) slip[k] = shown(c, k)
  arm.value = c?.arm_id ?? null
  // The first of all is offered as the first of a pair.
  if (!c && cuts.value.length === 0 && trial.value.ask.hand.block_size > 1) [slip.name, slip.pair] = ['1L', '1']
}
/** Another of the crew changed the cut: what was typed here and not kept yet stays. */
function follow(c: CutView, was: CutView) {
  for (const k of Object.keys(slip) as Field[]) if (slip[k] === shown(was, k)) slip[k] = shown(c, k)
  if (arm.value === was.arm_id) arm.value = c.arm_id
}
watch(
  [cut, () => trial.value.id] as const,
  ([c], before) => (c && before[0]?.id === c.id ? follow(c, before[0]) : lift(c)),
  { immediate: true },
)
const changed = (field: Field) => slip[field].trim() !== shown(cut.value, field)

function body(why: string, price: number | null): CutInput {
  return {
    why,
    ...(Object.fromEntries(words.map((k) => [k, slip[k].trim()])) as Record<(typeof words)[number], string>),
    bone: slip.bone.trim().toLowerCase() as CutInput['bone'],
    arm_id: arm.value,
    price_cents: price === null ? null : Math.round(100 * price),
  }
}
/** Shows what was taken, with what was typed meanwhile. */
async function took(v: Parameters<typeof set>[0]) {
  const mine = { ...slip }
  const t = set(v)!
  await nextTick()
  Object.assign(slip, mine)
  return t
}

async function keep() {
  const n = new Numbers()
  const price = n.of('price', slip.price, null)
  if (n.problem) return void (problem.value = n.problem)
  const typed = { ...slip }
  const since = strokes
  let c = cut.value
  const fresh = c === null
  if (!c || arm.value !== c.arm_id || words.some(changed) || changed('price')) {
    const before = new Set(cuts.value.map((x) => x.id))
    const why = c && arm.value !== c.arm_id ? await reason(`Moving ${c.name} to another arm`) : ''
    if (why === null) return
    const v = await run(() =>
      c
        ? ok(api.PUT('/api/cuts/{id}', { params: { path: { id: c!.id } }, body: body(why, price) }))
        : ok(api.POST('/api/trials/{id}/cuts', { params: { path: { id: trial.value.id } }, body: body('', price) })),
    )
    if (!v) return
    const mine = { ...slip }
    const t = set(v)!
    c ??= t.cuts.find((x) => !before.has(x.id))!
    picked.value = c.id
    await nextTick()
    Object.assign(slip, mine) // what is still to be sent, and what was typed meanwhile
  }
  const id = c.id
  for (const stage of weights) {
    if (!(await record(id, stage, typed[stage]))) return
  }
  for (const kind of sizes) {
    if (typed[kind].trim() === shown(now(id), kind)) continue
    const text = kind === 'cold' ? withTemperatureUnit(typed[kind]) : withLengthUnit(typed[kind])
    const v = await run(() =>
      ok(
        api.PUT('/api/cuts/{id}/dimensions', {
          params: { path: { id } },
          body: { kind, typed: typed[kind].trim() ? text : '' },
        }),
      ),
    )
    if (!v) return about(kind)
    await took(v)
  }
  await goOn(id, fresh, typed, strokes > since)
}
/** A weight or size that was refused is one of the many fields here. */
function about(field: Field) {
  const p = problem.value
  if (p) problem.value = { ...p, errors: p.errors.map((e) => ({ ...e, field })) }
}
const now = (id: number) => cuts.value.find((x) => x.id === id)!

async function record(id: number, stage: (typeof weights)[number], text: string) {
  const c = now(id)
  if (text.trim() === shown(c, stage)) return true
  const old = weighingAt(c, stage)
  const v = await run(() =>
    text.trim() === '' && old
      ? ok(api.POST('/api/weighings/{id}/void', { params: { path: { id: old.id } }, body: { why: 'cleared' } }))
      : ok(
          api.POST('/api/cuts/{id}/weighings', {
            params: { path: { id } },
            body: { stage, weight: withWeightUnit(text), resolution: resolution.value },
          }),
        ),
  )
  if (!v) return (about(stage), false)
  if (text.trim() === '' && old) voided('weighing', old.id, `a weight of ${c.name} was cleared`)
  await took(v)
  return true
}

/** The next cut follows by itself; a new one after a new one, alike in what cuts share. */
async function goOn(id: number, fresh: boolean, typed: Record<Field, string>, meanwhile: boolean) {
  if (meanwhile) {
    const mine = { ...slip }
    // What was typed meanwhile is kept with the next Enter: of another cut where it has another name.
    if (!fresh || mine.name === typed.name) return
    picked.value = null
    await nextTick()
    return void Object.assign(slip, mine)
  }
  const next = fresh ? null : (cuts.value[cuts.value.findIndex((c) => c.id === id) + 1] ?? null)
  picked.value = next?.id ?? null
  await nextTick()
  lift(next)
  if (fresh) {
    slip.pair = nextBlock(typed.pair)
    slip.lot = typed.lot
    slip.grade = typed.grade
    slip.bone = typed.bone
    if (slip.pair === typed.pair) slip.animal = typed.animal
    slip.name = nextName(typed.name, slip.pair === typed.pair)
  }
  await nextTick()
  document.getElementById(next || slip.name ? 'cut-trimmed' : 'cut-name')?.focus()
}
/** After 1L comes 1R of the same animal, then 2L; after any other name the crew says it. */
function nextName(name: string, same: boolean): string {
  const m = /^(\d+)([a-zA-Z])$/.exec(name.trim())
  if (!m) return ''
  const [, n, letter] = m as unknown as [string, string, string]
  const first = cuts.value.find((c) => c.pair === slip.pair || c.pair === n)?.name.slice(-1) ?? letter
  const after: Record<string, string> = { L: 'R', l: 'r' }
  const to = same ? `${n}${after[letter] ?? String.fromCharCode(letter.charCodeAt(0) + 1)}` : `${Number(n) + 1}${first}`
  return cuts.value.some((c) => c.name === to) ? '' : to
}
/** After a full block the next number is offered. */
function nextBlock(pair: string): string {
  const n = cuts.value.filter((c) => c.pair === pair).length
  const size = Math.max(2, trial.value.ask.hand.block_size)
  return n < size ? pair : /^\d+$/.test(pair) ? String(Number(pair) + 1) : ''
}
async function takeOut() {
  const id = picked.value!
  const why = await reason(`Taking ${cut.value?.name} out`)
  if (why === null) return
  const v = await run(() =>
    ok(api.POST('/api/cuts/{id}/void', { params: { path: { id } }, body: { why: why || 'taken out in Match' } })),
  )
  if (!v) return
  voided('cut', id, `${cut.value?.name} was taken out`)
  picked.value = null
  set(v)
}
const missing = computed(() => cut.value?.trim_missing_kg ?? null)
</script>

<template>
  <form class="slip" @submit.prevent="keep">
    <div class="row">
      <h2>{{ cut ? `${trial.ask.cut} ${cut.name}` : 'Hang a cut' }}</h2>
      <template v-if="cut && !shut">
        <Button label="Hang another cut" size="small" outlined @click="picked = null" />
        <Button
          v-if="cut.parent_id === null && !fixed"
          label="Divide it"
          size="small"
          outlined
          @click="emit('divide', cut)"
        />
        <Button v-if="!fixed || cut.arm_id === null" label="Take out" size="small" text @click="takeOut" />
      </template>
      <label class="row push small"
        >Scale step <InputText v-model="resolution" class="mono-input step" aria-label="Scale step"
      /></label>
    </div>
    <ProblemNote :problem="problem" />
    <div class="fields">
      <SlipField v-for="f in tag" :key="f.id" v-bind="typedIn(f)" />
      <div class="field">
        <span class="label">Arm</span
        ><SelectButton
          v-model="arm"
          :options="arms"
          option-label="label"
          option-value="value"
          aria-label="Arm"
          :allow-empty="cut?.arm_id == null"
          :disabled="fixed"
        />
      </div>
    </div>
    <div class="fields">
      <SlipField v-for="f in measured" :key="f.id" v-bind="typedIn(f)" />
      <FromScale v-if="!shut" @take="(w) => type('trimmed', w)" />
      <Button v-if="!shut" type="submit" :loading="busy" data-testid="keep-cut"
        >{{ cut ? 'Save' : 'Hang it' }} <KeyCap>Enter</KeyCap></Button
      >
    </div>
    <button type="button" class="fold" :aria-expanded="more" data-testid="more" @click="more = !more">
      {{ more ? 'Less of it' : 'Trims, lot, grade, price' }}
    </button>
    <div v-if="more" class="fields">
      <SlipField v-for="f in rarer" :key="f.id" v-bind="typedIn(f)" />
    </div>
    <p v-if="cut && armOf(cut) < 0" class="small soot">No arm yet: draw them, or drop its tag into a lane.</p>
    <p v-if="missing !== null" class="small" data-testid="trim-missing">
      {{
        Math.abs(missing) < 0.01
          ? 'All of the trim is accounted for.'
          : `${weightDifference(missing)} of the trim ${missing > 0 ? 'went over no scale' : 'is more than came off'}.`
      }}
    </p>
  </form>
</template>

<style scoped>
.slip {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.step {
  width: 90px;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
.fold {
  align-self: flex-start;
  background: none;
  border: 0;
  padding: 0;
  min-height: 30px;
  text-decoration: underline dotted;
  cursor: pointer;
}
</style>
