<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { CutGate } from '../api/schema.gen'
import { sentence } from '../ui/units'
import { opensByReason, working } from './gate'

/** What the gate says of one cut, and its working. */
const { ruling, mayReason } = defineProps<{ ruling: CutGate | undefined; mayReason?: boolean }>()
defineEmits<{ reason: [] }>()
const stops = computed(() => ruling?.stops.filter((s) => !s.waived) ?? [])
const waived = computed(() => ruling?.stops.filter((s) => s.waived) ?? [])
const byReason = computed(() => opensByReason(ruling))
</script>

<template>
  <div v-if="ruling" class="ruling" :data-finding="ruling.finding">
    <b v-if="ruling.open" class="check">open</b>
    <template v-for="s in stops" :key="s.key">
      <p class="triangle bad">{{ sentence(s.words) }}</p>
      <p class="small">{{ s.remedy }}</p>
    </template>
    <p v-for="s in waived" :key="s.key" class="small">By reason: {{ sentence(s.words) }}</p>
    <p v-for="p in ruling.places" :key="p.place + p.probe" class="small" :class="p.passed ? 'check' : 'dash'">
      {{ working(p, ruling.minimum.c) }}
    </p>
    <p v-for="w in ruling.warnings" :key="w" class="small watch">{{ sentence(w) }}</p>
    <Button
      v-if="mayReason && byReason"
      size="small"
      text
      label="Serve anyway, with a reason"
      class="no-print"
      @click="$emit('reason')"
    />
  </div>
</template>

<style scoped>
.ruling {
  display: flex;
  flex-direction: column;
  gap: 3px;
  max-width: 420px;
  line-height: 1.25;
}
.bad {
  color: var(--alarm);
  font-weight: 700;
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
</style>
