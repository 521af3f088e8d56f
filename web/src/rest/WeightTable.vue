<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { ArmMeat, CutGate, CutView, Measure } from '../api/schema.gen'
import CutRuling from '../gate/CutRuling.vue'
import { meatName, opensByReason, useGate } from '../gate/gate'
import { useResolution } from '../match/resolution'
import { useSession } from '../session/session'
import { useThisTrial, weighingAt } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ArmName from '../ui/ArmName.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, temperature } from '../ui/units'
import WeightCell from '../ui/WeightCell.vue'
import MeasureCell from './MeasureCell.vue'
import ReadCell from './ReadCell.vue'
import { system } from '../ui/settings'

const PasteRows = defineAsyncComponent(() => import('../ui/PasteRows.vue'))
const pasting = ref(false)

/** Every weight and reading of every cut in one table, and the yields that come of them. */
const { trial, set, armOf, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { run, busy, problem } = useAct()
const resolution = useResolution()
const shown = ref<'weigh' | 'yield'>('weigh')

const percent = (m: Measure | null) => (m ? `${fixed(100 * m.value, 1)}` : '–')
const sure = (m: Measure | null) => (m ? `± ${fixed(200 * m.u, m.u * 200 < 0.095 ? 2 : 1)}` : '')
const columns: [keyof CutView['account'], string][] = [
  ['trim_share', 'Trim share of bought'],
  ['cook_loss', 'Cook loss of trimmed'],
  ['hold_loss', 'Rest loss of off'],
  ['total_loss', 'Total loss of trimmed'],
  ['cooked_yield_rested', 'Cooked yield of trimmed'],
  ['edible_yield', 'Edible of bought'],
]
const { data: catalogue } = useQuery({ queryKey: ['catalogue'], queryFn: () => ok(api.GET('/api/catalogue')) })
/** Outcomes that no scale, clock or ballot gives. */
const byHand = computed(() =>
  trial.value.ask.outcomes.flatMap((o) => {
    if (o.own) return [{ key: o.key, name: o.own.name, unit: o.own.unit }]
    const d = catalogue.value?.outcomes.find((d) => d.key === o.key)
    return d?.kind === 'hand' ? [{ key: o.key, name: d.name, unit: d.unit }] : []
  }),
)
const prepped = computed(() => trial.value.cuts.some((c) => weighingAt(c, 'prepped')))
const all = computed(() =>
  prepped.value
    ? [
        ...columns.slice(0, 2),
        ['cook_loss_prepped', 'Cook loss of prepped'] as (typeof columns)[number],
        ...columns.slice(2),
      ]
    : columns,
)
/** Of an arm all cuts together: what came out over what went in. */
const armShare = (i: number, key: keyof CutView['account']) => percent(trial.value.arm_accounts[i]![key])

const { gate, of: rulingOf } = useGate()
const waiting = computed(() => gate.value?.cuts.filter((c) => !c.open) ?? [])
/** What the cuts wait for, each kind by itself: to be pulled, read, mended, carved. */
const waits = computed(() => {
  const did = (act: string, id: number) => trial.value.events.some((e) => e.act === act && e.cut_id === id)
  const unread = waiting.value.filter((c) => c.finding === 'not yet measured' && did('pull', c.cut_id))
  const stopped = (keys: string[]) =>
    waiting.value.filter((c) => !unread.includes(c) && c.stops.some((s) => !s.waived && keys.includes(s.key)))
  const unpulled = stopped(['on', 'pull'])
  const unsaid = stopped(['eaten'])
  const ids = (of: CutGate[]) => of.map((c) => c.cut_id)
  return [
    { said: 'Not pulled yet', cuts: ids(unpulled) },
    { said: 'To be read', cuts: ids(unread) },
    { said: 'Nobody said when it was eaten', cuts: ids(unsaid) },
    { said: 'Shut', cuts: ids(waiting.value.filter((c) => ![...unread, ...unpulled, ...unsaid].includes(c))) },
    {
      said: 'Not carved yet',
      cuts: trial.value.cuts.map((c) => c.id).filter((id) => did('pull', id) && !did('carve', id)),
    },
  ].filter((w) => w.cuts.length)
})
const nameOf = (id: number) => trial.value.cuts.find((c) => c.id === id)?.name ?? ''
/** The lines of the arms, those that are alike together. */
const minimums = computed(() => {
  const out: { tags: string[]; arm: ArmMeat }[] = []
  gate.value?.arms.forEach((arm, i) => {
    const tag = trial.value.ask.arms[i]!.tag
    const like = out.find((o) => JSON.stringify({ ...o.arm, arm_id: 0 }) === JSON.stringify({ ...arm, arm_id: 0 }))
    if (like) like.tags.push(tag)
    else if (arm.minimum) out.push({ tags: [tag], arm })
  })
  return out
})

const { offer } = useUndo()
/** Whom a reason would open the gate to, and nothing else stops. */
const openable = computed(() => gate.value?.cuts.filter(opensByReason) ?? [])
const reasoning = ref(false)
const reasoned = ref<number[]>([])
const why = ref('')
/** One reason for this cut and the others like it. */
function askReason(c: CutView) {
  reasoned.value = openable.value.map((o) => o.cut_id)
  if (!reasoned.value.includes(c.id)) reasoned.value.push(c.id)
  reasoning.value = true
}
async function keepReason() {
  const cuts = [...reasoned.value]
  const v = await run(() =>
    ok(
      api.POST('/api/trials/{id}/gate-reason', {
        params: { path: { id: trial.value.id } },
        body: { cuts, why: why.value },
      }),
    ),
  )
  if (!v) return
  set(v)
  offer(`${cuts.map(nameOf).join(', ')} may be served by a reason`, { reasons: cuts })
  reasoning.value = false
  why.value = ''
}
</script>

<template>
  <div class="stack">
    <div class="row">
      <h2>{{ shown === 'weigh' ? 'All weights' : 'What was lost, what is left' }}</h2>
      <Button
        class="no-print"
        outlined
        size="small"
        :label="shown === 'weigh' ? 'Yields' : 'Weights'"
        data-testid="switch"
        @click="shown = shown === 'weigh' ? 'yield' : 'weigh'"
      />
      <Button
        class="no-print"
        text
        size="small"
        label="Paste rows"
        data-testid="paste-weights"
        @click="pasting = true"
      />
      <PasteRows v-if="pasting" v-model="pasting" what="weights" :of="trial.id" />
      <label class="row push small no-print"
        >Scale step <InputText v-model="resolution" class="mono-input step" aria-label="Scale step"
      /></label>
    </div>
    <p v-if="trial.cuts.length === 0" class="soot">No cut hangs yet. Hang them in Match.</p>
    <div v-else-if="shown === 'weigh'" class="scroll">
      <table>
        <thead>
          <tr>
            <th>Cut</th>
            <th>Arm</th>
            <th>Off the pit</th>
            <th>After the rest</th>
            <th>Edible</th>
            <th v-for="o in byHand" :key="o.key">{{ o.name }}, {{ o.unit }}</th>
            <th>Read, where it is coldest</th>
            <th>Gate, and what it goes by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in trial.cuts" :key="c.id" :data-testid="`cut-${c.name}`">
            <td>
              <b class="num">{{ c.name }}</b>
            </td>
            <td><ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" /></td>
            <td><WeightCell :cut="c" stage="off" label="Weight off the pit" /></td>
            <td><WeightCell :cut="c" stage="rested" label="Weight after the rest" /></td>
            <td><WeightCell :cut="c" stage="edible" label="Edible weight" /></td>
            <td v-for="o in byHand" :key="o.key">
              <MeasureCell :cut="c" :outcome="o.key" :name="o.name" :unit="o.unit" />
            </td>
            <td><ReadCell :cut="c" /></td>
            <td class="gate">
              <CutRuling :ruling="rulingOf(c.id)" :may-reason="isPitmaster && !shut" @reason="askReason(c)" />
              <div v-if="c.gate_reason" class="small soot">“{{ c.gate_reason.reason }}”, {{ c.gate_reason.by }}</div>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-else class="scroll">
      <table data-testid="yields">
        <thead>
          <tr>
            <th>Cut</th>
            <th>Arm</th>
            <th v-for="[key, name] in all" :key="key">{{ name }}, %</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in trial.cuts" :key="c.id">
            <td>
              <b class="num">{{ c.name }}</b>
            </td>
            <td><ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" /></td>
            <td v-for="[key] in all" :key="key">
              <span class="num figure">{{ percent(c.account[key]) }}</span>
              <span class="num soot small">{{ sure(c.account[key]) }}</span>
            </td>
          </tr>
          <tr v-for="c in trial.divided" :key="c.id" :data-testid="`whole-${c.name}`">
            <td>
              <b class="num">{{ c.name }}</b>
            </td>
            <td class="small">its parts, added up</td>
            <td v-for="[key] in all" :key="key">
              <span class="num figure">{{ percent(c.account[key]) }}</span>
              <span class="num soot small">{{ sure(c.account[key]) }}</span>
            </td>
          </tr>
        </tbody>
        <tfoot>
          <tr v-for="(a, i) in trial.ask.arms" :key="a.id">
            <td>Together</td>
            <td><ArmName :place="i" :tag="a.tag" /></td>
            <td v-for="[key] in all" :key="key" class="big">{{ armShare(i, key) }}</td>
          </tr>
        </tfoot>
      </table>
      <p class="soot small">
        ± is twice the standard uncertainty that the scale's step leaves. Moisture lost as weighed and juiciness as
        tasted are different things; Settle shows both.
      </p>
    </div>
    <ProblemNote :problem="problem" />
    <div v-if="gate" :class="waiting.length ? 'warn' : 'trough'" data-testid="gate">
      <p v-for="m in minimums" :key="m.tags[0]">
        <b
          >{{ minimums.length > 1 ? `${m.tags.join(', ')}: ` : ''
          }}{{ temperature(m.arm.minimum!.c, system === 'C' ? 1 : 0) }} in every place that is read,
          {{ m.arm.minimum!.rest }}</b
        >
        ({{ meatName({ ...m.arm.meat, whole_bird: gate.meat.whole_bird }) }}).
        <span v-if="m.arm.minimum!.absolute"> No reason opens the table below it.</span>
      </p>
      <p v-for="w in waits" :key="w.said">{{ w.said }}: {{ w.cuts.map(nameOf).join(', ') }}.</p>
      <p class="small">
        All readings count together, from the fire to the knife: nothing is typed twice. Source: {{ gate.source }} Local
        codes and licensed practice come first.
      </p>
    </div>
    <Dialog v-model:visible="reasoning" modal header="Serve it all the same" :style="{ width: '560px' }">
      <form class="stack" @submit.prevent="keepReason">
        <div class="row" role="group" aria-label="Cuts the reason is for">
          <label v-for="c in openable" :key="c.cut_id" class="row tick"
            ><Checkbox v-model="reasoned" :value="c.cut_id" :input-id="`reason-${c.cut_id}`" />
            <b class="num">{{ nameOf(c.cut_id) }}</b></label
          >
        </div>
        <p>
          The record keeps your reason. Every eater's page tells them first that eating meat below its minimum raises
          the risk of food-borne illness, and leaves it out for those who must not risk it.
        </p>
        <ProblemNote :problem="problem" />
        <div class="field">
          <label for="why">Reason</label><InputText id="why" v-model="why" maxlength="200" autofocus />
        </div>
        <div><Button type="submit" label="Save the reason" :loading="busy" :disabled="!reasoned.length" /></div>
      </form>
    </Dialog>
  </div>
</template>

<style scoped>
.step {
  width: 90px;
}
.tick {
  min-height: 48px;
}
.scroll {
  overflow-x: auto;
}
.gate {
  min-width: 150px;
}
.bad {
  color: var(--alarm);
  font-weight: 700;
}
.figure {
  margin-right: 6px;
  font-size: 20px;
  font-weight: 700;
}
td {
  padding-top: 4px;
  padding-bottom: 4px;
}
tfoot tr {
  border-top: var(--line-strong) solid var(--ink);
}
tfoot tr + tr {
  border-top-width: var(--line);
}
</style>
