<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { api, ok } from '../api/client'
import type { Arm } from '../api/schema.gen'
import { date, span } from '../ui/time'
import { fixed, toF } from '../ui/units'
import { system } from '../ui/settings'

/** Any earlier cook of the same product, its traces and yields laid over this one's. */
const props = defineProps<{ trial: number; arms: Arm[]; placeOf: (id: number) => number }>()
const { data: cooks } = useQuery({
  queryKey: computed(() => ['ghosts', props.trial]),
  queryFn: () => ok(api.GET('/api/trials/{id}/ghosts', { params: { path: { id: props.trial } } })),
})
const own = ref<number | null>(null)
const ghost = ref<number | null>(null)
const mine = computed(() => cooks.value?.cooks.filter((k) => k.trial_id === props.trial) ?? [])
const here = computed(() => own.value ?? mine.value[0]?.cook_id ?? 0)
const others = computed(() => cooks.value?.cooks.filter((k) => k.cook_id !== here.value) ?? [])
const shape = (id: () => number) =>
  useQuery({
    queryKey: computed(() => ['shape', id()]),
    queryFn: () => ok(api.GET('/api/cooks/{id}/shape', { params: { path: { id: id() } } })),
    enabled: computed(() => id() > 0),
  })
const { data: a } = shape(() => here.value)
const { data: b } = shape(() => ghost.value ?? 0)

const W = 460
const H = 210
const curves = computed(() => [
  ...(a.value?.arms ?? []).map((x) => ({ ...x, ghost: false })),
  ...(b.value?.arms ?? []).map((x) => ({ ...x, ghost: true })),
])
const most = computed(() => Math.max(4, ...curves.value.flatMap((c) => c.points.map((p) => p[0]!))))
const x = (h: number) => 38 + (h / most.value) * (W - 52)
const y = (c: number) => H - 26 - (Math.max(0, Math.min(110, c)) / 110) * (H - 40)
const path = (points: number[][]) =>
  points.map((p, i) => `${i ? 'L' : 'M'}${x(p[0]!).toFixed(1)} ${y(p[1]!).toFixed(1)}`).join('')
const colour = (c: { arm_id: number; ghost: boolean }) =>
  c.ghost ? 'var(--edge)' : `var(--arm${props.placeOf(c.arm_id) + 1})`
const label = (k: { question: string; served_at: string }) => `${date(k.served_at)}: ${k.question}`
</script>

<template>
  <div v-if="mine.length" class="stack" data-testid="ghosts">
    <div class="row">
      <Select
        v-if="mine.length > 1"
        v-model="own"
        :options="mine"
        option-value="cook_id"
        :option-label="label"
        aria-label="This trial's cook"
        :placeholder="mine[0] ? label(mine[0]) : ''"
      />
      <Select
        v-model="ghost"
        :options="others"
        option-value="cook_id"
        :option-label="label"
        placeholder="Lay an earlier cook over it"
        aria-label="An earlier cook to lay over it"
        show-clear
        data-testid="ghost"
      />
    </div>
    <svg
      v-if="curves.some((c) => c.points.length)"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      aria-label="core temperatures of the arms over the hours since they went on"
    >
      <path v-for="c in [0, 50, 100]" :key="c" :d="`M38 ${y(c)}H${W - 14}`" stroke="var(--grain)" />
      <text v-for="c in [0, 50, 100]" :key="`t${c}`" x="33" :y="y(c) + 4" text-anchor="end">
        {{ Math.round(system === 'F' ? toF(c) : c) }}
      </text>
      <text v-for="h in Math.floor(most / 2)" :key="`h${h}`" :x="x(2 * h)" :y="H - 8" text-anchor="middle">
        {{ 2 * h }} h
      </text>
      <path
        v-for="c in curves"
        :key="`${c.arm_id}${c.ghost}`"
        :d="path(c.points)"
        fill="none"
        :stroke="colour(c)"
        :stroke-width="c.ghost ? 2 : 2.5"
        :stroke-dasharray="c.ghost ? '5 4' : undefined"
      />
    </svg>
    <p v-else class="small soot">No core was logged through these cooks; their times and yields stand below.</p>
    <table>
      <thead>
        <tr>
          <th>Cook</th>
          <th>arm</th>
          <th>cuts</th>
          <th>to the pull</th>
          <th>cooked yield</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in curves" :key="`r${c.arm_id}${c.ghost}`">
          <td>{{ c.ghost ? 'earlier' : 'this one' }}</td>
          <td>
            <b>{{ c.tag }}</b>
          </td>
          <td class="num">{{ c.cuts }}</td>
          <td class="num">{{ c.hours === null ? '–' : span(c.hours) }}</td>
          <td class="num">{{ c.kept === null ? '–' : `${fixed(c.kept, 1)} %` }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 560px;
}
text {
  font: 12px var(--font-num);
  fill: var(--soot);
}
td,
th {
  padding: 3px 8px 3px 0;
}
</style>
