<script setup lang="ts">
import Button from 'primevue/button'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { sentence } from '../ui/units'
import { uuid } from '../ui/uuid'

/** A reading that is in doubt is asked about where it stands; answering takes the focus from no field. */
const { of } = defineProps<{ of: Event }>()
const { set } = useThisTrial()
const { run, busy, problem } = useAct()
async function soItIs() {
  const body = { at: of.at, note: of.note, detail: of.detail, press: uuid(), why: 'it is so', sure: true }
  set(await run(() => ok(api.PUT('/api/events/{id}', { params: { path: { id: of.id } }, body }))))
}
async function takeBack() {
  const body = { why: 'it was no reading of it' }
  set(await run(() => ok(api.POST('/api/presses/{press}/void', { params: { path: { press: of.press } }, body }))))
}
</script>

<template>
  <span class="doubt" data-testid="doubt">
    <span class="triangle">{{ sentence(of.detail.doubt!.words) }}</span>
    <Button size="small" label="Take it back" :disabled="busy" @mousedown.prevent @click="takeBack" />
    <Button size="small" outlined label="It is so" :disabled="busy" @mousedown.prevent @click="soItIs" />
    <ProblemNote :problem="problem" />
  </span>
</template>

<style scoped>
.doubt {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  color: var(--watch);
}
.doubt :deep(button) {
  min-height: 48px;
}
</style>
