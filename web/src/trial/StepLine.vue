<script setup lang="ts">
import { computed } from 'vue'
import type { TrialView } from '../api/schema.gen'

/** What this step is for, what it still lacks, and the way on. */
const props = defineProps<{ trial: TrialView; here: string }>()
const purposes: Record<string, string> = {
  ask: 'Say what is to be settled, between what, and what counts.',
  match: 'Hang cuts as like as possible, and let the lot say which gets what.',
  plan: 'Work back from the table: when each thing happens, where, and by whom.',
  prep: 'Weigh, salt, inject and label each cut; the amounts are worked out.',
  fire: 'Log what is done as it is done; what is likely is shown beside it.',
  rest: 'Weigh each cut off the pit, read its coldest point, keep it hot.',
  table: 'Taste without knowing which is which; every ballot is sealed first.',
  settle: 'Read what is shown, what is not, and what to try next.',
}
const dry: Record<string, string> = {
  ask: 'Say which set-ups of a pit are burned beside each other, without meat.',
  plan: 'Plan the burns: each set-up, on days that the lot deals out.',
  fire: 'Light, feed and read the pit; what it does is told as it burns.',
  settle: 'Read what each set-up is good for, and use one.',
}
/** The other pages have a heading of their own. */
const headed = ['ask', 'plan']
const at = computed(() => props.trial.steps.findIndex((s) => s.step === props.here))
const lacks = computed(() => (props.trial.revealed_at ? [] : (props.trial.steps[at.value]?.missing ?? [])))
const next = computed(() => props.trial.steps[at.value + 1] ?? null)
const name = (s: string) => s[0]!.toUpperCase() + s.slice(1)
</script>

<template>
  <section v-if="at >= 0" class="line no-print" aria-label="This step">
    <h1 v-if="headed.includes(here)">{{ name(here) }}</h1>
    <p>
      <span>{{ (trial.ask.kind === 'set-ups' && dry[here]) || purposes[here] }}</span>
      <span v-if="lacks.length" data-testid="lacks"><b> Still missing here:</b> {{ lacks.join('; ') }}.</span>
    </p>
    <RouterLink
      v-if="next"
      class="on"
      :class="{ done: lacks.length === 0 }"
      :to="`/trials/${trial.id}/${next.step}`"
      data-testid="step-on"
      >On to {{ name(next.step) }}</RouterLink
    >
  </section>
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 8px 16px;
  padding: 4px 16px 4px 20px;
  background: var(--lime);
  border-bottom: var(--line) solid var(--grain);
  font-size: var(--t-sm);
  color: var(--soot);
}
h1 {
  font-size: 20px;
  color: var(--ink);
}
p {
  flex: 1;
  min-width: 0;
}
.on {
  flex: none;
  display: inline-flex;
  align-items: center;
  min-height: var(--touch);
  padding: 0 14px;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  color: var(--ink);
  font-weight: 700;
  text-decoration: none;
}
.on.done {
  background: var(--ink);
  color: var(--board);
}
</style>
