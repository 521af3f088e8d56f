<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import Select from 'primevue/select'
import type { TrialMeat } from '../api/schema.gen'
import { handlingNames, speciesNames } from './gate'

/** What meat it is and how it was handled; there is no default. */
const meat = defineModel<TrialMeat>({ required: true })
defineProps<{ disabled?: boolean }>()
const put = (change: Partial<TrialMeat>) => {
  const next = { ...meat.value, ...change }
  if (next.species !== 'poultry') next.whole_bird = false
  meat.value = next
}
</script>

<template>
  <Select
    :model-value="meat.species || null"
    label-id="species"
    :options="[...speciesNames]"
    option-label="label"
    option-value="value"
    placeholder="which meat?"
    :disabled="disabled"
    data-testid="species"
    @update:model-value="(v) => put({ species: v })"
  />
  <Select
    :model-value="meat.handling || null"
    aria-label="Handled"
    :options="[...handlingNames]"
    option-label="label"
    option-value="value"
    placeholder="handled how?"
    :disabled="disabled"
    data-testid="handling"
    @update:model-value="(v) => put({ handling: v })"
  />
  <label v-if="meat.species === 'poultry'" class="row"
    ><Checkbox
      :model-value="meat.whole_bird"
      binary
      :disabled="disabled"
      @update:model-value="(v) => put({ whole_bird: v })"
    />
    a whole bird</label
  >
</template>
