<script setup lang="ts">
import { useThisTrial } from '../trial/trial'
import CutRuling from './CutRuling.vue'
import { meatName, useGate } from './gate'

/** How each cut passed the gate: kept with the verdict. */
const { trial } = useThisTrial()
const { gate, of } = useGate()
</script>

<template>
  <details v-if="gate" class="record" data-testid="gate-record">
    <summary>
      <b>The gate, cut by cut: {{ gate.cuts.filter((c) => c.counts).length }} of {{ gate.cuts.length }} count</b>
    </summary>
    <p class="small">{{ meatName(gate.meat) }}{{ gate.confirmed ? '' : ', which nobody confirmed' }}.</p>
    <div v-for="c in trial.cuts" :key="c.id" class="one">
      <b class="num">{{ c.name }}</b>
      <CutRuling :ruling="of(c.id)" />
    </div>
    <p class="small soot">{{ gate.source }}</p>
  </details>
</template>

<style scoped>
.record {
  background: var(--trough);
  padding: 8px 12px;
}
.one {
  display: flex;
  gap: 12px;
  padding: 4px 0;
}
</style>
