<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { span } from '../ui/time'
import { degrees, sentence, signed, temperature } from '../ui/units'
import { system } from '../ui/settings'

/** What each arm was given so far, and what sets them apart while it can be mended. */
const { cook } = defineProps<{ cook: CookView }>()
const { trial } = useThisTrial()
const { data } = useQuery({
  queryKey: computed(() => ['so-far', cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/so-far', { params: { path: { id: cook.id } } })),
  refetchInterval: 30_000,
})
/** The highest wet bulb that bare meat lies under; 0 where none was read. */
const wet = computed(() => Math.max(0, ...(data.value?.arms ?? []).flatMap((a) => a.air.map((w) => w.wet_bulb_c))))
const over = (c: number, set: number) => signed(Math.round(system.value === 'F' ? (c - set) * 1.8 : c - set), 0)
</script>

<template>
  <section v-if="data?.arms.length" class="page sofar" data-testid="so-far">
    <h2>Are the arms still alike?</h2>
    <p v-for="f in data.flags" :key="f" class="flag triangle" data-testid="uneven">{{ sentence(f) }}</p>
    <div class="scroll-x">
      <table>
        <thead>
          <tr>
            <th>Arm</th>
            <th class="right">On the fire</th>
            <th class="right">Pit, mean</th>
            <th class="right">From set</th>
            <th class="right">Last hour</th>
            <th v-if="wet" class="right">Wet bulb</th>
            <th class="right">Spritzes a cut</th>
            <th class="right">Hands</th>
            <th class="right">Of that 23 to 6</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in data.arms" :key="a.arm">
            <td>
              <span class="row who"
                ><ArmToken :place="a.arm" :size="22" /> <b class="num">{{ trial.ask.arms[a.arm]!.tag }}</b></span
              >
            </td>
            <td class="num right lead">{{ span(a.hours) }}</td>
            <td class="num right lead">{{ a.mean_c === null ? 'no probe' : temperature(a.mean_c) }}</td>
            <td class="num right">{{ a.mean_c === null ? '' : over(a.mean_c, a.set_c) }}</td>
            <td class="num right">{{ a.last_c === null ? '' : degrees(a.last_c) }}</td>
            <td v-if="wet" class="num right">
              <span v-for="w in a.air" :key="w.stretch" class="air"
                >{{ a.air.length > 1 ? w.stretch : '' }} {{ temperature(w.wet_bulb_c)
                }}{{ w.rh === null ? '' : `, ${Math.round(100 * w.rh)} %` }}</span
              >
            </td>
            <td class="num right">{{ Math.round(a.spritzes * 10) / 10 }}</td>
            <td class="num right">{{ Math.round(a.hands_min) }} min</td>
            <td class="num right">{{ a.night_min ? `${Math.round(a.night_min)} min` : '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="wet" class="small" data-testid="stalls">
      While it sweats, a bare surface stays at the wet bulb: a stall comes to rest near {{ temperature(wet) }}, and
      above it as the crust dries. Humidity is at most what is said: in still air a wick reads high.
    </p>
    <p class="small soot">
      Hands are counted from the log, by a usual time for each act unless somebody gave another, and shared by the cuts
      of a press.
    </p>
  </section>
</template>

<style scoped>
.sofar {
  width: 100%;
  padding-top: 12px;
  padding-bottom: 12px;
}
.flag {
  background: var(--watch-wash);
  color: var(--watch);
  padding: 8px 12px;
  margin: 8px 0;
  font-weight: 700;
}
.air {
  display: block;
}
.lead {
  font-size: 18px;
  font-weight: 700;
}
.who {
  flex-wrap: nowrap;
  gap: 8px;
}
</style>
