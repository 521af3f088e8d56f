<script lang="ts">
/** One field of a cut's slip: its id, its words, how wide it stands and the key that jumps to it. */
export interface FieldLine {
  id: string
  of: string
  label: string
  hint: string
  as: 'mono' | 'plain' | 'wide' | 'weight'
  cap?: string
  heat?: boolean // a temperature
}
</script>

<script setup lang="ts">
import InputText from 'primevue/inputtext'
import KeyCap from '../ui/KeyCap.vue'
import { weightKeys } from '../ui/units'

const text = defineModel<string>({ required: true })
const { field, disabled = false } = defineProps<{ field: FieldLine; disabled?: boolean }>()
</script>

<template>
  <div class="field" :class="field.as">
    <label :for="field.id"
      >{{ field.label }}<KeyCap v-if="field.cap">{{ field.cap }}</KeyCap></label
    ><InputText
      :id="field.id"
      v-model="text"
      :data-field="field.of"
      :class="{ 'mono-input': field.as === 'mono' || field.as === 'weight' }"
      :placeholder="field.hint"
      :inputmode="field.as === 'weight' ? weightKeys() : field.heat ? 'decimal' : undefined"
      :disabled="disabled"
    />
  </div>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.field :deep(input) {
  width: 90px;
}
.mono :deep(input) {
  width: 104px;
}
.wide :deep(input) {
  width: 130px;
}
.weight :deep(input) {
  width: 160px;
}
</style>
