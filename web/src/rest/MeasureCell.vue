<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import CellProblem from '../ui/CellProblem.vue'
import { numberIn } from '../ui/number'

/** The value of an outcome typed for one cut, kept on Enter or on leaving; empty takes it back. */
const props = defineProps<{ cut: CutView; outcome: string; name: string; unit: string }>()
const { set, shut } = useThisTrial()
const { run, problem } = useAct()
const text = ref('')
const shown = computed(() => {
  const m = props.cut.measures.find((m) => m.key === props.outcome)
  return m ? String(m.value) : ''
})
watch(shown, (s) => (text.value = s), { immediate: true })
const wrong = ref('')
async function keep() {
  const typed = text.value.trim()
  const v = typed === '' ? null : numberIn(typed)
  wrong.value = typeof v === 'string' ? v : ''
  if (typed === shown.value || typeof v === 'string') return
  set(
    await run(() =>
      ok(
        api.PUT('/api/cuts/{id}/measures', {
          params: { path: { id: props.cut.id } },
          body: { key: props.outcome, value: v },
        }),
      ),
    ),
  )
}
</script>

<template>
  <span class="cell">
    <InputText
      v-model="text"
      class="mono-input"
      :class="{ 'p-invalid': problem || wrong !== '' }"
      inputmode="decimal"
      :placeholder="unit"
      :aria-label="`${name} of ${cut.name}`"
      :disabled="shut && shown !== ''"
      @blur="keep"
      @keydown.enter.prevent="keep"
    />
    <span v-if="wrong" class="small" role="alert">{{ wrong }}. Give it in {{ unit }}.</span>
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
  width: 110px;
  min-height: 48px;
}
</style>
