<script setup lang="ts">
import { computed } from 'vue'
import type { CardBody, CardStep } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { temperature } from '../ui/units'
import { clockH, endOf, endsAt, endsBy, tolerance } from './card'

/** The phases of a card in a list, and the same on a rail of hours since it went on. */
const props = defineProps<{ steps: CardStep[]; held?: CardBody['held']; wall?: boolean }>()
const last = computed(() => Math.max(4, ...props.steps.map((s) => s.ends_at?.high ?? 0)))
const ticks = computed(() => {
  const by = last.value > 20 ? 6 : last.value > 9 ? 2 : 1
  return Array.from({ length: Math.floor(last.value / by) + 1 }, (_, i) => i * by)
})
const x = (h: number) => `${(Math.max(0, h) / (last.value * 1.22)) * 100}%`
/** From where the one before ended. */
const from = (i: number) => {
  for (let k = i - 1; k >= 0; k--) if (props.steps[k]!.ends_at) return props.steps[k]!.ends_at!.middle
  return 0
}
const set = (s: CardStep) => (s.set_typed ? ` at ${s.set_typed}` : s.set_C ? ` at ${temperature(s.set_C)}` : '')
const wrap = (s: CardStep) =>
  s.wrap && s.wrap !== 'none' ? `, ${vocabulary.wraps.find((w) => w.key === s.wrap)?.words ?? s.wrap}` : ''
const spritz = (s: CardStep) => (s.spritz_every_s ? `, spritz each ${Math.round(s.spritz_every_s / 60)} min` : '')
</script>

<template>
  <table class="rail" :class="{ wall }" data-testid="phases">
    <thead>
      <tr>
        <th />
        <th>phase</th>
        <th class="right">ends at</th>
        <th>tolerance</th>
        <th class="hours">
          <span v-for="t in ticks" :key="t" :style="{ left: x(t) }">{{ t === 0 ? 'on' : `${t} h` }}</span>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(s, i) in steps" :key="i">
        <td class="soot num">{{ i + 1 }}</td>
        <td>
          <b>{{ s.name }}</b>{{ set(s) }}{{ wrap(s) }}{{ spritz(s) }}
          <span class="small soot by">{{ endsBy(s) }}</span>
        </td>
        <td class="right end num">{{ endOf(s) }}</td>
        <td class="num small">{{ tolerance(s) }}</td>
        <td class="hours">
          <i v-for="t in ticks" :key="t" class="tick" :style="{ left: x(t) }" />
          <template v-if="s.ends_at">
            <i class="bar" :style="{ left: x(from(i)), width: `calc(${x(s.ends_at.middle)} - ${x(from(i))})` }" />
            <i
              v-if="s.ends_at.n"
              class="likely"
              :style="{ left: x(s.ends_at.low), width: `calc(${x(s.ends_at.high)} - ${x(s.ends_at.low)})` }"
            />
            <span class="at num small" :style="{ left: x(s.ends_at.high) }">{{ clockH(s.ends_at.middle) }}</span>
            <span class="visually-hidden">ends {{ endsAt(s) }} after it went on</span>
          </template>
          <span v-else class="small soot before">before the fire</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.end {
  font-size: 20px;
  font-weight: 700;
  white-space: nowrap;
}
.by {
  display: block;
}
.hours {
  position: relative;
  width: 34%;
  min-width: 200px;
  height: 44px;
  padding: 0;
}
thead .hours {
  height: 22px;
}
th.hours span {
  position: absolute;
  bottom: 2px;
  transform: translateX(-30%);
}
.tick {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--grain);
}
.bar {
  position: absolute;
  top: 12px;
  height: 20px;
  background: var(--trough);
  border: 2px solid var(--ink);
}
.likely {
  position: absolute;
  top: 20px;
  height: 4px;
  background: var(--ink);
}
.at {
  position: absolute;
  top: 12px;
  padding-left: 6px;
  font-weight: 700;
  white-space: nowrap;
}
.before {
  position: absolute;
  top: 12px;
  left: 6px;
}
.wall {
  font-size: 20px;
}
.wall .end {
  font-size: 34px;
}
@media (max-width: 800px) {
  .rail,
  .rail tbody,
  .rail tr {
    display: block;
  }
  thead {
    display: none;
  }
  .rail tr {
    display: grid;
    grid-template-columns: 22px minmax(0, 1fr) auto;
    padding: 6px 0;
  }
  .rail td:nth-child(4) {
    grid-column: 2 / 4;
  }
  .rail td.hours {
    grid-column: 1 / -1;
    width: auto;
    height: 36px;
  }
}
</style>
