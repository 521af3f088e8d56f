<script setup lang="ts">
import { computed } from 'vue'
import type { Spot } from '../api/schema.gen'
import { signed } from '../ui/units'
import { system } from '../ui/settings'

/** The grate from above, in degrees from set: hatched is hot, dotted cold; thin numbers are told from the places beside them. */
const { spots, columns, small } = defineProps<{ spots: Spot[]; columns: number; small?: boolean }>()
const rows = computed(() =>
  Array.from({ length: Math.ceil(spots.length / columns) }, (_, i) => spots.slice(i * columns, (i + 1) * columns)),
)
const off = (s: Spot) =>
  s.off_set_c === null ? '' : signed(Math.round(s.off_set_c * (system.value === 'F' ? 1.8 : 1)) || 0, 0)
const heat = (s: Spot) => (s.off_set_c === null || s.within_5_f ? '' : s.off_set_c > 0 ? 'hot' : 'cold')
const letters = computed(() => Array.from({ length: columns }, (_, i) => String.fromCharCode(65 + i)))
</script>

<template>
  <table class="heat" :class="{ small }">
    <thead>
      <tr>
        <th />
        <th v-for="l in letters" :key="l" class="num">{{ l }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, i) in rows" :key="i">
        <th class="num">{{ i + 1 }}</th>
        <td
          v-for="(s, n) in row"
          :key="s.name"
          :class="[heat(s), { fire: n === 0, read: s.read }]"
          :aria-label="`${s.name}: ${off(s) || 'not known'} ${system}`"
        >
          <span class="num">{{ off(s) }}</span>
        </td>
      </tr>
    </tbody>
    <tfoot>
      <tr>
        <td />
        <td :colspan="columns">
          <span class="row nowrap ends"><b>Fire end</b><span class="soot push">far end</span></span>
        </td>
      </tr>
    </tfoot>
  </table>
</template>

<style scoped>
.heat {
  width: 100%;
  max-width: 330px;
  table-layout: fixed;
}
.heat th {
  padding: 0 4px;
  text-align: center;
  border: 0;
}
.heat thead th:first-child,
.heat tbody th {
  width: 24px;
}
tbody td {
  height: 44px;
  padding: 0;
  text-align: center;
  border: 1.5px solid var(--edge);
  background: var(--board);
}
.small tbody td {
  height: 26px;
}
tbody td span {
  background: var(--board);
  padding: 0 4px;
}
.read span {
  font-weight: 700;
}
td.fire {
  border-left: 6px solid var(--ink);
}
td.hot {
  background: repeating-linear-gradient(-45deg, var(--board) 0 4px, var(--edge) 4px 6px);
}
td.cold {
  background: radial-gradient(var(--edge) 1.4px, var(--board) 1.6px) 0 0 / 8px 8px;
}
tfoot td {
  border: 0;
  padding: 2px 0 0;
  font-size: 13px;
}
.ends {
  justify-content: space-between;
}
</style>
