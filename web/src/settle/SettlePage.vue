<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { Pair, Result, Row } from '../api/schema.gen'
import GateRecord from '../gate/GateRecord.vue'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import { fixed, sentence } from '../ui/units'
import { useAnswer } from './answer'
import ContextAnswer from './ContextAnswer.vue'
import DeliveredTable from './DeliveredTable.vue'
import GhostPanel from './GhostPanel.vue'
import NextList from './NextList.vue'
import OutcomeDetail from './OutcomeDetail.vue'
import OutcomeRow from './OutcomeRow.vue'
import WorkingDialog, { type Asked } from './WorkingDialog.vue'
import WriteCard from './WriteCard.vue'
import type { ReachKey } from './words'

const { trial, shut } = useThisTrial()
const { isPitmaster } = useSession()
const id = computed(() => trial.value.id)
const { data: view, error } = useQuery({
  queryKey: computed(() => ['settle', id.value, trial.value.revealed_at]),
  queryFn: () => ok(api.GET('/api/trials/{id}/settle', { params: { path: { id: id.value } } })),
  enabled: shut,
})
/** As it was read first, unless a hand asks how it reads since. */
const asSince = ref(false)
const result = computed<Result | undefined>(() =>
  asSince.value && view.value?.since ? view.value.since.result : view.value,
)
const { standings, chosen, standing, moved, shares, move, putBack } = useAnswer(id, view, asSince)
const arms = computed(() => trial.value.ask.arms)
const early = computed(() => {
  const why = trial.value.reveal_reason
  if (trial.value.ended_by) return `Ended with nothing tasted: ${why}.`
  return why ? `Codes opened early: ${why}.` : ''
})
const weighed = (r: Row) => standing.value?.weighs.find((w) => w.key === r.outcome.key)
const opened = ref<Set<string>>(new Set())
function toggle(key: string) {
  const next = new Set(opened.value)
  if (!next.delete(key)) next.add(key)
  opened.value = next
}
const asked = ref<Asked | null>(null)
const work = (r: Row, p: Pair, reach: ReachKey) => (asked.value = { outcome: r.outcome.key, a: p.a, b: p.b, reach })
const best = computed(() => standing.value?.winners[0] ?? 0)
const willSay = computed(() => {
  const told = result.value?.rows.flatMap((r) => r.pairs) ?? []
  const wins = (s: Pair['next']) => s.winner === best.value && s.word === 'clear winner'
  if (told.some((p) => wins(p.next))) return 'clear for the next cook'
  const n = result.value?.cooks ?? 0
  if (told.some((p) => wins(p.cooks))) return n === 1 ? 'shown in one cook' : `shown in ${n === 2 ? 'two' : n} cooks`
  return 'not shown to be better'
})
const writing = ref(false)
const counted = computed(() => [...new Set(result.value?.rows.flatMap((r) => r.pairs.map((p) => p.unit)))].join(' or '))
const scored = computed(() => standing.value?.scores ?? [])
const row = ref(-1)
useKeys((key, e) => {
  const rows = result.value?.rows ?? []
  if (key === 'ArrowDown' || key === 'ArrowUp') {
    row.value = Math.max(0, Math.min(rows.length - 1, row.value + (key === 'ArrowDown' ? 1 : -1)))
    const el = document.querySelector<HTMLElement>(`[data-testid="outcome-${rows[row.value]?.outcome.key}"] .more`)
    el?.focus()
    return el !== null
  }
  if (key === 'q') return (document.querySelector('#next-up')?.scrollIntoView(), true)
  if (key === 'Enter' && e.target === document.body && canWrite.value) return ((writing.value = true), true)
})
const canWrite = computed(() => isPitmaster.value && !trial.value.rehearses && (result.value?.rows.length ?? 0) > 0)
</script>

