<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { tens } from '../plan/tasks'
import { clock } from '../ui/time'
import { sentence, signed, temperature } from '../ui/units'

/** What could be done now, side by side: when it is done then, and what that costs. */
const shown = defineModel<boolean>({ required: true })
const { cook } = defineProps<{ cook: CookView }>()
const { trial, armOf } = useThisTrial()
const { data, isFetching, error } = useQuery({
  queryKey: computed(() => ['ways', cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/ways', { params: { path: { id: cook.id } } })),
  enabled: shown,
  staleTime: 20_000,
})
const problem = computed(() => (error.value instanceof Refused ? error.value.problem : null))
const rows = computed(() =>
  (data.value ?? [])
    .map((w) => ({ ...w, cut: trial.value.cuts.find((c) => c.id === w.cut_id)! }))
    .filter((w) => w.cut)
    .sort((a, b) => armOf(a.cut) - armOf(b.cut) || a.cut.name.localeCompare(b.cut.name)),
)
const points = (is: number, was: number) => `${signed((is - was) * 100, 1)}`
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Options" :style="{ width: 'min(980px, 96vw)' }">
    <ProblemNote :problem="problem" />
    <p v-if="isFetching && !rows.length" role="status">Trying each of them on every cut.</p>
    <p v-else-if="!rows.length" class="soot">Nothing is on the fire that could be done otherwise.</p>
    <section v-for="w in rows" :key="w.cut_id" class="cut" data-testid="ways">
      <h3 class="row">
        <ArmToken v-if="armOf(w.cut) >= 0" :place="armOf(w.cut)" :size="24" />
        <span class="num">{{ w.cut.name }}</span>
        <span class="soot small">to {{ temperature(w.target_c) }}</span>
      </h3>
      <p v-if="w.missing" class="soot">No forecast: {{ sentence(w.missing) }}</p>
      <div v-else class="scroll-x">
        <table>
          <thead>
            <tr>
              <th>Do</th>
              <th class="right">Forecast</th>
              <th>8 times in 10</th>
              <th class="right">By the table</th>
              <th class="right">Loses</th>
              <th class="right">Dries by</th>
              <th>What it breaks</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(o, n) in w.ways" :key="o.name">
              <td>
                <b>{{ sentence(o.name) }}</b>
              </td>
              <template v-if="o.done">
                <td class="num right lead">{{ clock(o.done.middle) }}</td>
                <td class="num">{{ clock(o.done.low) }} to {{ clock(o.done.high) }}</td>
                <td class="num right">{{ tens(o.done.by_table) }}</td>
                <td class="num right">
                  {{ Math.round(o.done.loss * 100) }} %<span v-if="n" class="small soot by">{{
                    points(o.done.loss, w.ways[0]!.done!.loss)
                  }}</span>
                </td>
                <td class="num right">
                  {{ Math.round(o.done.dryness * 100) }} %<span v-if="n" class="small soot by">{{
                    points(o.done.dryness, w.ways[0]!.done!.dryness)
                  }}</span>
                </td>
              </template>
              <td class="small breaks">{{ o.spoils }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
    <p class="small soot">
      Loses is of its weight; dries by is the share of its water that is gone. From a model fitted to this log, and no
      evidence that meat is safe.
    </p>
  </Dialog>
</template>

<style scoped>
.cut {
  margin-bottom: 16px;
}
.by {
  margin-left: 6px;
}
td.breaks {
  white-space: normal;
  min-width: 200px;
}
.lead {
  font-size: 20px;
  font-weight: 700;
}
</style>
