<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { slowDown } from './now'

/** The speed of a rehearsal, and its end. */
const { cook } = defineProps<{ cook: CookView }>()
const { trial, set } = useThisTrial()
const { run, busy, problem } = useAct()
const speeds = [1, 10, 60, 300, 600].map((v) => ({ label: `${v}×`, value: v }))
const speed = computed(() => cook.rate)
const path = computed(() => ({ path: { id: cook.id } }))

async function go(rate: number) {
  slowDown(cook.id, rate)
  set(await run(() => ok(api.PUT('/api/cooks/{id}/rate', { params: path.value, body: { rate } }))))
}
async function end() {
  set(await run(() => ok(api.POST('/api/cooks/{id}/stop', { params: path.value }))))
}
</script>

<template>
  <div class="rehearsal no-print" data-testid="rehearsal">
    <b>Rehearsal.</b>
    <span
      >Nothing here counts. The real one is
      <RouterLink :to="`/trials/${trial.rehearses}/fire`">on its own page</RouterLink>.</span
    >
    <template v-if="cook.played">
      <SelectButton
        :model-value="speed"
        :options="speeds"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Speed"
        :disabled="busy"
        @update:model-value="go"
      />
      <Button label="End the rehearsal" size="small" outlined :loading="busy" @click="end" />
    </template>
    <span v-else class="soot">It has ended.</span>
    <ProblemNote :problem="problem" />
  </div>
</template>

<style scoped>
.rehearsal {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  padding: 8px 16px;
  background: var(--watch-wash);
  border-bottom: var(--line-strong) solid var(--watch);
}
</style>
