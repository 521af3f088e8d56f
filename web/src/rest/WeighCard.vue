<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, nextTick, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView, WeighingInput, WeighOut } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import ChipRow from '../fire/ChipRow.vue'
import { useResolution } from '../match/resolution'
import { useThisTrial, weighingAt } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ArmToken from '../ui/ArmToken.vue'
import NumberPad from '../ui/NumberPad.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, typedWeight, weight, weightDifference, weightHint, withWeightUnit } from '../ui/units'
import MeasureCell from './MeasureCell.vue'
import { weights } from '../ui/settings'

/** One piece at a time on the scale: off the fire, after the rest, then what it comes apart into. */
const { cut } = defineProps<{ cut: CutView }>()
const emit = defineEmits<{ next: [] }>()
const { trial, set, armOf, shut } = useThisTrial()
const { run, problem } = useAct()
const { voided } = useUndo()
const resolution = useResolution()

type Stage = WeighingInput['stage']
type Share = WeighOut['share']
interface Field {
  key: string
  name: string
  stage?: Stage
  share?: Share
}
const rowOf = (s: Share) => vocabulary.shares.find((r) => r.share === s)!
/** What a cut usually comes apart into here: what those did that are weighed out whole, else lean and bones. */
const shares = computed<Share[]>(() => {
  const whole = trial.value.cuts.filter((c) => c.shares.length && c.apart.adds_up).flatMap((c) => c.shares)
  const usual = whole.length ? whole.map((s) => s.share) : (['lean', 'bones'] as Share[])
  const own = new Set<Share>([...usual, ...cut.shares.map((s) => s.share), ...added.value])
  return vocabulary.shares.map((r) => r.share).filter((s) => own.has(s))
})
const added = ref<Share[]>([])
const fields = computed<Field[]>(() => [
  { key: 'off', name: 'Off the fire', stage: 'off' },
  { key: 'rested', name: 'After the rest', stage: 'rested' },
  ...shares.value.map((s) => ({ key: s, name: rowOf(s).name, share: s })),
])
const shareAt = (s: Share) => cut.shares.find((x) => x.share === s)
const kept = (f: Field) => (f.stage ? weighingAt(cut, f.stage) : shareAt(f.share!))
const shown = (f: Field) => {
  const w = kept(f)
  return w ? typedWeight(w) : ''
}
const at = ref('off')
const field = computed(() => fields.value.find((f) => f.key === at.value) ?? fields.value[0]!)
const text = ref('')
const why = ref<string | undefined>()
const asksWhy = computed(() => !!field.value.share && rowOf(field.value.share).why)
watch(
  () => cut.id,
  () => {
    at.value = fields.value.find((f) => !kept(f))?.key ?? 'off'
    text.value = ''
  },
  { immediate: true },
)
watch(at, () => {
  text.value = ''
  why.value = field.value.share ? shareAt(field.value.share)?.why || undefined : undefined
})

const { data: scales } = useQuery({
  queryKey: ['scales'],
  queryFn: () => ok(api.GET('/api/scales')),
  refetchInterval: 5000,
})
const scale = computed(() => scales.value?.find((s) => s.kg !== null && s.kg > 0))

async function keep(typed = text.value.trim()) {
  if (!typed) return next()
  const f = field.value
  const body = { weight: withWeightUnit(typed), resolution: resolution.value }
  const path = { path: { id: cut.id } }
  const v = await run(() =>
    f.stage
      ? ok(api.POST('/api/cuts/{id}/weighings', { params: path, body: { ...body, stage: f.stage } }))
      : ok(
          api.POST('/api/cuts/{id}/weigh-outs', {
            params: path,
            body: { ...body, share: f.share!, thrown: why.value ?? '' },
          }),
        ),
  )
  set(v)
  if (v) next()
}
/** The next field of this piece that is not weighed; after the last one the next piece. */
function next() {
  const i = fields.value.findIndex((f) => f.key === at.value)
  const open = fields.value.find((f, n) => n > i && !kept(f))
  if (open) at.value = open.key
  else emit('next')
  void nextTick(() => card.value?.querySelector<HTMLInputElement>('.now input')?.focus({ preventScroll: true }))
}
async function drop(s: WeighOut) {
  const v = await run(() =>
    ok(api.POST('/api/weigh-outs/{id}/void', { params: { path: { id: s.id } }, body: { why: 'cleared' } })),
  )
  if (v) voided('weigh out', s.id, `${rowOf(s.share).name} of ${cut.name} was cleared`)
  set(v)
}
const card = ref<HTMLElement | null>(null)

