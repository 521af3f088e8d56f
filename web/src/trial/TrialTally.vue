<script setup lang="ts">
import { computed } from 'vue'
import type { TrialView } from '../api/schema.gen'
import { steps } from '../router'

const props = defineProps<{ trial: TrialView; here: string }>()
const at = computed(() => props.trial.steps.findIndex((s) => s.step === props.here))
/** A step has one number wherever it stands; a trial without meat has fewer of them. */
const number = (s: string) => steps.indexOf(s as (typeof steps)[number]) + 1
const name = (s: string) => s[0]!.toUpperCase() + s.slice(1)
</script>

<template>
  <nav class="tally no-print" :style="{ '--steps': trial.steps.length }" aria-label="Steps of the trial">
    <RouterLink
      v-for="(s, i) in trial.steps"
      :key="s.step"
      :to="`/trials/${trial.id}/${s.step}`"
      :class="{ done: s.done, here: s.step === here, near: Math.abs(i - at) <= 1 }"
      :aria-current="s.step === here ? 'step' : undefined"
    >
      <span class="name"
        ><i class="num">{{ number(s.step) }}</i> {{ name(s.step) }}</span
      >
      <span class="fact">{{ s.fact }}</span>
      <span class="stick" />
    </RouterLink>
  </nav>
</template>

<style scoped>
.tally {
  display: grid;
  grid-template-columns: repeat(var(--steps), 1fr);
  background: var(--board);
  padding: 0 16px;
}
a {
  text-decoration: none;
  min-height: 52px;
  display: grid;
  grid-template-rows: auto auto 9px;
  padding-top: 5px;
  min-width: 0;
}
a.here {
  background: var(--trough);
}
.name {
  font: 700 16px var(--font-head);
  padding: 0 4px;
}
.name i {
  font: 400 13px var(--font-num);
  color: var(--soot);
}
.fact {
  font-size: 13px;
  color: var(--soot);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  padding: 0 4px 3px;
}
.stick {
  height: 9px;
  background: var(--trough);
  border: var(--line) solid var(--grain);
  border-left: 0;
}
/* One notch is cut per finished step. */
.done .stick {
  background: var(--ink);
  border-color: var(--ink);
  clip-path: polygon(0 0, calc(100% - 7px) 0, 100% 100%, 0 100%);
}
.here .stick {
  border-color: var(--ink);
}
@media (max-height: 500px) {
  /* On its side: one row of names. */
  a {
    min-height: 44px;
  }
  .fact {
    display: none;
  }
}
@media (max-width: 900px) {
  .tally {
    grid-template-columns: repeat(3, 1fr);
    padding: 0;
  }
  a:not(.near) {
    display: none;
  }
}
</style>
