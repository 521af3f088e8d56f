<script setup lang="ts">
import type { FlightInput } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'

/** What a flight asks of its tasters. */
const format = defineModel<FlightInput['format']>({ required: true })
</script>

<template>
  <div class="formats" role="radiogroup" aria-label="What is asked">
    <button
      v-for="x in vocabulary.formats"
      :key="x.format"
      type="button"
      role="radio"
      :aria-checked="format === x.format"
      :data-testid="`format-${x.format}`"
      @click="format = x.format"
    >
      <b>{{ x.name }}</b> <small>{{ x.tells }}</small>
    </button>
  </div>
</template>

<style scoped>
.formats {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 8px;
}
.formats button {
  text-align: left;
  min-height: 64px;
  padding: 8px 10px;
  border: var(--line-strong) solid var(--edge);
  background: var(--board);
  color: inherit;
  font: inherit;
  cursor: pointer;
}
.formats b,
.formats small {
  display: block;
}
.formats button[aria-checked='true'] {
  border-color: var(--ink);
  background: var(--ink);
  color: var(--board);
}
</style>
