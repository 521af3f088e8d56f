<script setup lang="ts">
import { computed, ref } from 'vue'
import type { CookView, Traces } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, dateTime } from '../ui/time'
import { degrees } from '../ui/units'
import { ticks, valueAt } from './scale'
import { system } from '../ui/settings'

/** The numbers of the lanes that are in view, as a table: for ears, and for who likes it better. */
const props = defineProps<{ cook: CookView; traces: Traces; view: [number, number] }>()
const { trial, armOf } = useThisTrial()
const shown = ref(false)

const columns = computed(() =>
  props.traces.traces
    .map((t) => {
      const cut = trial.value.cuts.find((c) => c.id === t.cut_id)
      const pit = props.cook.runs.find((r) => r.id === t.pit_run_id)?.pit
      const holder = props.cook.holders.find((r) => r.id === t.holder_run_id)?.holder
      return { t, name: cut?.name ?? pit ?? holder ?? '', arm: cut ? armOf(cut) : -1 }
    })
    .filter((c) => c.name)
    .sort((a, b) => (a.arm < 0 ? 9 : a.arm) - (b.arm < 0 ? 9 : b.arm) || a.name.localeCompare(b.name)),
)
/** At most some thirty lines, at round times. */
const rows = computed(() => {
  if (!shown.value) return []
  const [from, to] = [props.view[0], Math.min(props.view[1], Date.parse(props.traces.last))]
  return ticks(from, to, 2700).map((at) => ({
    at,
    values: columns.value.map((c) => valueAt(c.t, at, 15 * 60_000)),
  }))
})
</script>

<template>
  <details class="page" data-testid="readings" @toggle="(e) => (shown = (e.target as HTMLDetailsElement).open)">
    <summary>Table of readings, {{ system }}</summary>
    <div v-if="shown" class="scroll-x" tabindex="0" role="region" aria-label="Table of readings">
      <table>
        <caption class="visually-hidden">
          Core and pit temperatures from
          {{
            dateTime(view[0])
          }}
          in
          {{
            system
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">At</th>
            <th v-for="c in columns" :key="c.t.probe_id" scope="col" class="right">
              <ArmToken v-if="c.arm >= 0" :place="c.arm" :size="16" />
              <span v-if="c.arm >= 0" class="visually-hidden">{{ trial.ask.arms[c.arm]!.tag }}</span> {{ c.name }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.at">
            <th scope="row" class="num">{{ clock(r.at) }}</th>
            <td v-for="(v, i) in r.values" :key="i" class="num right">{{ v === null ? '' : degrees(v) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </details>
</template>
