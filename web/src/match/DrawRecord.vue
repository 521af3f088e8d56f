<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { TrialView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { dateTime } from '../ui/time'
import { fixed } from '../ui/units'
import { useLayout } from './layout'

/** How the arms were drawn, and the draws before, which can be brought back. */
defineProps<{ lit: boolean; busy: boolean }>()
const emit = defineEmits<{ back: [number] }>()
const { trial } = useThisTrial()
const { fixed: decided } = useLayout()
const cuts = computed(() => trial.value.cuts)
const last = computed(() => trial.value.draws[0] ?? null)
const arms = computed(() => trial.value.ask.arms.map((a) => a.id))
/** Which cuts a draw put into each arm, where cuts and arms still are those. */
const drawn = (d: TrialView['draws'][number]) =>
  trial.value.ask.arms.map(
    (a) =>
      `${a.tag}: ${cuts.value
        .filter((c) => d.arms[c.id] === a.id)
        .map((c) => c.name)
        .join(' ')}`,
  )
const fits = (d: TrialView['draws'][number]) =>
  Object.keys(d.arms).length === cuts.value.length && cuts.value.every((c) => arms.value.includes(d.arms[c.id]!))
</script>

<template>
  <div class="stack tight">
    <p v-if="last" class="small" data-testid="last-draw">
      Drawn by lot: {{ last.qualified }} of {{ last.looked.toLocaleString('en') }} ways
      {{ last.qualified === 1 ? 'leaves' : 'leave' }} the arms alike{{ last.all_seen ? '' : ', of those looked at'
      }}{{ last.drawn_from > last.qualified ? `, too few, so one of the best ${last.drawn_from}` : ''
      }}{{
        cuts.length >= 8
          ? `; this one lies ${fixed(last.max_smd, 2)} spreads apart, the best ${fixed(last.best_smd, 2)}`
          : ''
      }}.
      <span v-if="trial.moved.length"> Moved by hand since: {{ trial.moved.join(', ') }}.</span>
    </p>
    <details v-if="trial.draws.length">
      <summary class="small">
        {{ trial.draws.length }} {{ trial.draws.length === 1 ? 'draw' : 'draws' }} on record
      </summary>
      <div v-for="(d, i) in trial.draws" :key="d.id" class="small num drawn" data-testid="draw-on-record">
        {{ trial.draws.length - i }}. {{ d.by }}, {{ dateTime(d.at) }}, {{ fixed(d.max_smd, 2) }} spreads apart, seed
        {{ d.seed }}{{ trial.draws.slice(i + 1).some((e) => e.seed === d.seed) ? ', brought back' : '' }}
        <p class="soot">{{ drawn(d).join('; ') }}</p>
        <Button
          v-if="i && !decided && !lit && fits(d)"
          size="small"
          outlined
          :disabled="busy"
          :aria-label="`Bring back draw ${trial.draws.length - i}`"
          @click="emit('back', d.id)"
          >Bring back</Button
        >
      </div>
    </details>
  </div>
</template>

<style scoped>
.drawn {
  padding: 8px 0;
  border-bottom: 1px solid var(--edge);
}
</style>
