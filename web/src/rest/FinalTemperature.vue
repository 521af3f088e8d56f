<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import CellProblem from '../ui/CellProblem.vue'
import { clock } from '../ui/time'
import { temperatureHint, typedTemperature, withTemperatureUnit } from '../ui/units'

const props = defineProps<{ cut: CutView }>()
const { trial, set, shut } = useThisTrial()
const { run, problem } = useAct()
const text = ref('')
const shown = computed(() => (props.cut.final_temperature ? typedTemperature(props.cut.final_temperature) : ''))
watch(shown, (s) => (text.value = s), { immediate: true })

async function keep(source: 'hand' | 'probe') {
  const typed = withTemperatureUnit(text.value)
  if (source === 'hand' && (!typed.trim() || typed.trim() === shown.value)) return true
  const v = await run(() =>
    ok(
      api.POST('/api/cuts/{id}/final-temperature', {
        params: { path: { id: props.cut.id } },
        body: { source, temperature: source === 'hand' ? typed : '' },
      }),
    ),
  )
  set(v)
  return v !== undefined
}
async function next(e: Event) {
  const cells = [...document.querySelectorAll<HTMLInputElement>('input[data-final]')]
  const at = cells.indexOf(e.target as HTMLInputElement)
  if (await keep('hand')) cells[at + 1]?.focus()
}
</script>

<template>
  <span class="cell">
    <span class="row tight">
      <InputText
        v-model="text"
        class="mono-input"
        :placeholder="temperatureHint()"
        :aria-label="`Final temperature of ${cut.name}`"
        data-final
        :disabled="shut"
        @blur="keep('hand')"
        @keydown.enter.prevent="next"
      />
      <Button
        v-if="!shut && trial.imports.length && !cut.final_temperature"
        size="small"
        text
        label="probe's"
        :aria-label="`Take the probe's highest of ${cut.name}`"
        @click="keep('probe')"
      />
    </span>
    <span v-if="cut.final_temperature" class="small soot"
      >by {{ cut.final_temperature.source }}, {{ clock(cut.final_temperature.at) }},
      {{ cut.final_temperature.by }}</span
    >
    <CellProblem :problem="problem" />
  </span>
</template>

<style scoped>
.cell {
  display: flex;
  flex-direction: column;
}
.tight {
  gap: 4px;
  flex-wrap: nowrap;
}
.cell :deep(input) {
  width: 100px;
  min-height: 48px;
}
</style>
