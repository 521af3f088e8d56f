<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import { cents, money, useAskForm } from './ask'

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
// Read once it is typed whole: half a price is another price.
const price = ref('')
watch(
  () => ask.hand.cut_cents,
  (c) => {
    if (cents(price.value) !== c) price.value = c ? money(c) : ''
  },
  { immediate: true },
)
function priced() {
  ask.hand.cut_cents = cents(price.value)
  price.value = ask.hand.cut_cents ? money(ask.hand.cut_cents) : ''
}
</script>

<template>
  <section class="stack tight">
    <h2>What is at hand</h2>
    <div class="grid">
      <label v-for="[key, words] in numbers" :key="key">
        <InputText
          v-model="ask.hand[key] as unknown as string"
          class="mono-input"
          inputmode="numeric"
          :data-testid="`hand-${key}`"
        />
        <span>{{ words }}</span>
      </label>
      <label>
        <InputText
          v-model="price"
          class="mono-input"
          inputmode="decimal"
          placeholder="41.50"
          data-testid="price"
          @blur="priced"
          @keydown.enter.prevent="priced"
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
  gap: 8px;
  align-items: center;
  font-size: var(--t-sm);
}
label :deep(input) {
  width: 78px;
  text-align: right;
  font-weight: 700;
}
</style>
