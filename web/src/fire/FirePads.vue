<script setup lang="ts">
import Button from 'primevue/button'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok, upload } from '../api/client'
import type { CookView, CutView, Detail, Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, fromLocal, toLocal } from '../ui/time'
import { actRow, keyOf, label, letterOf, more, pads, type Who } from './acts'
import CautionSheet from './CautionSheet.vue'
import CutChips from './CutChips.vue'
import FireSheet from './FireSheet.vue'
import { runOf, runsPressed } from './lanes'
import KeptHere from './KeptHere.vue'
import LastEntry from './LastEntry.vue'
import MorePads from './MorePads.vue'
import { smaller } from './photo'
import { useCookNow } from './now'
import { usePads } from './pads'
import { usePresses } from './presses'
import WhoPressed from './WhoPressed.vue'

const GroupRead = defineAsyncComponent(() => import('./GroupRead.vue'))
const TurnedAwayList = defineAsyncComponent(() => import('./TurnedAwayList.vue'))

const MomentInput = defineAsyncComponent(() => import('../ui/MomentInput.vue'))

/** Who, then what: one pad or key logs an act now, or at the time that is set. */
const props = defineProps<{ cook: CookView }>()
/** Local time of the act; empty is now, by the cook's clock. */
const when = defineModel<string>({ required: true })
const { trial, armOf } = useThisTrial()
const { run, problem } = useAct()
const moreShown = ref(false)

// Who is pressed: an arm, all, or one cut of them; and when.
const pressed = ref<Who>('all')
const onlyCut = ref<number | null>(null)
const cuts = computed(() => trial.value.cuts.filter((c) => c.placement?.cook_id === props.cook.id))
const ofArm = computed(() =>
  cuts.value.filter(
    (c) =>
      pressed.value === 'all' ||
      armOf(c) === pressed.value ||
      pressed.value === `pit ${runOf(c, trial.value.events) ?? 0}`,
  ),
)
const targets = computed(() => (onlyCut.value ? ofArm.value.filter((c) => c.id === onlyCut.value) : ofArm.value))
const runsOfTargets = computed(() => runsPressed(pressed.value, targets.value, props.cook.runs, trial.value.events))
watch(pressed, () => (onlyCut.value = null))
const marked = computed(() => (when.value ? Date.parse(fromLocal(when.value)) : null))
function shift(minutes: number) {
  const base = marked.value ?? Date.parse(props.cook.now)
  when.value = toLocal(base + minutes * 60_000)
}

const cookNow = useCookNow(() => props.cook)
const { last, undoes, did, log: press, amend, undo, outbox, secondHand } = usePresses(() => props.cook, cookNow)
const waits = computed(() => outbox.waiting.value.length > 0)
// What was used is asked for on a tap, or at once where the act says nothing without it.
const saying = ref(false)
const picking = ref(false)
const cutsInLine = computed(() => pressed.value !== 'all' && ofArm.value.length > 1)

const {
  small,
  shown: shownPads,
  behind: morePads,
  dueBehind,
  isDue,
  says: padSays,
  planned,
  noPlanYet,
} = usePads(() => props.cook, cookNow, targets, runsOfTargets)
// What can hurt somebody is read before the first of it in this cook.
const unread = ref<Event['act'] | null>(null)
const warned = (a: Event['act']) =>
  !actRow(a).caution.words.length ||
  did(a) ||
  trial.value.events.some((e) => e.act === a && (cuts.value.some((c) => c.id === e.cut_id) || e.pit_run_id))
const reading = ref<CutView[] | null>(null) // these are read one after the other

