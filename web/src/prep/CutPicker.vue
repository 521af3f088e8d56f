<script setup lang="ts">
import type { CutPrep, CutView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'

/** The cuts of the bench list, with how many of their doses are done. */
defineProps<{ cuts: CutView[]; of: (c: CutView) => CutPrep | undefined }>()
const picked = defineModel<number | null>({ required: true })
const { armOf } = useThisTrial()
const done = (p: CutPrep) => p.orders.filter((o) => p.marks.some((m) => m.dose === o.key)).length
</script>

<template>
  <nav class="cuts no-print" aria-label="Cuts">
    <button
      v-for="c in cuts"
      :key="c.id"
      type="button"
      :class="{ here: c.id === picked }"
      :aria-current="c.id === picked || undefined"
      :data-testid="`bench-${c.name}`"
      @click="picked = c.id"
    >
      <ArmToken v-if="armOf(c) >= 0" :place="armOf(c)" :size="19" />
      <b class="num">{{ c.name }}</b>
      <span
        v-if="of(c)"
        class="small push num"
        :class="{ check: of(c)!.orders.length && done(of(c)!) === of(c)!.orders.length }"
        >{{ done(of(c)!) }}/{{ of(c)!.orders.length }}</span
      >
    </button>
  </nav>
</template>

<style scoped>
.cuts {
  border-right: var(--line) solid var(--edge);
}
.cuts button {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 48px;
  padding: 4px 12px;
  border: 0;
  border-bottom: var(--line) solid var(--grain);
  background: none;
  cursor: pointer;
  font-size: 19px;
}
.cuts .here {
  background: var(--board);
  box-shadow: inset 4px 0 0 var(--ink);
}
@media (max-width: 900px) {
  .cuts {
    display: flex;
    overflow-x: auto;
    border-right: 0;
  }
  .cuts button {
    width: auto;
    --tall: 56px;
    border-right: var(--line) solid var(--grain);
  }
}
</style>
