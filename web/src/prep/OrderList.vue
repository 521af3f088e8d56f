<script setup lang="ts">
import Button from 'primevue/button'
import type { CutPrep, CutView, Order } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import { clock, date } from '../ui/time'
import { figure, grams, ounces } from './dose'

/** What goes on or into one cut, in order, each marked when it is done. */
const { mine, sameArm } = defineProps<{ mine: CutPrep; cut: CutView; sameArm: CutView[] }>()
const emit = defineEmits<{ mark: [Order, CutView[]] }>()
const { shut } = useThisTrial()
const markOf = (o: Order) => mine.marks.find((m) => m.dose === o.key)
const rest = (o: Order) => o.numbers.slice(1)
</script>

<template>
  <ol class="orders">
    <li v-for="(o, i) in mine.orders" :key="o.key" class="order" :class="{ done: markOf(o) }">
      <KeyCap class="cap">{{ i + 1 }}</KeyCap>
      <div class="main">
        <span class="huge">{{ o.numbers[0] ? figure(o.numbers[0]) : '' }}</span>
        <span v-if="o.numbers[0]" class="num soot oz">{{ ounces(o.numbers[0]) }}</span>
        <b class="what">{{ o.name }}{{ o.salted ? `, ${o.salted}` : '' }}</b>
        <span class="small soot">{{ o.kind }}</span>
      </div>
      <p class="rest">
        <span v-for="n in rest(o)" :key="n.label"
          ><span class="soot">{{ n.label }}</span> <b class="num">{{ figure(n) }}</b></span
        >
      </p>
      <p v-if="o.lines.length" class="rest">
        <span v-for="l in o.lines" :key="l.name"
          ><b class="num">{{ grams(l.g) }}</b> {{ l.name }}</span
        >
      </p>
      <p v-if="o.caution" class="small caution">{{ o.caution }}</p>
      <div class="acts">
        <Button
          :label="markOf(o) ? 'Take back' : 'Done'"
          :outlined="!!markOf(o)"
          :disabled="shut"
          :data-testid="`done-${i}`"
          @click="emit('mark', o, [cut])"
        />
        <span v-if="markOf(o)" class="small check" role="status"
          >{{ markOf(o)!.by }}, {{ date(markOf(o)!.at) }} {{ clock(markOf(o)!.at) }}</span
        >
        <Button
          v-else-if="sameArm.length > 1"
          :label="`Done to all ${sameArm.length} of this arm`"
          size="small"
          text
          :disabled="shut"
          @click="emit('mark', o, sameArm)"
        />
      </div>
    </li>
  </ol>
</template>

<style scoped>
.huge {
  font: 700 31px/1.2 var(--font-num);
}
.orders {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--board);
}
.order {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr) auto;
  gap: 2px 8px;
  align-items: center;
  padding: 12px 16px 12px 12px;
  border-top: var(--line) solid var(--edge);
}
.order.done {
  background: var(--trough);
}
.cap {
  justify-self: start;
}
.main {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 10px;
}
.what {
  font-size: 19px;
}
.rest,
.caution {
  grid-column: 2;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
}
.caution {
  color: var(--watch);
}
.acts {
  grid-column: 3;
  grid-row: 1 / span 3;
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 4px;
}
@media (max-width: 900px) {
  .order {
    grid-template-columns: 36px minmax(0, 1fr);
  }
  .acts {
    grid-column: 2;
    grid-row: auto;
    align-items: flex-start;
  }
}
</style>
