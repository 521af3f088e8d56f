<script setup lang="ts">
import NumberInput from '../ui/NumberInput.vue'
import { useAskForm } from './ask'

/** What a layout is fitted to. */
const { ask } = useAskForm()
const numbers = [
  ['blocks', 'animals, racks or lots'],
  ['block_size', 'alike cuts of each'],
  ['cook_days', 'cook days'],
  ['pits', 'pits'],
  ['positions', 'places on one grate'],
  ['tasters', 'tasters'],
] as const
</script>

<template>
  <section class="stack tight">
    <h2>What is at hand</h2>
    <div class="grid">
      <label v-for="[key, words] in numbers" :key="key">
        <NumberInput v-model="ask.hand[key]" class="mono-input" live whole zero="0" :data-testid="`hand-${key}`" />
        <span>{{ words }}</span>
      </label>
      <label>
        <NumberInput
          v-model="ask.hand.cut_cents"
          class="mono-input"
          :per="100"
          whole
          placeholder="41.50"
          data-testid="price"
        />
        <span>price of one cut</span>
      </label>
    </div>
  </section>
</template>

<style scoped>
.tight {
  gap: 6px;
}
.grid label:last-child :deep(input) {
  width: 96px;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 12px;
}
label {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  font-size: var(--t-sm);
}
label > span {
  flex: 1 1 60px;
}
label :deep(input) {
  width: 78px;
  text-align: right;
  font-weight: 700;
}
</style>
