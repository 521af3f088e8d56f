<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { Coming, CookView, Outlook } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { tens } from '../plan/tasks'
import { clock } from '../ui/time'
import { degrees, sentence } from '../ui/units'
import { system } from '../ui/settings'

/** When each cut will be done, how sure that is, and what foil would change. */
const { cook } = defineProps<{ cook: CookView }>()
const { trial, armOf } = useThisTrial()
const { data, isFetching } = useQuery({
  queryKey: computed(() => ['forecast', cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/forecast', { params: { path: { id: cook.id } } })),
  refetchInterval: () => Math.max(5_000, 60_000 / Math.sqrt(cook.rate)),
})
const rows = computed(() =>
  (data.value ?? [])
    .map((o) => ({ o, cut: trial.value.cuts.find((c) => c.id === o.cut_id)! }))
    .filter((r) => r.cut)
    .sort((a, b) => armOf(a.cut) - armOf(b.cut) || a.cut.name.localeCompare(b.cut.name)),
)
const percent = (v: number) => Math.round(v * 100)
const minutes = (o: Outlook) => (Date.parse(o.done!.middle) - Date.parse(o.wrapped!.middle)) / 60_000
function span(m: number) {
  const near = m < 90 ? Math.round(m / 5) * 5 : Math.round(m / 10) * 10
  if (near < 90) return `${near} min`
  return near % 60 ? `${Math.floor(near / 60)} h ${near % 60} min` : `${near / 60} h`
}
const sure = (c: Coming) => (c.reached < 0.5 ? 'may not get there' : '')
</script>

<template>
  <section v-if="rows.length" class="page outlook" data-testid="outlook">
    <div class="row">
      <h2>When will it be done?</h2>
      <span v-if="isFetching" class="small soot" role="status">looking ahead</span>
    </div>
    <div class="scroll-x">
      <table>
        <thead>
          <tr>
            <th>Cut</th>
            <th class="right">At</th>
            <th class="right">Forecast</th>
            <th>8 times in 10</th>
            <th class="right">By the table</th>
            <th class="right">Loses</th>
            <th>In foil from now</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ o, cut } in rows" :key="o.cut_id">
            <td>
              <span class="row who"
                ><ArmToken v-if="armOf(cut) >= 0" :place="armOf(cut)" :size="22" />
                <b class="num">{{ cut.name }}</b></span
              >
            </td>
            <td class="num right">{{ degrees(o.target_c) }} {{ system }}</td>
            <template v-if="o.done">
              <td class="num right lead">{{ clock(o.done.middle) }}</td>
              <td class="num">{{ clock(o.done.low) }} to {{ clock(o.done.high) }} {{ sure(o.done) }}</td>
              <td class="num right">{{ tens(o.done.by_table) }}</td>
              <td class="num right">{{ percent(o.done.loss) }} %</td>
              <td>
                <template v-if="o.wrapped"
                  ><b class="num">{{ clock(o.wrapped.middle) }}</b
                  >, {{ span(minutes(o)) }} sooner, loses
                  <span class="num">{{ percent(o.wrapped.loss) }} %</span></template
                ><span v-else class="soot">wrapped</span>
              </td>
            </template>
            <td v-else colspan="5" class="soot">No forecast: {{ o.missing }}.</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="{ o, cut } in rows.filter((r) => r.o.changed)" :key="`c${o.cut_id}`" class="small" data-testid="changed">
      <b class="num">{{ cut.name }}</b> {{ sentence(o.changed) }}
    </p>
    <p v-for="{ o, cut } in rows.filter((r) => r.o.doubts.length)" :key="`d${o.cut_id}`" class="warn">
      <b>{{ cut.name }}</b> {{ o.doubts.join(' ') }}
    </p>
    <p class="small soot">
      From a model of the cut fitted to this log. It is no evidence that meat is safe: measure the coldest point.
    </p>
  </section>
</template>

<style scoped>
.outlook {
  width: 100%;
  padding-top: 12px;
  padding-bottom: 12px;
}
.lead {
  font-size: 20px;
  font-weight: 700;
}
.who {
  flex-wrap: nowrap;
  gap: 8px;
}
</style>