<template>
  <div v-if="!shut" class="page stack">
    <h1>The codes are closed</h1>
    <p>The verdict is read once every ballot is locked and the codes are opened on the Table.</p>
    <RouterLink :to="`/trials/${trial.id}/table`">Go to the table</RouterLink>
  </div>
  <div v-else-if="error instanceof Refused" class="page"><ProblemNote :problem="error.problem" /></div>
  <div v-else-if="result && view" class="two settle">
    <section class="wide">
      <ContextAnswer
        v-if="standing"
        :standings="standings"
        :chosen="chosen"
        :standing="standing"
        :moved="moved !== null"
        :early="early"
        @choose="(i) => (chosen = i)"
        @back="putBack"
      />
      <div class="heads small soot">
        <span>Verdict and outcome</span>
        <span class="dir"
          ><span>◀&nbsp;worse</span><b>same as {{ (arms.find((a) => a.control) ?? arms[0])!.tag }}</b
          ><span>better&nbsp;▶</span></span
        >
        <span class="reaches"><span>these pieces</span><span>these cooks</span><span>the next cook</span></span>
        <span class="no-print">weight, turns at</span>
      </div>
      <OutcomeRow
        v-for="r in result.rows"
        :key="r.outcome.key"
        :row="r"
        :arms="arms"
        :weighed="weighed(r)"
        :share="shares[r.outcome.key]"
        :open="opened.has(r.outcome.key)"
        @move="(share) => move(r.outcome.key, share)"
        @toggle="toggle(r.outcome.key)"
        @work="(p, reach) => work(r, p, reach)"
      >
        <OutcomeDetail :row="r" :arms="arms" @work="(p, reach) => work(r, p, reach)" />
      </OutcomeRow>
      <div v-if="standing && scored.length" class="together">
        <p class="row">
          <b class="all">All together</b>
          <span v-for="(s, i) in scored" :key="i" class="row"
            ><ArmToken :place="i" :size="24" /> <b class="score num">{{ fixed(s, 0) }}</b></span
          >
          <span class="soot small">of 100</span>
          <span v-if="standing.close" class="small watch triangle">a close call</span>
        </p>
        <p class="small" data-testid="turns">{{ standing.turns }}</p>
        <p class="small soot">
          <span v-if="standing.front.length < arms.length"
            >Beaten on every outcome:
            {{
              arms
                .filter((_, i) => !standing!.front.includes(i))
                .map((a) => a.tag)
                .join(', ')
            }}. </span
          ><span v-if="standing.left.length"
            >Not weighed, for want of a value in every arm: {{ standing.left.join(', ') }}.
          </span>
          ⊢⊣ back from the best arm: an arm that stands over this bar is not told apart from it in these cooks.
        </p>
      </div>
      <div class="board read stack">
        <h2 data-testid="headline">{{ sentence(result.headline) }}</h2>
        <p class="small" data-testid="read-at">
          <template v-if="asSince && view.since"
            >Read anew {{ dateTime(view.since.at) }}, since {{ view.since.because }}.</template
          >
          <template v-else-if="view.late"
            >Read {{ dateTime(view.read_at) }}, for the first time since its codes were opened.</template
          >
          <template v-else
            >Read {{ dateTime(view.read_at) }}, when the codes were opened, by rules {{ view.rules }}.</template
          >
          {{ result.read }} {{ result.rests_on }}
        </p>
        <p v-if="view.since && !asSince" class="small" data-testid="since-then">
          Since then {{ view.since.because }}.
          <template v-if="view.since.result.headline === view.headline">The sentence stands as it was.</template>
          <template v-else
            >{{ dateTime(view.since.at) }} it read: “{{ sentence(view.since.result.headline) }}”</template
          >
        </p>
        <p v-for="l in view.looks" :key="l.cook_id" class="small" data-testid="looked">
          Cook {{ trial.cooks.findIndex((k) => k.id === l.cook_id) + 1 }} alone was read {{ dateTime(l.at) }}: “{{
            sentence(l.headline)
          }}”
        </p>
        <Button
          v-if="view.since"
          class="self no-print"
          size="small"
          outlined
          :label="asSince ? 'As it was read first' : 'Show how it reads since'"
          data-testid="toggle-since"
          @click="asSince = !asSince"
        />
        <div v-if="view.truths?.length" class="stack" data-testid="truths">
          <h2>What was true</h2>
          <p class="small">The tasters were simulated. Beside what you concluded, this is what they tasted from.</p>
          <table>
            <tbody>
              <tr v-for="t in view.truths" :key="t.key">
                <td>
                  <b>{{ t.name }}</b>
                </td>
                <td v-for="(v, i) in t.values" :key="i" class="num">
                  <ArmToken :place="i" :size="15" /> {{ fixed(v, 1) }}
                </td>
                <td>{{ t.says }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <h2>Laid over an earlier cook</h2>
        <GhostPanel :trial="trial.id" :arms="arms" :place-of="(n) => arms.findIndex((a) => a.id === n)" />
      </div>
    </section>
    <aside class="side stack">
      <h2>Delivered against planned</h2>
      <DeliveredTable v-if="result.delivered.length" :facts="result.delivered" :arms="arms" />
      <p v-else class="small soot">Nothing of the cook is on record.</p>
      <h2>What this does not cover</h2>
      <p data-testid="not-covered">
        <b>{{ sentence(result.not_covered) }}</b>
      </p>
      <p
        v-for="l in result.limits"
        :key="l.text"
        data-testid="limit"
        :class="l.confound || l.broken ? 'warn triangle' : 'dash'"
      >
        {{ sentence(l.text) }}
      </p>
      <p v-if="result.luck" class="small soot">{{ result.luck }}</p>
      <GateRecord />
      <h2>Keep and show it</h2>
      <div class="row no-print">
        <a class="follow" :href="`/api/trials/${trial.id}/report.html`" target="_blank" data-testid="report"
          >Report to print or send</a
        >
        <a class="follow" :href="`/api/trials/${trial.id}/report.json`">The same as JSON</a>
        <a
          v-if="isPitmaster"
          class="follow"
          :href="`/api/trials/${trial.id}/trial.zip`"
          download
          data-testid="trial-zip"
          >Its tables (CSV)</a
        >
      </div>
      <h2 id="next-up">Go on from here</h2>
      <div class="row no-print">
        <RouterLink v-for="(a, i) in arms" :key="a.id" class="follow" :to="`/trials/new?follow=${trial.id}&arm=${a.id}`"
          ><ArmToken :place="i" :size="20" /> Follow on with {{ a.tag }}</RouterLink
        >
      </div>
      <NextList v-if="!trial.rehearses" :trial="trial.id" :context="standing?.context ?? ''" />
      <h2>How it is judged</h2>
      <p class="small">
        <b>The next cook</b> asks whether another day would show it: each cook counts once, of this trial and of your
        earlier ones of the same two; it needs three. <b>These cooks</b> asks it of the days it was done: each
        {{ counted }} counts once. <b>These pieces</b> asks whether the panel told the pieces on the table apart: each
        taster counts once. The ground between the posts is the difference you said does not matter. A tap on a word
        opens its working.
      </p>
      <div v-if="canWrite" class="write no-print">
        <span class="small"
          >Will say: <b>{{ willSay }}</b></span
        >
        <Button class="one" data-testid="open-card" @click="writing = true"
          >Write the card <KeyCap>Enter</KeyCap></Button
        >
      </div>
    </aside>
    <WorkingDialog :trial="trial.id" :asked="asked" @close="asked = null" />
    <WriteCard v-if="canWrite" v-model="writing" :trial="trial.id" :ask="trial.ask" :arm="best" />
  </div>
</template>

<style scoped>
.wide {
  min-width: 0;
}
.heads {
  display: grid;
  grid-template-columns: 200px minmax(0, 244px) minmax(0, 1fr) 104px;
  gap: 12px;
  align-items: end;
  padding: 6px 16px 2px;
  background: var(--board);
  border-top: var(--line-strong) solid var(--ink);
}
.dir {
  display: flex;
  justify-content: space-between;
  max-width: 340px;
}
.dir b {
  color: var(--ink);
  text-align: center;
}
.heads .reaches {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
}
.together {
  border-top: var(--line-strong) solid var(--ink);
  background: var(--lime);
  padding: 10px 16px;
}
.all {
  font: 700 19px var(--font-head);
}
.score {
  font-size: 22px;
}
.watch {
  color: var(--watch);
}
.read {
  border-top: var(--line-strong) solid var(--ink);
}
.self {
  align-self: flex-start;
}
.side {
  padding: 14px 16px;
  gap: 10px;
}
.dash::before {
  content: '– ';
}
.follow {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  padding: 8px 12px;
  text-decoration: none;
  font-weight: 700;
  min-height: 44px;
}
.one {
  white-space: nowrap;
  flex: none;
}
.write {
  position: sticky;
  bottom: 0;
  background: var(--trough);
  margin: auto -16px -14px;
  padding: 12px 16px;
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  border-top: var(--line-strong) solid var(--ink);
}
@media (max-width: 1000px) {
  .heads {
    display: none;
  }
}
@media print {
  .two {
    display: block;
  }
}
</style>
