<script setup lang="ts">
import { computed } from 'vue'
import type { Covariate } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import ArmToken from '../ui/ArmToken.vue'
import GateLine from '../ui/GateLine.vue'
import { fixed, fraction, length, signed, weight, weightDifference } from '../ui/units'

/** Arm averages and cuts inside the gate of what is allowed. */
const { trial } = useThisTrial()
const tag = (i: number) => trial.value.ask.arms[i]!.tag
const covariates = computed(() => trial.value.balance.covariates.filter((c) => c.arms.some((a) => a.values.length)))
const plain = (c: Covariate) => c.key === 'column' || c.key === 'row'
function show(c: Covariate, v: number | null): string {
  if (v === null) return '–'
  return c.key === 'kg' ? weight(v) : c.key === 'fat_cap_m' ? fraction(v) : plain(c) ? fixed(v, 1) : length(v)
}
function gap(c: Covariate, v: number): string {
  if (c.key === 'kg') return weightDifference(v)
  return plain(c)
    ? `${fixed(Math.abs(v), 1)} places`
    : c.key === 'fat_cap_m'
      ? fraction(Math.abs(v))
      : length(Math.abs(v))
}
/** The pair of arms furthest apart. */
const widest = (c: Covariate) =>
  c.pairs.reduce<Covariate['pairs'][number] | null>(
    (w, p) => (w && Math.abs(w.difference) >= Math.abs(p.difference) ? w : p),
    null,
  )
</script>

<template>
  <section class="stack">
    <h2>Are the arms alike?</h2>
    <article v-for="c in covariates" :key="c.key" :data-testid="`alike-${c.key}`">
      <div class="row head">
        <b>{{ c.name }}</b>
        <span class="soot small">±{{ gap(c, c.gate).replace(' places', '') }}</span>
        <span class="push small" :class="c.alike ? 'check' : 'triangle apart'" data-testid="difference"
          >{{ c.alike ? 'alike' : 'apart'
          }}<template v-if="widest(c)">, {{ gap(c, widest(c)!.difference) }}</template></span
        >
      </div>
      <div class="picture">
        <GateLine :arms="c.arms.map((a) => ({ mean: a.mean, values: a.values }))" :gate="c.gate" />
        <div class="means">
          <b v-for="(a, i) in c.arms" :key="i" class="num">{{ show(c, a.mean) }}</b>
        </div>
      </div>
      <p v-if="c.pairs.length" class="small num smd">
        <span v-for="p in c.pairs" :key="`${p.a}${p.b}`" class="row tight"
          ><ArmToken :place="p.a" :size="14" />−<ArmToken :place="p.b" :size="14" />
          {{ signed(p.smd, 2) }} spreads</span
        >
      </p>
    </article>
    <p v-if="covariates.length === 0" class="soot">Weigh the cuts and give them arms; the picture comes by itself.</p>
    <details v-if="trial.balance.traits.length">
      <summary>By lot, side and place</summary>
      <table v-for="t in trial.balance.traits" :key="t.trait" class="small">
        <thead>
          <tr>
            <th>{{ t.trait }}</th>
            <th v-for="v in t.values" :key="v" class="right">{{ v }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in t.counts" :key="i">
            <td><ArmName :place="i" :tag="tag(i)" /></td>
            <td v-for="(n, k) in row" :key="k" class="right num">{{ n }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </section>
</template>

<style scoped>
.head {
  gap: 8px;
}
.apart {
  color: var(--watch);
  font-weight: 700;
}
.picture {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 112px;
  gap: 10px;
}
.means {
  display: flex;
  flex-direction: column;
  justify-content: space-around;
  text-align: right;
  padding: 4px 0;
  font-size: 14px;
}
.smd {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  color: var(--soot);
}
.tight {
  gap: 3px;
}
.right {
  text-align: right;
}
details table {
  margin-top: 8px;
}
</style>
