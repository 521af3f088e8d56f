<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { fixed, poundKg, weight } from '../ui/units'
import { weights } from '../ui/settings'

/** Of every arm: from what was bought to what is eaten, all one length; its cuts are added up. */
const { trial, armOf } = useThisTrial()
const stages = ['bought', 'trimmed', 'off', 'rested', 'edible'] as const
interface Part {
  key: string
  name: string
  share: number
  likely: boolean
}
const bars = computed(() =>
  trial.value.ask.arms.map((a, place) => {
    const cuts = trial.value.cuts.filter((c) => armOf(c) === place)
    // Only cuts that were weighed at both ends of a step count in it, on both sides.
    const step = (from: string, to: string) => {
      let [i, o, n] = [0, 0, 0]
      for (const c of cuts) {
        const [x, y] = [weighingAt(c, from), weighingAt(c, to)]
        if (x && y) [i, o, n] = [i + x.kg, o + y.kg, n + 1]
      }
      return n ? { left: o / i, all: n === cuts.length } : null
    }
    const first = cuts.some((c) => weighingAt(c, 'bought')) ? 'bought' : 'trimmed'
    const parts: Part[] = []
    let left = 1
    const lost = (key: string, name: string, s: { left: number; all: boolean } | null) => {
      if (!s) return
      parts.push({ key, name, share: left * Math.max(0, 1 - s.left), likely: !s.all })
      left *= s.left
    }
    if (first === 'bought') lost('trim', 'trim', step('bought', 'trimmed'))
    lost('cook', 'cooked away', step('trimmed', 'off'))
    lost('rest', 'rest', step('off', 'rested'))
    const whole = cuts.some((c) => weighingAt(c, 'rested')) ? 'rested' : 'off'
    const eaten = step(whole, 'edible')
    const thrown = cuts.reduce((s, c) => s + c.shares.filter((x) => x.why).reduce((t, x) => t + x.kg, 0), 0)
    const bones = cuts.reduce(
      (s, c) => s + c.shares.filter((x) => x.share === 'bones').reduce((t, x) => t + x.kg, 0),
      0,
    )
    if (eaten) {
      const away = left * Math.max(0, 1 - eaten.left)
      const known = thrown + bones
      if (bones > 0) parts.push({ key: 'bones', name: 'bones', share: (away * bones) / known, likely: !eaten.all })
      if (thrown > 0) parts.push({ key: 'thrown', name: 'thrown', share: (away * thrown) / known, likely: !eaten.all })
      if (!known) parts.push({ key: 'bones', name: 'bones and thrown', share: away, likely: !eaten.all })
      left *= eaten.left
    }
    parts.push({ key: 'left', name: eaten ? 'edible' : 'left', share: left, likely: !eaten?.all })
    const bought = cuts.reduce((s, c) => s + (weighingAt(c, first)?.kg ?? 0), 0)
    const m = trial.value.arm_accounts[place]?.edible_yield ?? trial.value.arm_accounts[place]?.cooked_yield_rested
    return {
      arm: a,
      place,
      parts,
      bought,
      m,
      weighed: stages.some((s) => s !== 'trimmed' && cuts.some((c) => weighingAt(c, s))),
    }
  }),
)
const { data: costs } = useQuery({
  queryKey: computed(() => [
    'costs',
    trial.value.id,
    trial.value.cuts.flatMap((c) => c.weighings.map((w) => w.id)).join(),
  ]),
  queryFn: () => ok(api.GET('/api/trials/{id}/costs', { params: { path: { id: trial.value.id } } })),
})
/** What an arm's edible weight comes to, all its cuts together; null while something has no price. */
const cost = (place: number) => {
  const of = (costs.value ?? []).filter((k) => trial.value.cuts.some((c) => c.id === k.cut_id && armOf(c) === place))
  const known = of.filter((k) => typeof k.cents_per_edible_kg === 'number')
  if (!known.length) return null
  const kg = known.reduce((s, k) => s + (k.edible_kg ?? 0), 0)
  const cents = known.reduce((s, k) => s + k.total_cents, 0)
  return (cents / kg / 100) * (weights.value === 'lb' ? poundKg : 1)
}
const percent = (p: Part) => Math.round(100 * p.share)
</script>

<template>
  <section v-if="bars.some((b) => b.weighed)" class="went" data-testid="where-it-went">
    <h2>Where it went</h2>
    <div v-for="b in bars" :key="b.arm.id" class="bar-row">
      <span class="who"
        ><ArmToken :place="b.place" :size="22" /><b class="num">{{ b.arm.tag }}</b>
        <span class="small soot">{{ b.bought ? weight(b.bought) : '' }}</span></span
      >
      <div class="bar" :style="{ '--c': `var(--arm${b.place + 1})` }">
        <span
          v-for="p in b.parts"
          :key="p.key"
          :class="[p.key, { likely: p.likely }]"
          :style="{ width: `${100 * p.share}%` }"
          :title="`${p.name} ${percent(p)} %`"
          ><i v-if="p.share > 0.03" class="num">{{ percent(p) }}</i
          ><em v-if="p.share > 0.12" class="small">{{ p.name }}</em></span
        >
      </div>
      <span class="num figure">{{ b.m ? `${fixed(100 * b.m.value, 1)} %` : '' }}</span>
      <span class="num soot small">{{ b.m ? `± ${fixed(200 * b.m.u, 1)}` : '' }}</span>
      <span class="small cost">{{
        cost(b.place) === null ? '' : `${fixed(cost(b.place)!, 2)} a ${weights === 'lb' ? 'lb' : 'kg'} edible`
      }}</span>
    </div>
  </section>
</template>

<style scoped>
.went {
  padding: 8px 12px 12px;
  background: var(--trough);
  border-top: var(--line-strong) solid var(--ink);
}
h2 {
  font-size: 18px;
  margin: 0 0 4px;
}
.bar-row {
  display: grid;
  grid-template-columns: 190px minmax(120px, 1fr) 74px 52px 120px;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}
.who {
  display: flex;
  gap: 6px;
  align-items: center;
}
.bar {
  display: flex;
  height: 24px;
  border: 2px solid var(--ink);
}
.bar span {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: center;
  overflow: hidden;
  background: var(--lime);
  border-right: 1px solid var(--ink);
  white-space: nowrap;
}
.bar span:last-child {
  border-right: 0;
}
.bar i {
  font-style: normal;
  font-weight: 700;
}
.bar em {
  font-style: normal;
}
.bar .left {
  background: color-mix(in srgb, var(--c) 22%, var(--board));
}
.bar .thrown {
  background: var(--edge);
}
.bar .likely {
  opacity: 0.8;
  border-style: dashed;
}
.figure {
  font-size: 18px;
  font-weight: 700;
}
@media (max-width: 700px) {
  .bar-row {
    grid-template-columns: minmax(0, 1fr) 74px 52px;
  }
  .bar {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  .cost {
    grid-column: 1 / -1;
  }
}
</style>
