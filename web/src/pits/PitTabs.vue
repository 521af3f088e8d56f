<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { date } from '../ui/time'
import { usePits } from './pits'

/** What the barn has, each with its one fact; here is the address of the one that is shown. */
const { here = '' } = defineProps<{ here?: string }>()
const { pits } = usePits()
const { data: burns } = useQuery({ queryKey: ['burns'], queryFn: () => ok(api.GET('/api/burns')) })
const { data: holders } = useQuery({ queryKey: ['holders'], queryFn: () => ok(api.GET('/api/holders')) })
const tabs = computed(() => [
  ...(pits.value ?? []).map((p) => {
    const b = burns.value?.find((x) => x.pit_id === p.id)
    const trial = p.used?.trial_id ?? (b?.arm_id != null ? b.trial_id : null)
    return {
      key: `pit ${p.id}`,
      to: trial ? `/trials/${trial}/settle` : '/pits',
      name: p.name,
      fact: p.used
        ? `used as ${p.used.tag}, ${date(p.used.last)}`
        : !b
          ? 'never lit yet'
          : `${trial ? 'set-ups ' : ''}burned ${date(b.lit)}`,
    }
  }),
  ...(holders.value ?? []).map((h) => ({
    key: `holder ${h.id}`,
    to: `/pits/holders/${h.id}`,
    name: h.name,
    fact: h.read_to
      ? `${Date.parse(h.read_to) < Date.now() ? 'calibration ended' : 'calibrated to'} ${date(h.read_to)}`
      : 'not calibrated',
  })),
])
</script>

<template>
  <nav class="tabs no-print" aria-label="Pits and holders">
    <RouterLink v-for="t in tabs" :key="t.key" :to="t.to" :class="{ here: t.key === here }">
      <b>{{ t.name }}</b>
      <span>{{ t.fact }}</span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  overflow-x: auto;
  background: var(--board);
  border-bottom: var(--line-strong) solid var(--ink);
  min-height: 48px;
}
a {
  display: flex;
  flex-direction: column;
  justify-content: center;
  flex: none;
  min-width: 150px;
  padding: 3px 16px;
  border-right: var(--line) solid var(--grain);
  text-decoration: none;
  white-space: nowrap;
}
a.here {
  background: var(--trough);
}
b {
  font: 700 16px var(--font-head);
}
span {
  font-size: 13px;
  color: var(--soot);
}
</style>
