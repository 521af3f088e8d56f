<script setup lang="ts">
import { computed } from 'vue'
import ArmToken from '../ui/ArmToken.vue'
import { fixed } from '../ui/units'
import { inTen, usePanel } from './panel'

/** Whether the panel can be trusted: how far it agrees, what the first sample gains, and each flight by itself. */
const { panel, whole, tags } = usePanel()
const agree = computed(
  () => panel.value?.attributes.filter((a) => a.heard.kendall_w !== null && a.attribute.scale === 'nine') ?? [],
)
const lift = computed(() => whole.value?.heard.first_sample ?? null)
</script>

<template>
  <div v-if="panel && whole" class="stack" data-testid="panel-trust">
    <h2>Can we trust this panel?</h2>
    <template v-if="agree.length">
      <p><b>Do they agree?</b> <span class="soot">1 is all in one order, 0 none.</span></p>
      <table class="agree">
        <tbody>
          <tr v-for="a in agree" :key="a.attribute.key">
            <td>{{ a.attribute.name }}</td>
            <td class="track">
              <i :class="{ weak: a.heard.kendall_w! < 0.3 }" :style="{ width: `${a.heard.kendall_w! * 100}%` }" />
            </td>
            <td class="num">
              <b>{{ fixed(a.heard.kendall_w!, 1) }}</b>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-if="whole.heard.reliability !== null" class="small" data-testid="reliability">
      Another panel like it would give the pieces means that agree with these by
      <b class="num">{{ fixed(Math.max(0, whole.heard.reliability), 1) }}</b> of 1.
    </p>
    <p v-if="lift" data-testid="first-sample">
      <b>{{
        Math.abs(lift.points) < 0.05
          ? 'The first sample scores like the rest.'
          : `The first sample scores ${fixed(Math.abs(lift.points), 1)} ${lift.points > 0 ? 'higher' : 'lower'}.`
      }}</b>{{ ' '
      }}<span class="soot"
        >{{ whole.attribute.name }}, arm and taster taken off.
        <template v-if="lift.p !== null">Luck alone does as much {{ inTen(lift.p) }}.</template>
      </span>
    </p>
    <template v-if="panel.repeats.length">
      <p><b>Who repeats?</b> <span class="soot">one piece twice, hidden</span></p>
      <p v-for="r in panel.repeats" :key="r.taster" class="small" data-testid="repeats">{{ r.said }}</p>
    </template>
    <template v-if="whole.heard.flights.length > 1">
      <p>
        <b>Flight by flight</b> <span class="soot">{{ whole.attribute.name.toLowerCase() }}</span>
      </p>
      <table data-testid="by-flight">
        <thead>
          <tr>
            <th />
            <th v-for="(t, i) in tags" :key="t">
              <ArmToken :place="i" :size="18" /><span class="visually-hidden"> {{ t }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in whole.heard.flights" :key="f.flight">
            <td>Flight {{ f.flight }}</td>
            <td v-for="(m, i) in f.means" :key="i" class="num">
              <b>{{ m === null ? '–' : fixed(m, 1) }}</b>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <p class="small soot">Method: {{ panel.sources.join('; ') }}.</p>
  </div>
</template>

<style scoped>
td,
th {
  padding: 3px 10px 3px 0;
}
.track {
  width: 45%;
}
.track i {
  display: block;
  height: 8px;
  min-width: 2px;
  background: var(--ink);
}
.track i.weak {
  background: var(--watch);
}
</style>
