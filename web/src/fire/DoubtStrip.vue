<script setup lang="ts">
import { computed } from 'vue'
import type { Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { clock } from '../ui/time'
import DoubtAnswer from './DoubtAnswer.vue'

/** Readings in doubt that nobody answered: each counts against its piece, and for it once it is answered. */
const { events } = defineProps<{ events: Event[] }>()
const { trial } = useThisTrial()
const asked = computed(() => events.filter((e) => e.detail.doubt))
const name = (e: Event) => trial.value.cuts.find((c) => c.id === e.cut_id)?.name ?? ''
</script>

<template>
  <section v-if="asked.length" class="doubts no-print" data-testid="doubts">
    <div v-for="e in asked" :key="e.id" class="row">
      <b class="num">{{ name(e) }}, {{ clock(e.at) }}, {{ e.by }}:</b>
      <DoubtAnswer :of="e" />
    </div>
  </section>
</template>

<style scoped>
.doubts {
  padding: 8px 16px;
  background: var(--watch-wash);
}
</style>
