<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import type { Phase } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { label } from '../fire/acts'
import { useThisTrial } from '../trial/trial'
import NumberInput from '../ui/NumberInput.vue'

/** What is done again and again in a phase: turned every 40 min, flipped once after 90, read every 20 near the end. */
const p = defineModel<Phase>({ required: true })
const { shut } = useThisTrial()
const acts = vocabulary.repeated.map((a) => ({ act: a, name: a === 'probe' ? 'Read, near the end' : label(a) }))
const add = () => (p.value.moves = [...(p.value.moves ?? []), { act: 'turn', every_s: 2400, from_s: 0 }])
const drop = (i: number) => (p.value.moves = (p.value.moves ?? []).filter((_, n) => n !== i))
</script>

<template>
  <div v-for="(m, i) in p.moves ?? []" :key="i" class="row move">
    <Select
      v-model="m.act"
      :options="acts"
      option-label="name"
      option-value="act"
      aria-label="Done again and again"
      :disabled="shut"
    />
    <label :for="`ev${i}`" class="small">every</label>
    <NumberInput
      :id="`ev${i}`"
      v-model="m.every_s"
      :per="60"
      whole
      class="mono-input short"
      placeholder="once"
      :disabled="shut"
    />
    <label :for="`fr${i}`" class="small">min, from</label>
    <NumberInput
      :id="`fr${i}`"
      v-model="m.from_s"
      :per="60"
      whole
      class="mono-input short"
      placeholder="0"
      :disabled="shut || m.act === 'probe'"
    />
    <Button v-if="!shut" label="Drop" size="small" text @click="drop(i)" />
  </div>
  <div v-if="!shut && (p.moves ?? []).length < 4" class="row">
    <Button label="Turn, flip or read again and again" size="small" text @click="add" />
  </div>
</template>

<style scoped>
.move {
  flex-wrap: nowrap;
  gap: 6px;
}
.move :deep(.p-select) {
  flex: 1;
  min-width: 0;
}
:deep(.short) {
  width: 62px;
}
</style>
