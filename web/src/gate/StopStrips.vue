<script setup lang="ts">
import Button from 'primevue/button'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { GateView, PendingChange } from '../api/schema.gen'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock } from '../ui/time'
import { sentence } from '../ui/units'

/** What was stopped after it was served, and what waits for a second hand. */
const { gate } = defineProps<{ gate: GateView }>()
const { trial, set } = useThisTrial()
const { person } = useSession()
const { run, busy, problem } = useAct()
const what = (c: PendingChange) => {
  if (c.what) return sentence(c.what)
  const e = trial.value.events.find((e) => e.press === c.press)
  const done = e ? `${e.act} at ${clock(e.at)}${e.said ? `, ${e.said}` : ''}` : 'an entry'
  return c.correction ? `correct “${done}”` : `take back “${done}”: ${c.why}`
}
async function sign(id: number, yes: boolean) {
  set(await run(() => ok(api.POST('/api/pending-changes/{id}/sign', { params: { path: { id } }, body: { yes } }))))
}
</script>

<template>
  <div v-if="gate.struck.length" class="alarm-strip" role="alert" data-testid="struck">
    <p v-for="s in gate.struck" :key="s.flight_id + s.code">
      <b class="triangle"
        >Do not eat <span class="num code">{{ s.code }}</span>.</b
      >
      Stopped at {{ clock(s.at) }}:
      {{ sentence(s.why) }}
    </p>
  </div>
  <div v-for="c in gate.pending" :key="c.id" class="warn row" data-testid="pending">
    <b class="triangle">{{ c.by }} asks to {{ what(c) }}.</b>
    <span class="small">It would open the gate, or weaken what shut it for good, so a second hand signs.</span>
    <Button
      v-if="person?.id !== c.by_id"
      size="small"
      label="Sign"
      :loading="busy"
      data-testid="sign"
      @click="sign(c.id, true)"
    />
    <Button size="small" text label="Refuse" :loading="busy" @click="sign(c.id, false)" />
  </div>
  <ProblemNote :problem="problem" />
</template>

<style scoped>
.alarm-strip {
  background: var(--alarm-wash);
  color: var(--alarm);
  border-left: 6px solid var(--alarm);
  padding: 10px 14px;
}
.code {
  font-size: 26px;
}
</style>
