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
// Shown in the reader's units; only a changed text is a new weighing.
const shownOf = (cut?: CutView) => {
  const kept = cut && weighingAt(cut, props.stage)
  return kept ? typedWeight(kept) : ''
}
const shown = computed(() => shownOf(props.cut))
let base = '' // what the barn has, as far as is known here
let sent: string | undefined // what is on its way there
watch(
  shown,
  (s) => {
    if (text.value.trim() === base) text.value = s
    base = s
  },
  { immediate: true },
)

/** What is typed while an answer is on its way stays. */
async function keep() {
  const now = weighingAt(props.cut, props.stage)
  const typed = text.value.trim()
  if (typed === base || typed === sent) return
  sent = typed
  try {
    const v = await run(() =>
      typed === '' && now
        ? ok(api.POST('/api/weighings/{id}/void', { params: { path: { id: now.id } }, body: { why: 'cleared' } }))
        : ok(
            api.POST('/api/cuts/{id}/weighings', {
              params: { path: { id: props.cut.id } },
              body: { stage: props.stage, weight: withWeightUnit(typed), resolution: resolution.value },
            }),
          ),
    )
    if (!v) return
    if (typed === '' && now) voided('weighing', now.id, `${props.label} of ${props.cut.name} was cleared`)
    base = shownOf(set(v)?.cuts.find((c) => c.id === props.cut.id))
    if (text.value.trim() === typed) text.value = base
  } finally {
    if (sent === typed) sent = undefined
  }
}
function next(e: Event) {
  const cells = [...document.querySelectorAll<HTMLInputElement>(`input[data-stage="${props.stage}"]`)]
  const at = cells.indexOf(e.target as HTMLInputElement)
  void keep()
  cells[at + 1]?.focus()
  cells[at + 1]?.select()
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
      :disabled="shut && shown !== ''"
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
