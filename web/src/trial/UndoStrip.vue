<script setup lang="ts">
import Button from 'primevue/button'
import { clock } from '../ui/time'
import { sentence } from '../ui/units'
import { useUndo } from './undo'

/** What was done last here and can still be undone. */
const { last, undo, forget, busy, problem } = useUndo()
</script>

<template>
  <div v-if="last" class="undo no-print" role="status" data-testid="undo-strip">
    <span>
      <b class="num">{{ clock(last.made) }}</b> {{ last.words }}
      <span v-if="problem" class="triangle">{{ sentence(problem.title) }}</span>
    </span>
    <Button v-if="!problem" label="Undo" size="small" :loading="busy" data-testid="undo-last" @click="undo" />
    <Button label="Let it be" size="small" text data-testid="undo-forget" @click="forget(last)" />
  </div>
</template>

<style scoped>
.undo {
  position: fixed;
  z-index: 15;
  right: 16px;
  bottom: 16px;
  display: flex;
  align-items: center;
  gap: 12px;
  max-width: min(560px, calc(100vw - 32px));
  padding: 8px 8px 8px 14px;
  background: var(--board);
  border: var(--line-strong) solid var(--ink);
}
/* Above what is pinned to the bottom of a phone. */
@media (max-width: 900px) {
  .undo {
    top: 52px;
    bottom: auto;
    left: 8px;
    right: 8px;
    max-width: none;
    justify-content: space-between;
  }
}
</style>
