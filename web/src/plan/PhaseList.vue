<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, inject } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { End, Phase, PhasesInput } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { draftKey } from './draft'
import { spanText } from './rail'
import PhaseEditor from './PhaseEditor.vue'
import { kindOf, says } from './phases'

/** The phases of one arm, in order, each with what ends it. */
const picked = defineModel<{ arm: number; phase: number } | null>('picked', { required: true })
const { trial, shut } = useThisTrial()
const { draft } = inject(draftKey)!
const { run, problem } = useAct()
const { data: holders } = useQuery({ queryKey: ['holders'], queryFn: () => ok(api.GET('/api/holders')) })
const arm = computed(() => picked.value?.arm ?? 0)
const phases = computed(() => draft.value!.outline.arms[arm.value]?.phases ?? [])
const open = computed(() => phases.value[picked.value?.phase ?? -1] ?? null)
const armOptions = computed(() => trial.value.ask.arms.map((a, i) => ({ label: a.tag, value: i })))

const blank = (p: Pick<Phase, 'kind' | 'name' | 'set_typed' | 'ends'>): Phase => ({
  ...{ set_C: 0, all: false, wrap: '', liquid_g: 0, spritz_every_s: 0, spritz_from_s: 0, least_s: 0, most_s: 0 },
  holder_id: 0,
  ...p,
})
function add() {
  const at = phases.value.map((p) => kindOf(p.kind).in_pit).lastIndexOf(true) + 1
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
/** The phases of this arm for the others too, so that they differ in nothing but what is tried. */
function copyToOthers() {
  for (const [a, other] of draft.value!.outline.arms.entries())
    if (a !== arm.value) other.phases = JSON.parse(JSON.stringify(phases.value)) as Phase[]
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
      <span class="soot">Reset all arms</span>
      <Button v-for="s in schools" :key="s.value" :label="s.label" size="small" outlined @click="school(s.value)" />
    </div>
    <ProblemNote :problem="problem" />
    <ol>
      <li v-for="(p, i) in phases" :key="i" :class="{ open: picked?.phase === i }">
        <button type="button" class="one" @click="picked = { arm, phase: i }">
          <b>{{ p.name }}</b><span class="num">{{ p.set_typed }}</span
          ><span class="end num">{{ says(p) }}</span>
        </button>
        <PhaseEditor v-if="picked?.phase === i && open === p" :model-value="p" :i="i">
          <div v-if="!shut" class="row">
            <Button label="Move up" size="small" text :disabled="i === 0" @click="move(i, -1)" />
            <Button label="Move down" size="small" text :disabled="i === phases.length - 1" @click="move(i, 1)" />
            <Button label="Take out" size="small" text class="push" @click="remove(i)" />
          </div>
        </PhaseEditor>
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
      <Button
        v-if="trial.ask.arms.length > 1"
        label="Copy to the other arms"
        size="small"
        outlined
        data-testid="copy-phases"
        @click="copyToOthers"
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
</style>
