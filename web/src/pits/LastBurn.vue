<script setup lang="ts">
import { computed } from 'vue'
import type { BurnView } from '../api/schema.gen'
import { date } from '../ui/time'
import { difference } from '../ui/units'
import BurnChart from './BurnChart.vue'
import HeatMap from './HeatMap.vue'

/** What the last burn of a pit tells, numbers first. */
const { burn } = defineProps<{ burn: BurnView; columns: number }>()
/** One probe alone makes no map. */
const read = computed(() => (burn.told?.places ?? 0) > 1)
const middle = computed(() => burn.told?.points.find((p) => p.point === burn.told?.middle))
const rows = computed(() => {
  const t = burn.told
  if (!t) return []
  const out: [string, string][] = []
  const minutes = (v: number | null | undefined) => (v === null || v === undefined ? null : `${Math.round(v)} min`)
  const degrees = (v: number | null | undefined) => (v === null || v === undefined ? null : difference(v))
  const say = (what: string, v: string | null) => v !== null && out.push([what, v])
  say('Warm after', minutes(t.warm_up_min))
  say('Plan lights before', minutes(t.plan_lead_min))
  const share = middle.value?.share_in_band
  if (typeof share === 'number') say('Time in the band', `${Math.round(100 * share)} %`)
  say('Swing', degrees(middle.value?.largest_swing_c))
  say('Across the grate', degrees(t.spread_c))
  say('Dial less grate', degrees(t.dial_minus_grate_c))
  say('Refuel about every', minutes(t.refuel_min))
  return out
})
</script>

<template>
  <section class="burn" data-testid="last-burn">
    <h3>
      Last burn, {{ date(burn.lit) }}<span v-if="burn.setup" class="soot">, {{ burn.setup }}</span>
    </h3>
    <p v-if="!burn.told" class="small soot">{{ burn.missing }}</p>
    <BurnChart
      v-if="burn.told"
      :traces="burn.traces"
      :told="burn.told"
      :set-c="burn.set_c"
      :minutes="Math.max(30, burn.told.to_min)"
      :height="150"
    />
    <HeatMap v-if="burn.told && read" :spots="burn.map" :columns="columns" small />
    <dl v-if="burn.told">
      <div v-for="[k, v] in rows" :key="k">
        <dt>{{ k }}</dt>
        <dd class="num">{{ v }}</dd>
      </div>
    </dl>
    <p class="small soot">
      {{ burn.meat ? 'With meat in it' : 'Without meat' }}:
      <RouterLink :to="`/trials/${burn.trial_id}/fire`">{{ burn.question }}</RouterLink>
    </p>
  </section>
</template>

<style scoped>
.burn {
  margin-top: 8px;
  border-top: var(--line-strong) solid var(--ink);
  padding-top: 6px;
}
h3 {
  font-size: 16px;
}
dl {
  margin: 4px 0;
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 2px 0;
  border-bottom: var(--line) solid var(--grain);
}
dd {
  margin: 0;
  font-weight: 700;
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