const rested = computed(() => {
  const [o, r] = [weighingAt(cut, 'off'), weighingAt(cut, 'rested')]
  if (!o || !r) return ''
  const mate = trial.value.cuts.find((c) => c.id !== cut.id && c.pair && c.pair === cut.pair && c.account.hold_loss)
  const of = (v: number) => `${fixed(100 * v, 1)} %`
  const own = `Rest took ${weightDifference(o.kg - r.kg)}, ${of(1 - r.kg / o.kg)}.`
  return mate ? `${own} ${mate.name} lost ${of(mate.account.hold_loss!.value)}.` : own
})
const adds = computed(() => {
  const a = cut.apart
  if (!a.before_kg || !cut.shares.length) return ''
  if (a.adds_up) return `Adds up to ${weight(a.solid_kg)}`
  return a.lacks_kg > 0 ? `${weight(a.lacks_kg)} still to weigh` : `${weight(-a.lacks_kg)} too much`
})
const more = computed(() => vocabulary.shares.filter((r) => !shares.value.includes(r.share)))
</script>

<template>
  <section ref="card" class="card" data-testid="weigh-card" :aria-label="`Weigh out ${cut.name}`">
    <h2>
      <ArmToken v-if="armOf(cut) >= 0" :place="armOf(cut)" :size="26" />
      {{ trial.ask.arms[armOf(cut)]?.tag }} {{ cut.name }}
    </h2>
    <ProblemNote :problem="problem" />
    <template v-for="f in fields" :key="f.key">
      <div v-if="f.key === at" class="now">
        <label :for="`weigh-${cut.id}`">{{ f.name }}</label>
        <InputText
          :id="`weigh-${cut.id}`"
          v-model="text"
          class="mono-input"
          inputmode="none"
          :placeholder="shown(f) || weightHint()"
          :disabled="shut && !!kept(f)"
          data-testid="weigh-now"
          @keydown.enter.prevent="keep()"
        />
      </div>
      <button v-else type="button" class="line" :data-testid="`field-${f.key}`" @click="at = f.key">
        <span>{{ f.name }}</span><b class="num">{{ shown(f) || '–' }}</b>
      </button>
    </template>
    <div v-if="asksWhy" class="row">
      <span class="small">Why</span><ChipRow v-model="why" :options="vocabulary.why_thrown" />
    </div>
    <Button v-if="scale" class="scale" data-testid="scale-take" @click="keep(weight(scale.kg!))"
      >{{ scale.channel }} says <b class="num">{{ weight(scale.kg!) }}</b>: take it</Button
    >
    <NumberPad v-model="text" :pounds="weights === 'lb'" go="Save" @next="keep()" />
    <p v-if="rested" class="small">{{ rested }}</p>
    <p v-if="adds" class="small" :class="cut.apart.adds_up ? 'check' : 'triangle watch'" data-testid="adds-up">
      {{ adds }}
    </p>
    <div class="row">
      <Select
        v-if="more.length && !shut"
        :model-value="null"
        :options="more"
        option-label="name"
        option-value="share"
        placeholder="Another part"
        aria-label="Another part"
        @update:model-value="(s: Share) => ((added = [...added, s]), (at = s))"
      />
      <Button
        v-if="field.share && shareAt(field.share) && !shut"
        size="small"
        outlined
        :label="`Clear ${field.name.toLowerCase()}`"
        @click="drop(shareAt(field.share)!)"
      />
      <label class="small push"
        >Scale step <InputText v-model="resolution" class="mono-input step" aria-label="Step of the scale"
      /></label>
    </div>
    <details class="looks">
      <summary>Looks of {{ cut.name }}</summary>
      <div v-for="l in vocabulary.looks" :key="l.key" class="row">
        <span class="small look">{{ l.name }}</span>
        <MeasureCell :cut="cut" :outcome="l.key" :name="l.name" :unit="l.unit" />
      </div>
    </details>
  </section>
</template>

<style scoped>
.card {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px;
  background: var(--board);
  min-width: 0;
}
h2 {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 20px;
  margin: 0;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 40px;
  padding: 0 8px;
  border: 0;
  border-bottom: var(--line) solid var(--grain);
  background: none;
  color: var(--ink);
  font-size: 15px;
  cursor: pointer;
}
.line b {
  font-size: 18px;
}
.now {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 60px;
  padding: 0 8px;
  border: 3px solid var(--focus);
  border-radius: var(--r-2);
  font-weight: 700;
}
.now :deep(input) {
  width: 160px;
  font-size: 22px;
  text-align: right;
  border: 0;
  min-height: 48px;
}
.scale {
  justify-content: space-between;
  background: var(--ember);
  border-color: var(--ember);
  color: #fff;
}
.step {
  width: 84px;
}
.look {
  width: 120px;
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
.looks summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
}
p {
  margin: 0;
}
</style>
