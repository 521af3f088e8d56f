<script setup lang="ts">
import Button from 'primevue/button'
import { computed, defineAsyncComponent, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView, Mend, GratePosition, TrialParts } from '../api/schema.gen'
import { useSession } from '../session/session'
import FindingList from '../trial/FindingList.vue'
import { useUndo } from '../trial/undo'
import { useThisTrial } from '../trial/trial'
import { useDrag } from '../ui/drag'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import ArmLanes from './ArmLanes.vue'
import ArmsAlike from './ArmsAlike.vue'
import CookDayForm from './CookDayForm.vue'
import CutSlip from './CutSlip.vue'
import DrawRecord from './DrawRecord.vue'
import DivideDialog from './DivideDialog.vue'
import GrateMap from './GrateMap.vue'
import HangingRail from './HangingRail.vue'
import { useLayout } from './layout'
import ReasonDialog from './ReasonDialog.vue'

const PasteRows = defineAsyncComponent(() => import('../ui/PasteRows.vue'))
const pasting = ref(false)

const { trial, set, armOf, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { run, busy, problem } = useAct()
const { voided } = useUndo()
const route = useRoute()
const cuts = computed(() => trial.value.cuts)
const picked = ref<number | null>(null)
const cut = computed(() => cuts.value.find((c) => c.id === picked.value) ?? null)
const dividing = ref<CutView | null>(null)
const addingDay = ref(false)
onMounted(() => {
  const asked = Number(route.query.cut) // from the code on a label
  if (cuts.value.some((c) => c.id === asked)) picked.value = asked
})

const here = () => ({ params: { path: { id: trial.value.id } } })
async function act(call: () => Promise<TrialParts>) {
  if (!fixed.value) set(await run(call))
}
const { lit, fixed, reason } = useLayout()
async function layout(what: string, call: (why: string) => Promise<TrialParts>) {
  const why = await reason(what)
  if (why !== null) await act(() => call(why))
}
const drawArms = () =>
  layout('Drawing the arms anew', (why) => ok(api.POST('/api/trials/{id}/allotment', { ...here(), body: { why } })))
const backTo = (draw: number) =>
  act(() => ok(api.POST('/api/trials/{id}/allotment/back', { ...here(), body: { draw_id: draw } })))
const drawPositions = () =>
  layout('Drawing the places anew', (why) =>
    ok(api.POST('/api/trials/{id}/positions/draw', { ...here(), body: { why } })),
  )
const pairUp = () =>
  layout('Pairing cuts', (why) => ok(api.POST('/api/trials/{id}/blocks', { ...here(), body: { why } })))
const putPositions = (positions: GratePosition[]) =>
  layout('Moving cuts on the grate', (why) =>
    ok(api.PUT('/api/trials/{id}/positions', { ...here(), body: { positions, why } })),
  )
const swapSetups = (runs: number[]) =>
  layout('Swapping the set-ups of two pits', (why) =>
    ok(api.POST('/api/trials/{id}/runs/swap', { ...here(), body: { runs, why } })),
  )
const moveCuts = (moves: { cut_id: number; arm_id: number }[]) =>
  layout('Moving cuts between arms', (why) => ok(api.PUT('/api/trials/{id}/arms', { ...here(), body: { moves, why } })))

/** Puts a cut into an arm; one of its block that is there takes its old arm. */
function put(c: CutView, arm: number) {
  if (c.arm_id === arm) return
  const moves = [{ cut_id: c.id, arm_id: arm }]
  const twin = c.pair ? cuts.value.find((t) => t.pair === c.pair && t.id !== c.id && t.arm_id === arm) : undefined
  if (twin && c.arm_id !== null) moves.push({ cut_id: twin.id, arm_id: c.arm_id })
  void moveCuts(moves)
}
function swap(c: CutView) {
  const arms = trial.value.ask.arms
  put(c, arms[(armOf(c) + 1) % arms.length]!.id)
}
/** Two cuts change arms. */
function exchange(a: CutView, b: CutView) {
  if (a.id === b.id || a.arm_id === b.arm_id || a.arm_id === null || b.arm_id === null) return
  const moves = [
    { cut_id: a.id, arm_id: b.arm_id },
    { cut_id: b.id, arm_id: a.arm_id },
  ]
  void moveCuts(moves)
}
/** A place holds one cut: the one that lies there takes the other's place. */
function place(c: CutView, run: number, position: string) {
  const positions: GratePosition[] = [{ cut_id: c.id, pit_run_id: run, position }]
  const other = cuts.value.find(
    (o) => o.id !== c.id && o.placement?.pit_run_id === run && o.placement.position === position,
  )
  if (other && c.placement?.pit_run_id)
    positions.push({ cut_id: other.id, pit_run_id: c.placement.pit_run_id, position: c.placement.position })
  else if (other) return
  void putPositions(positions)
}
function drop(c: CutView, target: string) {
  const [what, id, position] = target.split(' ')
  if (what === 'arm') put(c, Number(id))
  if (what === 'cut')
    exchange(
      c,
      cuts.value.find((x) => x.id === Number(id))!,
    )
  if (what === 'place') place(c, Number(id), position!)
}
const { start, dragged, at, over } = useDrag<CutView>(drop)
const began = (e: PointerEvent, c: CutView) => !fixed.value && start(e, c)

async function mend(m: Mend) {
  if (m.ask) set(await run(() => ok(api.PUT('/api/trials/{id}/ask', { ...here(), body: m.ask! }))))
  else if (m.positions.length) await putPositions(m.positions)
  else if (m.swap.length) await swapSetups(m.swap)
  else if (m.redraw === 'arms') await drawArms()
  else if (m.redraw === 'positions') await drawPositions()
}
const acceptFinding = (key: string, why: string) =>
  act(() => ok(api.POST('/api/trials/{id}/accepted', { ...here(), body: { key, why } })))
async function withdraw(id: number) {
  await act(() => ok(api.POST('/api/accepted/{id}/void', { params: { path: { id } }, body: { why: 'taken back' } })))
  if (!problem.value) voided('accepted finding', id, 'a word was taken back')
}

const leastMoves = computed(() => trial.value.findings.flatMap((f) => f.mends).find((m) => m.positions.length))
const fields: Record<string, string> = { w: 'trimmed', b: 'bought', t: 'thickness', f: 'fat', c: 'cold' }
useKeys((key) => {
  const i = cuts.value.findIndex((c) => c.id === picked.value)
  const pick = (n: number) => (picked.value = cuts.value[Math.max(0, Math.min(n, cuts.value.length - 1))]?.id ?? null)
  if (key === 'ArrowRight' || key === 'ArrowDown') return (pick(i + 1), true)
  if (key === 'ArrowLeft' || key === 'ArrowUp') return (pick(i - 1), true)
  if (fields[key]) {
    const field = document.getElementById(`cut-${fields[key]}`) as HTMLInputElement | null
    return (field?.focus(), field?.select(), true)
  }
  if (key === 'd' && !fixed.value) return (void drawArms(), true)
  if (key === 'm' && leastMoves.value && !fixed.value) return (void mend(leastMoves.value), true)
  if (!cut.value || fixed.value) return
  if (key === 'x') return (swap(cut.value), true)
  const arm = trial.value.ask.arms[Number(key) - 1]
  if (arm) return (put(cut.value, arm.id), true)
})

const runs = computed(() => trial.value.cooks.flatMap((cook, i) => cook.runs.map((run) => ({ cook, run, day: i + 1 }))))
const headline = computed(() => {
  const n = cuts.value.length
  if (n === 0) return 'Hang the first cut.'
  const blocks = new Set(cuts.value.map((c) => c.pair).filter(Boolean)).size
  const arms = trial.value.ask.arms.length
  const count = (k: number, one: string) => `${k} ${one}${k === 1 ? '' : 's'}`
  return `${count(n, trial.value.ask.cut)}, ${count(blocks, arms === 2 ? 'pair' : 'block')}, ${count(arms, 'arm')}.`
})
const alone = computed(() => cuts.value.filter((c) => !c.pair).length)
const last = computed(() => trial.value.draws[0])
</script>

<template>
  <div class="two">
    <section>
      <div class="page head">
        <div>
          <h1>{{ headline }}</h1>
          <p class="soot" data-testid="match-how">
            {{
              fixed && !shut
                ? 'Hang, measure and weigh. Arms, places and dividing are the pitmaster’s, and theirs whom he trusts with arms.'
                : "Tap a tag to move its cut to the next arm, drag it to exchange two, or press an arm's number."
            }}
          </p>
        </div>
        <div class="row no-print">
          <Button
            v-if="!fixed && alone >= trial.ask.arms.length && trial.ask.arms.length > 1"
            label="Match the loose cuts"
            size="small"
            outlined
            :loading="busy"
            data-testid="pair-up"
            @click="pairUp"
          />
          <Button v-if="!shut" label="Paste rows" size="small" text data-testid="paste-cuts" @click="pasting = true" />
          <RouterLink v-if="cuts.length" :to="`/trials/${trial.id}/labels`" class="small">Labels to stick</RouterLink>
        </div>
      </div>
      <PasteRows v-if="pasting" v-model="pasting" what="cuts" :of="trial.id" />
      <HangingRail
        :cuts="cuts"
        :picked="picked"
        :over="over"
        @pick="(c) => (picked = c.id)"
        @swap="swap"
        @drag="began"
      />
      <p v-for="d in trial.divided" :key="d.id" class="small divided">
        <b class="num">{{ d.name }}</b> was divided into
        {{
          cuts
            .filter((c) => c.parent_id === d.id)
            .map((c) => c.name)
            .join(', ')
        }}.
      </p>
      <ArmLanes :cuts="cuts" :picked="picked" :over="over" @pick="(c) => (picked = c.id)" @put="put" @drag="began" />
      <div class="trough bench">
        <CutSlip v-model="picked" @divide="(c) => (dividing = c)" />
      </div>
      <div class="trough maps">
        <div class="row">
          <h2>Where they lie</h2>
          <Button
            v-if="runs.length && cuts.length && !fixed"
            label="Draw the places"
            size="small"
            outlined
            :loading="busy"
            data-testid="draw-places"
            @click="drawPositions"
          />
          <Button
            v-if="isPitmaster && !shut && !addingDay"
            label="Add a cook day"
            size="small"
            outlined
            data-testid="new-day"
            @click="addingDay = true"
          />
          <span v-if="cut && runs.length && !fixed" class="soot small">Tap a place for {{ cut.name }}.</span>
        </div>
        <CookDayForm v-if="addingDay" @added="addingDay = false" />
        <div class="grates">
          <GrateMap
            v-for="r in runs"
            :key="r.run.id"
            v-bind="r"
            :picked="picked"
            :over="over"
            @pick="(c) => (picked = c.id)"
            @put="(t) => cut && drop(cut, t)"
            @drag="began"
          />
        </div>
        <p v-if="runs.length === 0 && !addingDay" class="soot">
          No cook day yet. With one, every cut gets a place on the grate, so that no arm has the hot end.
        </p>
      </div>
    </section>
    <aside>
      <div class="side">
        <div class="alike" tabindex="0" role="region" aria-label="Are the arms alike?"><ArmsAlike /></div>
        <div class="pinned strong-rule">
          <section class="stack tight">
            <h2>What stands in the way</h2>
            <p v-if="trial.findings.length === 0 && cuts.length" class="check" data-testid="nothing">
              Nothing. The arms are alike.
            </p>
            <p v-else-if="cuts.length === 0" class="soot" data-testid="nothing">
              No cut hangs yet, so nothing can be told.
            </p>
            <FindingList
              :findings="trial.findings"
              :accepted="trial.accepted"
              :shut="fixed"
              :elsewhere="`/trials/${trial.id}/ask`"
              @mend="mend"
              @accept="acceptFinding"
              @withdraw="withdraw"
            />
            <ProblemNote :problem="problem" />
          </section>
          <section class="stack tight no-print">
            <div class="row">
              <Button v-if="!fixed" :loading="busy" data-testid="draw-arms" @click="drawArms"
                >{{ last ? 'Draw again' : 'Draw the arms' }} <KeyCap>D</KeyCap></Button
              >
            </div>
            <DrawRecord :lit="lit" :busy="busy" @back="backTo" />
          </section>
        </div>
      </div>
    </aside>
  </div>
  <div v-if="dragged && at" class="ghost num" :style="{ left: `${at.x}px`, top: `${at.y}px` }">{{ dragged.name }}</div>
  <ReasonDialog />
  <DivideDialog v-model="dividing" />
</template>

<style scoped>
.head {
  padding-bottom: 8px;
  max-width: none;
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: 16px;
}
.head .row {
  flex-wrap: nowrap;
  white-space: nowrap;
}
.two > section {
  min-width: 0;
}
.bench,
.maps {
  border-top: var(--line-strong) solid var(--ink);
}
.maps {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.grates {
  display: flex;
  flex-wrap: wrap;
  gap: 24px;
}
.divided {
  padding: 4px 16px;
  background: var(--board);
}
.side {
  position: sticky;
  top: 0;
  height: calc(100vh - 98px);
  display: flex;
  flex-direction: column;
}
.alike {
  padding: 16px;
  overflow-y: auto;
  flex: 1;
}
.pinned {
  padding: 12px 16px;
  max-height: 62%;
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.tight {
  gap: 10px;
}
.ghost {
  position: fixed;
  z-index: 50;
  pointer-events: none;
  transform: translate(-50%, -130%);
  background: var(--ink);
  color: var(--board);
  padding: 4px 10px;
  font-weight: 700;
}
@media (max-width: 900px) {
  .side {
    position: static;
    height: auto;
  }
  .pinned {
    max-height: none;
  }
  .head {
    flex-direction: column;
    align-items: start;
  }
}
</style>
