<script setup lang="ts">
import { computed } from 'vue'
import type { PlateView } from '../api/schema.gen'
import type { Draft } from './ballot'
import CellRule from './CellRule.vue'

/** One sample of a plate: its code, what is looked at, what is tasted, and what is off. */
const props = defineProps<{ plate: PlateView; code: string; draft: Draft }>()
const emit = defineEmits<{ put: [Draft] }>()
const sample = computed(() => props.plate.samples.find((s) => s.code === props.code)!)
const count = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine']
const bites = computed(() => {
  const n = props.plate.sheet.bites
  return `${count[n]} ${n === 1 ? 'bite' : 'bites'}, as much crust in each as in the others.`
})
const score = (key: string, value: number) =>
  emit('put', { ...props.draft, scores: { ...props.draft.scores, [key]: value } })
function fault(f: string) {
  const has = props.draft.faults.includes(f)
  emit('put', { ...props.draft, faults: has ? props.draft.faults.filter((x) => x !== f) : [...props.draft.faults, f] })
}
</script>

<template>
  <div class="ask">
    <div class="row top">
      <span class="code num" data-testid="code">{{ code }}</span>
      <span
        >Check the code on the cup.<br />{{ bites }}<br />{{
          sample.warm_up ? 'To warm up: it does not count.' : 'No talk until all are sealed.'
        }}</span
      >
    </div>
    <p v-if="sample.is" class="is">
      You know it is <b>{{ sample.is }}</b>. Your ballot is marked as open.
    </p>
    <CellRule
      v-for="a in plate.sheet.attributes"
      :key="a.key + code"
      :attribute="a"
      :value="draft.scores[a.key] ?? null"
      @score="(v) => score(a.key, v)"
    />
    <template v-if="plate.sheet.faults.length">
      <p class="soot small">Anything of this?</p>
      <div class="faults">
        <button
          v-for="f in plate.sheet.faults"
          :key="f"
          type="button"
          :aria-pressed="draft.faults.includes(f)"
          @click="fault(f)"
        >
          {{ f[0]!.toUpperCase() + f.slice(1) }}
        </button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.ask {
  padding: 6px 16px 12px;
  flex: 1;
}
.top {
  flex-wrap: nowrap;
}
.code {
  font-size: 80px;
  font-weight: 700;
  line-height: 1;
}
.ask > p {
  margin-top: 10px;
}
.is {
  padding: 8px 12px;
  background: var(--watch-wash);
}
.faults {
  display: flex;
  flex-wrap: wrap;
  border: 2px solid var(--ink);
}
.faults button {
  flex: 1 1 76px;
  min-height: 48px;
  border: 0;
  border-right: var(--line) solid var(--edge);
  background: var(--board);
  font-weight: 600;
  padding: 0 4px;
}
.faults button:last-child {
  border-right: 0;
}
.faults button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
</style>
