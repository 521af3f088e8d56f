<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { clock } from '../ui/time'
import { difference, sentence, temperature } from '../ui/units'

/** What a burn without meat tells so far, and the sentence of its set-up. */
const { cook } = defineProps<{ cook: CookView }>()
const { trial } = useThisTrial()
const { data } = useQuery({
  queryKey: computed(() => ['set-ups', trial.value.id]),
  queryFn: () => ok(api.GET('/api/trials/{id}/set-ups', { params: { path: { id: trial.value.id } } })),
  refetchInterval: 10_000,
})
const setUp = computed(() => data.value?.set_ups.find((s) => s.burns.some((b) => b.cook_id === cook.id)))
const burn = computed(() => setUp.value?.burns.find((b) => b.cook_id === cook.id))
const facts = computed(() => {
  const t = burn.value?.told
  if (!t) return []
  const out: [string, string][] = []
  out.push(['Hot after', t.warm_up_min === null ? 'not yet' : `${Math.round(t.warm_up_min)} min`])
  if (t.spread_c !== null) out.push(['Across the grate', difference(t.spread_c)])
  if (t.dial_minus_grate_c !== null) out.push(['Dial less grate', difference(t.dial_minus_grate_c)])
  if (t.refuel_min !== null) out.push(['Refuel about every', `${Math.round(t.refuel_min)} min`])
  if (t.wet_bulb_c !== null) out.push(['Wet bulb', temperature(t.wet_bulb_c)])
  if (t.rh !== null) out.push(['Humidity, at most', `${Math.round(100 * t.rh)} %`])
  return out
})
const at = (s: number) => clock(Date.parse(burn.value!.lit!) + s * 1000)
</script>

<template>
  <section v-if="burn" class="page burn" data-testid="burn-so-far">
    <h2>What the burn tells so far</h2>
    <p v-if="!burn.told">{{ burn.missing }}</p>
    <template v-else>
      <p>
        <b>{{ setUp!.sentence ? sentence(setUp!.sentence) : '' }}</b>
      </p>
      <dl>
        <div v-for="[k, v] in facts" :key="k">
          <dt>{{ k }}</dt>
          <dd class="num">{{ v }}</dd>
        </div>
      </dl>
      <p v-for="r in burn.told.responses" :key="r.s" class="small">
        <b class="num">{{ at(r.s) }}</b> {{ r.words }}
      </p>
    </template>
    <RouterLink class="on" :to="`/trials/${trial.id}/settle`">Beside the other set-up</RouterLink>
  </section>
</template>

<style scoped>
.burn {
  width: 100%;
  padding-top: 12px;
  padding-bottom: 12px;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
  margin: 8px 0;
}
dt {
  font-size: 13px;
  color: var(--soot);
}
dd {
  margin: 0;
  font-size: 20px;
  font-weight: 700;
}
.on {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
