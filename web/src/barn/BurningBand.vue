<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { Burning, TrialLine } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import { clock } from '../ui/time'
import { degrees } from '../ui/units'
import FireNews from './FireNews.vue'
import { system } from '../ui/settings'

/** What burns now: a band per cook with the pit and the coldest core of each arm. */
const { trials } = defineProps<{ trials: TrialLine[] }>()
const { data } = useQuery({
  queryKey: ['burning'],
  queryFn: () => ok(api.GET('/api/burning')),
})
const fires = computed(() => {
  const byCook = new Map<number, Burning[]>()
  for (const b of data.value ?? []) byCook.set(b.cook_id, [...(byCook.get(b.cook_id) ?? []), b])
  return [...byCook.values()].flatMap((rows) => {
    const trial = trials.find((t) => t.id === rows[0]!.trial_id)
    if (!trial) return []
    const arms = trial.arms.map((arm, place) => ({
      arm,
      place,
      cuts: rows.filter((r) => r.arm_id === arm.id).sort((a, b) => a.c - b.c),
    }))
    return [
      {
        trial,
        id: rows[0]!.cook_id,
        pits: rows.filter((r) => r.pit_run_id !== null),
        arms: arms.filter((a) => a.cuts.length),
        at: Math.max(...rows.map((r) => Date.parse(r.at))),
      },
    ]
  })
})
</script>

<template>
  <RouterLink v-for="f in fires" :key="f.id" :to="`/trials/${f.trial.id}/fire`" class="band" data-testid="burning">
    <div class="what">
      <span class="hot">Burning now</span>
      <b>{{ f.trial.question }}</b>
      <span class="small">
        read at <span class="num">{{ clock(f.at) }}</span></span
      >
    </div>
    <div v-for="a in f.arms" :key="a.arm.id" class="arm">
      <div class="small row"><ArmToken :place="a.place" :size="22" /> {{ a.arm.tag }}</div>
      <div class="lead num">
        {{ degrees(a.cuts[0]!.c) }}<sup>{{ system }}</sup>
      </div>
      <div class="small soft">
        {{
          a.cuts.length > 1
            ? `coldest of ${a.cuts.length}: ${a.cuts[0]!.cut}, to ${degrees(a.cuts.at(-1)!.c)}`
            : a.cuts[0]!.cut
        }}
      </div>
    </div>
    <div v-for="p in f.pits" :key="p.pit_run_id!" class="arm">
      <div class="small row">{{ p.pit }}</div>
      <div class="lead num">
        {{ degrees(p.c) }}<sup>{{ system }}</sup>
      </div>
      <div class="small soft">set {{ p.set_point_c === null ? '' : degrees(p.set_point_c) }}</div>
    </div>
    <FireNews :cook="f.id" />
  </RouterLink>
</template>

<style scoped>
.band {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 32px;
  align-items: center;
  padding: 12px 16px;
  background: var(--iron);
  color: var(--on-iron);
  border-top: var(--line-strong) solid var(--ember-on-iron);
  text-decoration: none;
}
.what {
  display: flex;
  flex-direction: column;
  min-width: 200px;
  flex: 1;
}
.what b {
  font: 700 20px var(--font-head);
}
.hot {
  color: var(--ember-on-iron);
  font-weight: 700;
}
.soft {
  color: var(--on-iron-2);
}
.arm .row {
  min-height: 24px;
  gap: 6px;
}
.lead {
  font-size: 40px;
  font-weight: 700;
  line-height: 1.05;
}
.lead sup {
  font-size: 15px;
  font-weight: 400;
}
@media (max-width: 900px) {
  .what {
    flex-basis: 100%;
  }
}
</style>
