<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { Clock, CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { span } from '../ui/time'
import { sentence, temperature } from '../ui/units'

/** What is shown of each cut's safety so far: danger range, come-up, lethality, in plain words. */
const { cook } = defineProps<{ cook: CookView }>()
const { trial, armOf } = useThisTrial()
// The same clocks as in the heads of the lanes.
const { data } = useQuery({
  queryKey: computed(() => ['clocks', cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/clocks', { params: { path: { id: cook.id } } })),
})
const rows = computed(() =>
  (data.value ?? [])
    .map((k) => ({ k, cut: trial.value.cuts.find((c) => c.id === k.cut_id)! }))
    .filter((r) => r.cut)
    .sort((a, b) => armOf(a.cut) - armOf(b.cut) || a.cut.name.localeCompare(b.cut.name)),
)
const hours = (s: number) => span(s / 3600)
function comeUp(k: Clock): string {
  const c = k.come_up
  if (!c.known) return 'not begun'
  return `${hours(c.for_s)}${c.done ? '' : ' so far'}${c.late ? ', over 6 h' : ''}`
}
/** Time under the holding limit once it was cooked; what nobody measured is said apart. */
function after(k: Clock): string {
  const a = k.after
  if (!a.known) return ''
  return a.unread_s > 1800 ? `${hours(a.under_s)}, ${hours(a.unread_s)} unread` : hours(a.under_s)
}
function lethality(k: Clock): string {
  if (k.lethality === null) return 'no table'
  return k.lethality >= 1 ? 'reached' : `${Math.floor(k.lethality * 100)} %`
}
</script>

<template>
  <section v-if="rows.length" class="page safety" data-testid="safety">
    <h2>Is it safe so far?</h2>
    <div class="scroll-x">
      <table>
        <thead>
          <tr>
            <th>Cut</th>
            <th class="right">Under {{ temperature(rows[0]!.k.to_c) }}</th>
            <th class="right">{{ temperature(10) }} to {{ temperature(54.4) }}</th>
            <th class="right">Lethality</th>
            <th class="right">After cooking</th>
            <th>In words</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ k, cut } in rows" :key="k.cut_id">
            <td>
              <span class="row who"
                ><ArmToken v-if="armOf(cut) >= 0" :place="armOf(cut)" :size="22" />
                <b class="num">{{ cut.name }}</b></span
              >
            </td>
            <td class="num right lead">{{ hours(k.for_s) }}</td>
            <td class="num right" :class="{ late: k.come_up.late }">{{ comeUp(k) }}</td>
            <td class="num right">{{ lethality(k) }}</td>
            <td class="num right" :class="{ late: k.after.warn }">{{ after(k) }}</td>
            <td :class="{ triangle: k.watch || (k.over && !k.passed) }">
              {{ sentence(k.words) }}{{ k.by_hand ? ' By hand readings alone.' : '' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="small soot">
      By each cut's coldest place. Under {{ temperature(60) }} from leaving the fridge: a rule of thumb of the trade, 4
      h warns and is named in the verdict. Come-up within 6 h, and lethality: USDA FSIS Cooking Guideline (Revised
      Appendix A), 2021, which assumes its humidity at the surface. After cooking under the holding limit 2 h warns and
      4 h is thrown away: FDA Food Code 2022. Check the current edition; your local code comes first. The gate's working
      stands in Rest.
    </p>
  </section>
</template>

<style scoped>
.safety {
  width: 100%;
  padding-top: 12px;
  padding-bottom: 12px;
}
.lead {
  font-size: 18px;
  font-weight: 700;
}
.late {
  color: var(--watch);
  font-weight: 700;
}
.who {
  flex-wrap: nowrap;
  gap: 8px;
}
</style>