function tap(act: Event['act']) {
  moreShown.value = picking.value = false
  saying.value = false // sheets do not lie on each other
  if (act === 'probe' && targets.value.length > 1) return (reading.value = targets.value)
  if (!warned(act)) return (unread.value = act)
  void asPlanned(act)
}
/** A press that comes before the plan has come is of its own moment. */
async function asPlanned(act: Event['act']) {
  const at = marked.value ?? (noPlanYet.value ? cookNow() : null)
  await log(act, await planned(act), at)
}
/** Reads these cuts one after the other. */
function readRound(ids: number[]) {
  moreShown.value = picking.value = saying.value = false
  reading.value = cuts.value.filter((c) => ids.includes(c.id))
}
defineExpose({ readRound })
function read() {
  const act = unread.value!
  unread.value = null
  void asPlanned(act)
}
async function log(act: Event['act'], detail: Detail = {}, moment = marked.value) {
  if (act === 'photo' && !detail.photo_id) return camera.value?.click()
  const pit = actRow(act).of_pit
  const at = moment === null ? null : new Date(moment).toISOString()
  const cut_ids = pit ? [] : targets.value.map((c) => c.id)
  moreShown.value = false
  picking.value = false
  when.value = '' // it was for this press alone
  if (!(await press({ act, at, detail, cut_ids, pit_run_ids: pit ? runsOfTargets.value : [] }))) return
  saying.value = actRow(act).asks_first && Object.keys(detail).length === 0
}
const earlier = (minutes: number) =>
  amend((was) => ({ at: new Date(Math.min(Date.parse(was.at) - minutes * 60_000, cookNow())).toISOString() }))

// A photo is made small here, which also leaves out where it was taken.
const camera = ref<HTMLInputElement | null>(null)
async function photo(e: globalThis.Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  ;(e.target as HTMLInputElement).value = ''
  if (!file) return
  const kept = await run(async () =>
    ok(
      api.POST('/api/cooks/{id}/photos', {
        params: { path: { id: props.cook.id } },
        body: upload(await smaller(file), {}),
      }),
    ),
  )
  if (kept) await log('photo', { photo_id: kept.id })
}

useKeys((key) => {
  if (key === '0') return ((pressed.value = 'all'), true)
  if (/^[1-6]$/.test(key) && Number(key) <= trial.value.ask.arms.length)
    return ((pressed.value = Number(key) - 1), true)
  if (key === 'u' && last.value) return (void undo(), true)
  if (key === '[' || key === ']') return (shift(key === '[' ? -5 : 5), true)
  const act = [...pads, ...more].find((a) => letterOf(a).toLowerCase() === key)
  if (act) return (tap(act), true)
})
</script>

