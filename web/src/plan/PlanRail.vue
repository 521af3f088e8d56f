<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, provide, ref } from 'vue'
import type { PlanView } from '../api/schema.gen'
import { clock, date } from '../ui/time'
import HandLane from './HandLane.vue'
import PitLane from './PitLane.vue'
import PlanLane from './PlanLane.vue'
import { railKey, useRailScale } from './railScale'

/** Arms, pits and hands on one clock, from the first salt to the table. */
const { work } = defineProps<{ work: PlanView }>()
const picked = defineModel<{ arm: number; phase: number } | null>('picked', { required: true })
const track = ref<HTMLElement | null>(null)
const { width } = useElementSize(track)
const scale = useRailScale(() => work, width)
provide(railKey, scale)
const { rail, marks, x, left } = scale

const clashes = (arm: number, pit: number) =>
  work.conflicts.filter((c) => (arm >= 0 ? c.arm === arm : c.arm < 0 && c.pit === pit))
const hands = computed(() => {
  const rows = work.people.map((name, i) => ({ name, tasks: work.tasks.filter((t) => t.person === i), nobody: false }))
  const nobody = { name: 'Nobody', tasks: work.tasks.filter((t) => t.person < 0), nobody: true }
  return [...rows, nobody].filter((r) => r.tasks.length)
})
</script>

<template>
  <div class="rail" data-testid="plan-rail">
    <div class="clocks">
      <div class="day num">{{ date(Math.min(...work.pits.map((p) => Date.parse(p.light)))) }}</div>
      <div ref="track" class="clockline">
        <span v-if="rail.lead" class="before small" :style="{ width: `${100 * rail.lead}%` }"
          >{{ width * rail.lead > 130 ? date(rail.from) : '' }} {{ clock(rail.from) }}</span
        >
        <span v-for="t in marks" :key="t" class="tick num" :style="left(t)">{{ clock(t) }}</span>
      </div>
    </div>
    <PlanLane
      v-for="l in work.lanes"
      :key="l.arm"
      v-model:picked="picked"
      :lane="l"
      :work="work"
      :clashes="clashes(l.arm, -1)"
    />
    <PitLane
      v-for="p in work.pits"
      :key="`p${p.pit}`"
      :pit="p"
      :name="work.pit_names[p.pit]!"
      :clashes="clashes(-1, p.pit)"
    />
    <HandLane v-for="h in hands" :key="h.name" v-bind="h" />
    <i v-if="x(work.now) > 0 && x(work.now) < 100" class="now" :style="{ '--x': x(work.now) / 100 }" />
    <i class="table" :style="{ '--x': x(work.serve) / 100 }" />
  </div>
</template>

<style scoped>
.rail {
  --head: 176px;
  position: relative;
  background: var(--board);
  border-top: var(--line-strong) solid var(--ink);
  border-bottom: var(--line-strong) solid var(--ink);
  user-select: none;
}
.clocks {
  display: grid;
  grid-template-columns: var(--head) minmax(0, 1fr);
}
.day {
  padding: 6px 8px 6px 12px;
  border-right: var(--line) solid var(--edge);
  position: sticky;
  left: 0;
  z-index: 5;
  background: var(--board);
  font-weight: 700;
  font-size: 14px;
}
.clockline {
  position: relative;
  height: 30px;
}
.tick {
  position: absolute;
  bottom: 2px;
  transform: translateX(-50%);
  font-size: 14px;
}
.before {
  position: absolute;
  left: 4px;
  bottom: 4px;
  color: var(--soot);
  overflow: hidden;
  white-space: nowrap;
}
.now,
.table {
  position: absolute;
  inset-block: 0;
  left: calc(var(--head) + (100% - var(--head)) * var(--x));
  pointer-events: none;
  border-left: 3px solid var(--ink);
}
.now {
  border-color: var(--ember);
}
@media (max-width: 900px) {
  .rail {
    --head: 116px;
    min-width: 760px;
  }
}
</style>
