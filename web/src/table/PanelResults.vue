<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Checkbox from 'primevue/checkbox'
import { computed } from 'vue'
import { api, ok, Refused } from '../api/client'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed } from '../ui/units'
import { inTen, usePanel } from './panel'
import TasterLines from './TasterLines.vue'

/** What every taster gave every arm, attribute by attribute, the one that sums up first. */
const { trial } = useThisTrial()
const { panel, error, whole, tags } = usePanel()
const { isPitmaster } = useSession()
const client = useQueryClient()
const heard = computed(() => [...(panel.value?.attributes ?? [])].filter((a) => a.attribute.scale === 'nine').reverse())
const right = computed(() => panel.value?.attributes.filter((a) => a.attribute.scale === 'right') ?? [])
async function share(on: boolean) {
  await ok(api.POST('/api/trials/{id}/share', { params: { path: { id: trial.value.id } }, body: { share: on } }))
  await client.invalidateQueries({ queryKey: ['panel', trial.value.id] })
}
const ordinal = (i: number) => ['1st', '2nd', '3rd'][i] ?? `${i + 1}th`
const faults = computed(() => tags.value.map((_, arm) => panel.value!.faults.filter((f) => f.arm === arm)))
</script>

<template>
  <ProblemNote v-if="error instanceof Refused" :problem="error.problem" />
  <section v-else-if="panel && (whole || panel.plates.length)" class="stack" data-testid="panel-results">
    <div>
      <h1>What the panel said</h1>
      <p v-if="whole" class="lead">
        <b>{{ whole.heard.said[0] }}</b>
        {{ ' ' }}<span class="soot">{{ whole.attribute.name }}, {{ whole.heard.whole }} who tasted every arm.</span>
      </p>
      <p v-if="panel.open.length" class="triangle" data-testid="panel-open">
        {{ panel.open.join(', ') }} knew the codes: dashed, and not counted beside who tasted blind.
      </p>
      <p v-if="panel.by_sight.length" class="triangle" data-testid="panel-by-sight">
        Samples of {{ panel.by_sight.join(', ') }} could be told by sight.
      </p>
      <p v-if="!panel.named" class="small soot">
        Tasters are numbers here, other ones in each attribute: what one gave is theirs and the pitmaster's.
      </p>
    </div>
    <div class="all">
      <article v-for="a in heard" :key="a.attribute.key" class="one" :data-testid="`heard-${a.attribute.key}`">
        <h2>
          {{ a.attribute.name }} <span class="small soot">{{ a.attribute.low }} 1 to {{ a.attribute.high }} 9</span>
        </h2>
        <TasterLines :heard="a.heard" :tags="tags" />
        <div class="row means">
          <span v-for="(m, i) in a.heard.means" :key="i" class="row tight" :data-mean="tags[i]">
            <ArmName :place="i" :tag="tags[i]!" /> <b class="num big">{{ m === null ? '–' : fixed(m, 1) }}</b>
          </span>
        </div>
        <p v-for="(s, i) in a.heard.said" :key="s" :class="{ soot: i > 0 }">
          <b v-if="i === 0">{{ s }}</b><template v-else>{{ s }}</template>
        </p>
      </article>
      <article
        v-for="p in panel.plates"
        :key="p.format + p.arms.join()"
        class="one"
        :data-testid="`plates-${p.format}`"
      >
        <h2>
          {{ p.name }} <span class="small soot">{{ p.n }} answers, {{ p.tasters }} tasters</span>
        </h2>
        <p>
          <b>{{ p.said[0] }}</b>
        </p>
        <p v-for="s in p.said.slice(1)" :key="s" class="soot">{{ s }}</p>
        <table v-if="p.format === 'ranking' && p.sums.length">
          <tbody>
            <tr v-for="(sum, i) in p.sums" :key="i">
              <td><ArmName :place="i" :tag="tags[i]!" /></td>
              <td class="num">
                <b>{{ p.counts[i] }}</b> first
              </td>
              <td class="num soot">sum of ranks {{ fixed(sum, 1) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="p.p !== null" class="small soot">Luck alone does as much {{ inTen(p.p) }}.</p>
        <ul v-if="p.reasons.length" class="reasons">
          <li v-for="(r, i) in p.reasons" :key="i">
            <ArmName v-if="p.format !== 'triangle' && p.format !== 'duo_trio'" :place="r.arm" :tag="tags[r.arm]!" />
            {{ r.words }} <small class="soot">{{ r.taster }}</small>
          </li>
        </ul>
      </article>
      <article v-for="a in right" :key="a.attribute.key" class="one" :data-testid="`right-${a.attribute.key}`">
        <h2>
          {{ a.attribute.name }}
          <span class="small soot">{{ a.attribute.low }} 1, just right 3, {{ a.attribute.high }} 5</span>
        </h2>
        <table>
          <tbody>
            <tr v-for="h in a.right" :key="h.arm">
              <td><ArmName :place="h.arm" :tag="tags[h.arm]!" /></td>
              <td v-for="(n, i) in h.penalty.counts" :key="i" class="num count" :class="{ just: i === 2 }">{{ n }}</td>
            </tr>
          </tbody>
        </table>
        <p v-for="(h, i) in a.right" :key="h.arm">
          <b v-if="i === 0">{{ h.said }}</b><template v-else>{{ h.said }}</template>
        </p>
      </article>
    </div>
    <div class="foot">
      <div v-if="whole && whole.heard.whole > 1">
        <h2>
          Ranks <span class="small soot">{{ whole.attribute.name.toLowerCase() }}</span>
        </h2>
        <table data-testid="panel-ranks">
          <thead>
            <tr>
              <th />
              <th v-for="(_, i) in tags" :key="i">{{ ordinal(i) }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, i) in whole.heard.ranks" :key="i">
              <td><ArmName :place="i" :tag="tags[i]!" /></td>
              <td v-for="(n, rank) in row" :key="rank" class="num">
                <b v-if="n">{{ n }}</b><span v-else class="soot">0</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p class="small soot">
          Level ranks share the better.
          <template v-if="whole.heard.p !== null">Luck alone parts ranks as far {{ inTen(whole.heard.p) }}.</template>
        </p>
      </div>
      <div>
        <h2>What was wrong <span class="small soot">ticked by tasters</span></h2>
        <table v-if="panel.faults.length" data-testid="panel-faults">
          <tbody>
            <tr v-for="(list, i) in faults" :key="i">
              <td><ArmName :place="i" :tag="tags[i]!" /></td>
              <td>
                <span v-if="!list.length" class="soot">nothing</span>
                <span v-for="f in list" :key="f.fault" class="fault"
                  ><b class="num">{{ f.n }}</b> {{ f.fault }}</span
                >
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soot">Nobody ticked a fault on any of {{ trial.ballots.length }} ballots.</p>
      </div>
    </div>
    <label v-if="isPitmaster" class="row"
      ><Checkbox :model-value="panel.shared" binary input-id="share" data-testid="share" @update:model-value="share" />
      Let tasters read on their phones what they scored against what it was</label
    >
  </section>
</template>

<style scoped>
.lead {
  margin: 4px 0 0;
}
.all {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(380px, 100%), 1fr));
  gap: 14px 20px;
}
.one {
  background: var(--board);
  border-top: var(--line) solid var(--edge);
  padding: 10px 12px;
  min-width: 0;
}
.one p {
  margin: 4px 0 0;
}
.count {
  width: 34px;
  text-align: center;
}
.just {
  background: var(--trough);
  font-weight: 700;
}
.reasons {
  margin: 6px 0 0;
  padding-left: 18px;
}
.means {
  gap: 6px 22px;
}
.tight {
  gap: 6px;
}
.big {
  font-size: var(--n-md);
}
.foot {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(260px, 100%), 1fr));
  gap: 14px 28px;
}
.foot td,
.foot th {
  padding: 4px 14px 4px 0;
}
.fault {
  margin-right: 14px;
}
</style>
