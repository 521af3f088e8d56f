<script setup lang="ts">
import type { RecordOfTrial } from '../api/schema.gen'
import { fixed } from '../ui/units'

/** Trial by trial: how kind, how much in the order of the others, how well repeated, what the first sample gets. */
defineProps<{ trials: RecordOfTrial[] }>()
const of = (v: number | null, digits = 1) => (v === null ? '–' : (v > 0 ? '+' : '') + fixed(v, digits))
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>Trial</th>
        <th title="points over what the others gave the same samples">Kinder by</th>
        <th title="rank correlation with the others, 1 is the same order">Agrees</th>
        <th title="spread of one score, from hidden twins">Repeats within</th>
        <th title="the first sample of a plate over the later ones">First sample</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="t in trials" :key="t.trial_id">
        <td>
          {{ t.question }}<br /><span class="soot small">{{ t.said }}</span>
        </td>
        <td class="num">{{ of(t.leans) }}</td>
        <td class="num">{{ t.agrees === null ? '–' : fixed(t.agrees, 1) }}</td>
        <td class="num">{{ t.repeats === null ? '–' : fixed(t.repeats, 1) }}</td>
        <td class="num">{{ of(t.first) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td,
th {
  padding: 6px 16px 6px 0;
  vertical-align: top;
}
</style>
