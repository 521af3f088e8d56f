<script setup lang="ts">
import Select from 'primevue/select'
import { computed } from 'vue'
import type { Comparison, ComparedRow } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import { difference, fixed, temperature, weight } from '../ui/units'

/** Two set-ups in numbers, side by side, with how far they lie apart. */
const { pair, places } = defineProps<{ pair: Comparison; places: number[] }>()
/** To either side of the set point, C; 0 is the usual. */
const band = defineModel<number>({ required: true })
const bands = computed(() =>
  [5, 10, 0, 25, 40].map((f) => ({ label: `±${difference((f || 15) / 1.8)}`, value: f / 1.8 })),
)
function value(r: ComparedRow, v: number | null, sign = false): string {
  if (v === null) return '–'
  const lead = sign ? (v > 0 ? '+' : v < 0 ? '−' : '') : ''
  const a = sign ? Math.abs(v) : v
  if (r.unit === 'share') return `${lead}${Math.round(100 * a)} %`
  if (r.unit === 'dC') return `${lead || (v < 0 ? '−' : '')}${difference(Math.abs(a))}`
  if (r.unit === 'C') return sign ? `${lead}${difference(a)}` : temperature(a)
  if (r.unit === 'kg') return `${lead}${weight(a)}`
  return `${lead}${Math.round(a)} ${r.unit}`
}
const rows = computed(() => pair.numbers.filter((r) => r.a !== null || r.b !== null))
const interval = (r: ComparedRow) =>
  r.low_90 === null ? '' : `${value(r, r.low_90, true)} to ${value(r, r.high_90, true)}`
</script>

<template>
  <table data-testid="set-up-numbers">
    <thead>
      <tr>
        <th>
          From lit to {{ fixed(pair.span_min, 0) }} min
          <Select
            v-model="band"
            :options="bands"
            option-label="label"
            option-value="value"
            size="small"
            aria-label="Band to either side of the set point"
            class="no-print"
          />
        </th>
        <th v-for="(tag, i) in [pair.a.tag, pair.b.tag]" :key="tag" class="right">
          <span class="row nowrap ends"><ArmToken :place="places[i]!" :size="20" /> {{ tag }}</span>
        </th>
        <th class="right">{{ pair.a.tag }} less {{ pair.b.tag }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rows" :key="r.key">
        <td>{{ r.name }}</td>
        <td class="num right">
          <b>{{ value(r, r.a) }}</b>
        </td>
        <td class="num right">
          <b>{{ value(r, r.b) }}</b>
        </td>
        <td class="num right">
          {{ value(r, r.difference, true) }} <span v-if="interval(r)" class="small">({{ interval(r) }})</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td,
th {
  padding-top: 3px;
  padding-bottom: 3px;
}
td b {
  font-size: 17px;
}
.ends {
  justify-content: flex-end;
  gap: 6px;
}
.nowrap {
  flex-wrap: nowrap;
}
</style>