<template>
  <section class="trough pads no-print">
    <ProblemNote :problem="outbox.problem.value ?? problem" />
    <TurnedAwayList v-if="outbox.turnedAway.value.length" :outbox="outbox" :cuts="cuts" :cook="cook" :press="press" />
    <KeptHere :outbox="outbox" />
    <p v-if="secondHand" class="kept" role="status" data-testid="second-hand">
      Not on the record yet: it waits for a second hand, above.
    </p>
    <div class="main">
      <WhoPressed v-model="pressed" :cook="cook" :all="cuts.length" />
      <div class="verbs">
        <button
          v-for="a in shownPads"
          :key="a"
          type="button"
          class="pad"
          :class="{ due: isDue(a) }"
          :data-testid="`pad-${a}`"
          @click="tap(a)"
        >
          <span class="verb"
            ><KeyCap v-if="keyOf(a)">{{ keyOf(a) }}</KeyCap> {{ label(a) }}</span
          >
          <span class="says">{{ padSays(a) }}</span>
        </button>
        <button
          type="button"
          class="pad"
          :class="{ due: !!dueBehind }"
          :aria-expanded="moreShown"
          data-testid="more"
          @click="moreShown = !moreShown"
        >
          <span class="verb">More</span>
          <span class="says">{{ dueBehind ? label(dueBehind) : '' }}</span>
        </button>
      </div>
    </div>
    <MorePads v-if="moreShown" :acts="morePads" :due="isDue" @tap="tap" @close="moreShown = false"
      ><slot v-if="small"
    /></MorePads>
    <CautionSheet v-if="unread" :act="unread" @read="read" @close="unread = null" />
    <FireSheet v-if="reading" class="tall"
      ><GroupRead
        :cook="cook"
        :cuts="reading"
        :press="press"
        :when="marked === null ? null : new Date(marked).toISOString()"
        @close="((reading = null), (when = ''))"
    /></FireSheet>
    <input
      ref="camera"
      type="file"
      accept="image/*"
      capture="environment"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Take a photo"
      @change="photo"
    />
    <div class="line">
      <button
        type="button"
        class="at"
        :class="{ set: when !== '' }"
        :aria-expanded="picking"
        data-testid="when"
        @click="picking = !picking"
      >
        {{ when === '' ? 'At: now' : `At: ${clock(marked!)}, for one press` }}
      </button>
      <Button v-if="when !== ''" outlined label="Now" data-testid="at-now" @click="when = ''" />
      <CutChips v-if="cutsInLine && !small" v-model="onlyCut" :cuts="ofArm" />
      <LastEntry
        v-if="last"
        v-model:details="saying"
        class="push"
        :last="last"
        :undoes="undoes"
        :cook="cook"
        :waits="waits"
        @undo="undo"
        @earlier="earlier"
        @amend="(change) => amend(() => change)"
      />
      <span v-if="!small" :class="{ push: !last }"><slot /></span>
    </div>
    <FireSheet v-if="picking" aria-label="When, and one cut only" data-testid="picking">
      <div class="row">
        <MomentInput
          v-model="when"
          label="Time of the act"
          :day="toLocal(Math.min(Date.parse(cook.now), Date.parse(cook.serve_at))).slice(0, 10)"
        />
        <Button outlined @click="shift(-5)"><KeyCap>[</KeyCap> 5 min earlier</Button>
        <CutChips v-model="onlyCut" :cuts="ofArm" />
        <Button class="push" label="Close" @click="picking = false" />
      </div>
    </FireSheet>
  </section>
</template>

<style scoped>
.pads {
  position: relative;
  border-top: var(--line-strong) solid var(--ink);
  padding: 8px 16px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.kept {
  background: var(--watch-wash);
  color: var(--watch);
  padding: 6px 12px;
  font-weight: 700;
}
.main {
  display: flex;
  gap: 10px;
  align-items: stretch;
}
.verbs {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(70px, 1fr));
  gap: var(--gap-fire);
}
.pad {
  --tall: 60px;
  min-height: var(--tall);
  min-width: 0;
  padding: 4px 2px;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 3px;
  cursor: pointer;
}
.verb {
  font-weight: 700;
  font-size: 15px;
  white-space: nowrap;
}
.says {
  min-height: 1.1em;
  font-size: 13px;
  line-height: 1.1;
  color: var(--soot);
}
.pad.due {
  border-color: var(--ember);
  background: var(--ember-wash);
}
.pad.due .says {
  color: var(--ember);
  font-weight: 700;
}
.pad:active {
  background: var(--ink);
  color: var(--board);
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
  min-width: 0;
}
.at {
  flex: none;
  min-height: 48px;
  padding: 0 12px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  font-weight: 700;
  white-space: nowrap;
  cursor: pointer;
}
.at.set {
  background: var(--ember-wash);
  color: var(--ember);
}
.line :deep(button) {
  min-height: 48px;
}
@media (max-width: 1000px) {
  .main {
    flex-direction: column;
  }
}
@media (max-width: 820px) and (min-height: 501px) {
  .verbs {
    grid-template-columns: repeat(5, minmax(0, 1fr));
  }
}
@media (max-width: 700px), (max-height: 500px) {
  .pads {
    padding: 8px;
  }
  .pads .verbs {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
}
@media (max-height: 500px) {
  .pads {
    gap: 6px;
  }
  .pad {
    --tall: 48px;
    gap: 0;
  }
}
</style>
