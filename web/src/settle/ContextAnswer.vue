<script setup lang="ts">
import Button from 'primevue/button'
import type { Standing } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import { sentence } from '../ui/units'

/** The answer first: for whom it is, what speaks for it, what is its price, and how far it goes. */
defineProps<{ standings: Standing[]; chosen: number; standing: Standing; moved: boolean; early: string }>()
defineEmits<{ choose: [i: number]; back: [] }>()
const name = (s: string) => s[0]!.toUpperCase() + s.slice(1)
</script>

<template>
  <div class="answer">
    <div class="line">
      <h1 data-testid="answer">{{ standing.answer }}</h1>
      <div class="contexts no-print" role="group" aria-label="For whom">
        <span class="small soot">For the</span>
        <button
          v-for="(s, i) in standings"
          :key="s.context"
          type="button"
          class="tap"
          :aria-pressed="i === chosen"
          :data-testid="`context-${i}`"
          @click="$emit('choose', i)"
        >
          {{ name(s.context) }}<span v-if="s.condition" class="small">, {{ s.condition }}</span>
          <ArmToken v-for="w in s.winners" :key="w" :place="w" :size="18" />
        </button>
      </div>
    </div>
    <p class="because" data-testid="because">{{ sentence(standing.because) }}</p>
    <p data-testid="next-cook">{{ sentence(standing.next) }}</p>
    <p v-if="early" data-testid="early">{{ early }}</p>
    <p v-if="moved" class="small no-print">
      Weights as you moved them, for a look alone.
      <Button label="Put them back" size="small" text data-testid="weights-back" @click="$emit('back')" />
    </p>
  </div>
  <p v-if="standing.but" class="warn triangle" data-testid="but">{{ sentence(standing.but) }}</p>
</template>

<style scoped>
.answer {
  background: var(--lime);
  padding: 12px 16px 8px;
}
.line {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  justify-content: space-between;
}
h1 {
  font-size: 30px;
}
.because {
  font: 700 19px var(--font-head);
  margin: 2px 0;
}
.contexts {
  display: flex;
  align-items: center;
  gap: 6px;
  flex-wrap: wrap;
}
.tap {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  font-weight: 700;
}
</style>
