<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import type { End, Phase } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import LateInput from '../ui/LateInput.vue'
import { setWatch, tidy, typed, watchOptions } from './phases'

/** What ends a phase: one condition, or the first or all of several. */
const p = defineModel<Phase>({ required: true })
const { shut } = useThisTrial()
</script>

<template>
  <div v-for="(c, j) in p.ends" :key="j" class="row ends">
    <span class="soot small over">{{ j === 0 ? 'Over' : p.all ? 'and' : 'or' }}</span>
    <Select
      :model-value="c.watch"
      :options="watchOptions(p)"
      option-label="words"
      option-value="watch"
      aria-label="Ends"
      :disabled="shut"
      @update:model-value="(w: End['watch']) => setWatch(c, w)"
    />
    <LateInput
      v-if="typed(c.watch)"
      v-model="c.typed"
      class="mono-input value"
      aria-label="Value"
      :tidy="(t) => tidy(c.watch, t)"
      :disabled="shut"
    />
    <Select
      v-if="c.watch === 'core'"
      :model-value="c.place ?? ''"
      :options="vocabulary.end_places"
      option-label="words"
      option-value="key"
      aria-label="Where in the cut"
      :disabled="shut"
      @update:model-value="(v: string) => (c.place = v || undefined)"
    />
    <Button v-if="p.ends.length > 1 && !shut" label="Drop" size="small" text @click="p.ends.splice(j, 1)" />
  </div>
  <div v-if="watchOptions(p).length > 2 && !shut" class="row">
    <Button
      v-if="p.ends.length < 3"
      label="Another way to end"
      size="small"
      text
      @click="p.ends.push({ watch: 'time', value: 0, typed: '4 h' })"
    />
    <SelectButton
      v-if="p.ends.length > 1"
      v-model="p.all"
      :options="[
        { label: 'the first', value: false },
        { label: 'all at once', value: true },
      ]"
      option-label="label"
      option-value="value"
      :allow-empty="false"
      aria-label="First or all"
    />
  </div>
</template>

<style scoped>
.ends {
  flex-wrap: nowrap;
  gap: 8px;
}
.ends :deep(.p-select) {
  flex: 1;
  min-width: 0;
}
.over {
  width: 32px;
}
.value {
  width: 92px;
}
</style>
