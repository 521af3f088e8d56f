<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock } from '../ui/time'
import { label } from './acts'

/** Two hands logged the same at about the same time: a person says which stands. */
const { events } = defineProps<{ events: Event[] }>()
const { trial, set } = useThisTrial()
const { run, busy, problem } = useAct()
// A press on several cuts clashes as a whole, and is shown once.
const clashes = computed(() => {
  const seen = new Set<string>()
  return trial.value.clashes.flatMap((k) => {
    const both = [k.first, k.second].map((id) => events.find((e) => e.id === id))
    const [a, b] = both
    if (!a || !b || seen.has(a.press + b.press)) return []
    seen.add(a.press + b.press)
    return [[a, b] as const]
  })
})
const on = (e: Event) =>
  events
    .filter((x) => x.press === e.press)
    .map((x) => trial.value.cuts.find((c) => c.id === x.cut_id)?.name)
    .filter(Boolean)
    .join(', ')
async function keep(other: Event) {
  const v = await run(() =>
    ok(
      api.POST('/api/presses/{press}/void', {
        params: { path: { press: other.press } },
        body: { why: 'logged by two hands' },
      }),
    ),
  )
  if (v) set(v)
}
</script>

<template>
  <section v-if="clashes.length" class="clashes no-print" data-testid="clashes">
    <ProblemNote :problem="problem" />
    <div v-for="[a, b] in clashes" :key="a.id" class="row">
      <span class="triangle"
        >Two hands logged <b>{{ label(a.act).toLowerCase() }}</b> of <b class="num">{{ on(a) || 'the pit' }}</b>. Which
        one stands?</span
      >
      <Button
        v-for="[e, other] in [
          [a, b],
          [b, a],
        ] as const"
        :key="e.id"
        outlined
        :disabled="busy"
        @click="keep(other)"
      >
        {{ e.by }}, {{ clock(e.at) }}
      </Button>
    </div>
  </section>
</template>

<style scoped>
.clashes {
  padding: 8px 16px;
  background: var(--watch-wash);
  color: var(--watch);
}
</style>
