<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView, WeighingInput } from '../api/schema.gen'
import { useResolution } from '../match/resolution'
import { useThisTrial, weighingAt } from '../trial/trial'
import { useUndo } from '../trial/undo'
import CellProblem from './CellProblem.vue'
import { typedWeight, weightHint, weightKeys, withWeightUnit } from './units'

/** One weight, kept on Enter or on leaving; Enter goes on to the next cut. */
const props = defineProps<{ cut: CutView; stage: WeighingInput['stage']; label: string }>()
const { set, shut } = useThisTrial()
const { run, problem } = useAct()
const { voided } = useUndo()
const resolution = useResolution()
const text = ref('')
const kept = () => weighingAt(props.cut, props.stage)
// Shown in the reader's units; only a changed text is a new weighing.
const shown = computed(() => (kept() ? typedWeight(kept()!) : ''))
watch(shown, (s) => (text.value = s), { immediate: true })

async function keep() {
  const now = kept()
  if (text.value.trim() === shown.value) return true
  const v = await run(() =>
    text.value.trim() === '' && now
      ? ok(api.POST('/api/weighings/{id}/void', { params: { path: { id: now.id } }, body: { why: 'cleared' } }))
      : ok(
          api.POST('/api/cuts/{id}/weighings', {
            params: { path: { id: props.cut.id } },
            body: { stage: props.stage, weight: withWeightUnit(text.value), resolution: resolution.value },
          }),
        ),
  )
  if (v && text.value.trim() === '' && now)
    voided('weighing', now.id, `${props.label} of ${props.cut.name} was cleared`)
  set(v)
  return v !== undefined
}
async function next(e: Event) {
  const cells = [...document.querySelectorAll<HTMLInputElement>(`input[data-stage="${props.stage}"]`)]
  const at = cells.indexOf(e.target as HTMLInputElement)
  if (await keep()) {
    cells[at + 1]?.focus()
    cells[at + 1]?.select()
  }
}
</script>

<template>
  <span class="cell">
    <InputText
      v-model="text"
      class="mono-input"
      :class="{ 'p-invalid': problem }"
      :placeholder="weightHint()"
      :aria-label="`${label} of ${cut.name}`"
      :data-stage="stage"
      :inputmode="weightKeys()"
      :disabled="shut && !!kept()"
      @blur="keep"
      @keydown.enter.prevent="next"
    />
    <CellProblem :problem="problem" />
  </span>
</template>

<style scoped>
.cell {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
.cell :deep(input) {
  width: 172px;
  min-height: 48px;
}
</style>
