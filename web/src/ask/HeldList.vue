<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import PickOrType from '../ui/PickOrType.vue'
import { offered, useAskForm } from './ask'
import RemoveButton from '../ui/RemoveButton.vue'

const { ask, catalogue, shut } = useAskForm()
const names = (n: number) =>
  offered(catalogue.value)
    .map((f) => f.name)
    .filter((name) => ask.factors.every((f) => f.name !== name) && ask.held.every((h, i) => i === n || h.name !== name))
</script>

<template>
  <section class="stack tight">
    <h2>What is held equal</h2>
    <div v-for="(h, i) in ask.held" :key="i" class="held">
      <PickOrType
        v-model="h.name"
        :options="names(i)"
        :input-id="`held${i}`"
        :label="`Held equal, ${i + 1}`"
        placeholder="pit temperature"
        :disabled="shut"
      />
      <InputText
        v-model="h.value"
        :data-field="`held[${ask.held.indexOf(h)}].value`"
        :aria-label="`Value of ${h.name || 'it'}`"
        placeholder="250 F"
      />
      <RemoveButton :what="`Hold ${h.name || 'it'} equal no longer`" @click="ask.held.splice(i, 1)" />
    </div>
    <div>
      <Button
        label="Hold another thing equal"
        size="small"
        outlined
        data-testid="add-held"
        @click="ask.held.push({ role: '', name: '', value: '', key: '' })"
      />
    </div>
  </section>
</template>

<style scoped>
.tight {
  gap: 6px;
}
.held {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 6px;
}
</style>
