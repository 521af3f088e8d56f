<script setup lang="ts">
import { computed } from 'vue'
import type { Arm, DeliveredFact } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import { span } from '../ui/time'
import { fixed, temperature } from '../ui/units'

/** Delivered against planned: broken promises first; what nobody did is left out, unless it was to be equal. */
const props = defineProps<{ facts: DeliveredFact[]; arms: Arm[] }>()
const rows = computed(() =>
  props.facts
    .filter((d) => d.promised || d.values.some((v) => v !== 0))
    .sort((a, b) => Number(b.promised) - Number(a.promised) || Number(b.apart) - Number(a.apart)),
)
const kept = computed(() => rows.value.filter((d) => !d.apart).length)
const broken = computed(() => rows.value.filter((d) => d.promised).length)
function said(d: DeliveredFact, v: number | null) {
  if (v === null) return '–'
  if (d.unit === 'C') return temperature(v)
  if (d.unit === 'h') return span(v)
  return `${fixed(v, d.unit === '' ? 1 : 0)}${d.unit ? ` ${d.unit}` : ''}`
}
</script>

<template>
  <table class="delivered" data-testid="delivered">
    <thead>
      <tr>
        <th />
        <th v-for="(a, i) in arms" :key="a.id"><ArmToken :place="i" :size="18" /> {{ a.tag }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="d in rows" :key="d.fact" :class="{ apart: d.apart }">
        <td>
          <span :class="{ triangle: d.promised }">{{ d.name }}</span><span v-if="d.promised" class="small">
            was to be equal</span
          >
        </td>
        <td v-for="(v, i) in d.values" :key="i" class="num">{{ said(d, v) }}</td>
      </tr>
    </tbody>
  </table>
  <p class="small soot">
    {{
      broken === 0
        ? 'No promise was broken.'
        : broken === 1
          ? 'One promise was broken.'
          : `${broken} promises were broken.`
    }}
    {{ kept }} of {{ rows.length }} came out alike in every arm.
  </p>
</template>

<style scoped>
td,
th {
  padding: 3px 6px 3px 0;
}
td.num {
  white-space: nowrap;
  font-size: 14px;
  letter-spacing: -0.04em;
}
.apart td {
  color: var(--watch);
  font-weight: 700;
}
</style>
