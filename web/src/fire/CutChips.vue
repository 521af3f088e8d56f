<script setup lang="ts">
import type { CutView } from '../api/schema.gen'

/** One cut only, of those that are pressed. */
defineProps<{ cuts: CutView[] }>()
const only = defineModel<number | null>({ required: true })
</script>

<template>
  <div class="chips" role="group" aria-label="One cut only">
    <button
      v-for="c in cuts"
      :key="c.id"
      type="button"
      class="num"
      :aria-pressed="only === c.id"
      @click="only = only === c.id ? null : c.id"
    >
      {{ c.name }}
    </button>
  </div>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  min-width: 48px;
  min-height: 48px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  cursor: pointer;
  font-weight: 700;
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
</style>
