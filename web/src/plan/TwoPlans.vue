<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { dateTime, fromLocal } from '../ui/time'
import { differs } from './differs'
import type { Draft } from './draft'
import { spanText } from './rail'

/** A plan that was made while somebody else kept another: both, where they differ. */
const { mine, theirs, runs } = defineProps<{ mine: Draft; theirs: Draft; runs: CookView['runs'] }>()
const emit = defineEmits<{ mine: []; theirs: [] }>()
const { trial } = useThisTrial()
const { data: pits } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
const rows = computed(() =>
  differs(mine, theirs, {
    pit: (id) => pits.value?.find((p) => p.id === id)?.name ?? runs.find((r) => r.pit_id === id)?.pit ?? '',
    cut: (id) => trial.value.cuts.find((c) => c.id === id)?.name ?? '',
    arm: (id) => trial.value.ask.arms.find((a) => a.id === id)?.tag ?? '',
    when: (local) => (local ? dateTime(fromLocal(local)) : ''),
    span: spanText,
  }),
)
</script>

<template>
  <section class="both" data-testid="two-plans">
    <table v-if="rows.length">
      <thead>
        <tr>
          <th scope="col">What differs</th>
          <th scope="col">Yours, not saved</th>
          <th scope="col">As it stands</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.what">
          <th scope="row">{{ r.what }}</th>
          <td>{{ r.mine }}</td>
          <td>{{ r.theirs }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else>Both plans are the same.</p>
    <div class="row">
      <Button label="Save mine over it" outlined data-testid="keep-mine" @click="emit('mine')" />
      <Button label="Take what stands" data-testid="take-theirs" @click="emit('theirs')" />
    </div>
  </section>
</template>

<style scoped>
.both {
  margin: 8px 16px;
  padding: 10px 16px 14px;
  background: var(--watch-wash);
  overflow-x: auto;
}
table {
  margin-bottom: 12px;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 6px 16px 6px 0;
}
</style>
