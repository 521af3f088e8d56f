<script setup lang="ts">
import { refDebounced, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { AnswerInput, PlateSample, PlateView } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import { useBallot, type Draft } from './ballot'
import EatersAdvice from './EatersAdvice.vue'
import PlateAnswer from './PlateAnswer.vue'
import PlateAsk from './PlateAsk.vue'
import SealFoot from './SealFoot.vue'
import WhatItWas from './WhatItWas.vue'

const token = String(useRoute().params.token)
const ballot = useBallot(token)
const { view, plates, problem, drafts, load, sending: busy } = ballot
const water = ref(0)
const told = useLocalStorage(`barn.told.${token}`, false)
useIntervalFn(() => (water.value = Math.max(0, water.value - 1)), 1000)

const waits = (s: PlateSample) => !s.sealed && !s.excused && !s.struck
const ends = (p: PlateView) => !whole(p) && (p.sheet.choice || p.sheet.second_look) && !p.ended
const whole = (p: PlateView) => p.sheet.format !== 'scores'
const plate = computed(() =>
  plates.value.find((p) => (!p.ended && p.samples.some(waits)) || (ends(p) && p.samples.some((s) => s.sealed))),
)
const again = ref('') // a second look at this one
const at = computed(() =>
  plate.value ? plate.value.samples.findIndex((s) => (again.value ? s.code === again.value : waits(s))) : -1,
)
const struck = computed(() => plates.value.flatMap((p) => p.samples.filter((s) => s.struck)))
const tell = (susceptible: boolean) => ballot.tell(plate.value!.flight, susceptible)
// What goes through at once would only blink.
const waitsLong = refDebounced(
  computed(() => ballot.waiting.value > 0),
  1500,
)
const sample = computed(() => plate.value?.samples[at.value])
const key = computed(() => (plate.value && sample.value ? ballot.keyOf(plate.value.flight, sample.value.code) : ''))
const draft = computed<Draft>(() => drafts.value[key.value] ?? { scores: {}, faults: [] })
const left = computed(
  () => (plate.value?.sheet.attributes ?? []).filter((a) => draft.value.scores[a.key] === undefined).length,
)
const count = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine']
const nth = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth']

const sure = ref(false)
function leaveOut() {
  sure.value = true
  void seal(true)
}
async function leavePlate() {
  const p = plate.value!
  for (const s of p.samples.filter(waits)) await ballot.seal(p.flight, s.code, true)
}
function begin() {
  told.value = true
  void ballot.consent()
}
/** Seals on this phone; the next sample does not wait for the barn. */
async function seal(excused: boolean) {
  if (excused && !sure.value) return void (sure.value = true)
  sure.value = false
  const { flight, sheet } = plate.value!
  const done = ballot.seal(flight, sample.value!.code, excused)
  again.value = ''
  if (sample.value) water.value = sheet.water_s
  window.scrollTo(0, 0)
  await done
}
async function answer(a: AnswerInput) {
  again.value = ''
  window.scrollTo(0, 0)
  await ballot.answer(a)
}
</script>

<template>
  <main class="taste">
    <template v-if="!view">
      <ProblemNote :problem="problem" />
      <button v-if="problem" type="button" class="seal" @click="load">Try again</button>
    </template>
    <template v-else>
      <header class="row">
        <span
          ><b>{{ view.taster }}</b
          >, your plate</span
        >
        <span v-if="plate && sample && !whole(plate)" class="push soot"
          >{{ nth[at] }} of {{ count[plate.samples.length] }}</span
        >
      </header>
      <p v-if="ballot.waiting.value && waitsLong" class="waits" role="status" data-testid="seals-wait">
        <b class="num">{{ ballot.waiting.value }}</b> sealed and kept on this phone. Stay on this page: it goes by
        itself.
      </p>
      <ProblemNote v-if="problem && !(plate && sample)" :problem="problem" />
      <section v-if="struck.length" class="struck" role="alert" data-testid="do-not-eat">
        <p v-for="s in struck" :key="s.code">
          <b class="triangle"
            >Do not eat <span class="num code">{{ s.code }}</span></b
          >
        </p>
        <p>It was stopped. Set the cup aside, and tell the carver if you ate of it.</p>
      </section>
      <section v-if="!told && plate" class="step stack">
        <h1>Before you taste</h1>
        <p v-if="view.allergens.length" class="warn triangle">
          <b>Any sample may hold {{ view.allergens.join(', ') }}.</b>
        </p>
        <p v-else>No allergens are named. Ask the carver if you must avoid something.</p>
        <p>
          Each cup has a number. Taste in the order shown. Say nothing until all are sealed: there are no right answers.
        </p>
        <button type="button" class="seal" data-testid="begin" @click="begin">I am ready to taste</button>
      </section>
      <section v-else-if="plate?.advised && !plate.told" class="step stack" data-testid="advice">
        <h1>Before this plate</h1>
        <EatersAdvice />
        <button type="button" class="seal" data-testid="accept-advice" :disabled="busy" @click="tell(false)">
          I know, and want to taste
        </button>
        <button type="button" class="excuse wide" :disabled="busy" @click="tell(true)">It is not for me</button>
      </section>
      <section v-else-if="plate?.advised && plate.susceptible" class="step stack">
        <h1>Leave this plate out</h1>
        <p>You said it is not for you. Nothing of it needs to be eaten.</p>
        <button type="button" class="seal" data-testid="leave-out" @click="leaveOut">
          Leave {{ sample!.code }} out
        </button>
      </section>
      <section v-else-if="plate?.paused" class="step stack" data-testid="paused">
        <h1>A short pause</h1>
        <p>Taste nothing now. It goes on here by itself.</p>
      </section>
      <section v-else-if="plate && water > 0 && plate.sheet.water_s > 0" class="step stack">
        <h1>Water and bread</h1>
        <p>Next on your plate is</p>
        <p class="code num">{{ sample!.code }}</p>
        <p class="soot">
          A minute clears the tongue: <b class="num">{{ water }}</b> s
        </p>
        <button type="button" class="seal" data-testid="go-on" @click="water = 0">
          I am ready for {{ sample!.code }}
        </button>
      </section>
      <PlateAnswer
        v-else-if="plate && (whole(plate) || !sample)"
        :key="plate.flight"
        :plate="plate"
        @answer="answer"
        @again="(code) => (again = code)"
        @excuse="leavePlate"
      >
        <ProblemNote :problem="problem" />
      </PlateAnswer>
      <template v-else-if="plate && sample">
        <div class="tally" aria-hidden="true">
          <span
            v-for="(s, i) in plate.samples"
            :key="s.code"
            :class="{ done: s.sealed || s.excused, here: i === at, off: s.struck }"
            ><b class="num">{{ s.code }}</b
            ><i
          /></span>
        </div>
        <PlateAsk
          :plate="plate"
          :code="sample.code"
          :draft="draft"
          @put="(d) => ballot.put(plate!.flight, sample!.code, d)"
        />
        <SealFoot
          :key="key"
          name="seal"
          :label="`Seal ${sample.code}${left ? `: ${left} to go` : ''}`"
          :question="`Seal ${sample.code} for good? Sealed scores stay shut.`"
          :ready="left === 0"
          :otherwise="sure ? 'Yes, leave it out' : 'Can\'t score'"
          @seal="seal(false)"
          @otherwise="seal(true)"
        >
          <ProblemNote :problem="problem" />
        </SealFoot>
      </template>
      <section v-else class="step stack">
        <h1 data-testid="thanks">
          {{
            view.closed ? 'Tasting is over' : plates.length ? 'All sealed. Thank you.' : 'Your plate is not served yet'
          }}
        </h1>
        <p v-if="!view.closed">
          {{ plates.length ? 'If another flight comes, it opens here by itself.' : 'It opens here by itself.' }}
        </p>
        <WhatItWas v-else-if="view.was.length" :was="view.was" :token="token" />
        <p v-else>Thank you. What each was, the host can tell you.</p>
      </section>
    </template>
  </main>
</template>

<style scoped>
.taste {
  max-width: 480px;
  margin: 0 auto;
  min-height: 100vh;
  display: flex;
  flex-direction: column;
  background: var(--lime);
}
header {
  padding: 12px 16px 8px;
  background: var(--board);
}
.step {
  padding: 32px 16px;
}
.tally {
  display: flex;
  padding: 0 16px 6px;
  background: var(--board);
}
.tally span {
  flex: 1;
  text-align: center;
  font-size: 15px;
}
.tally b {
  font-weight: 400;
}
.tally .here b {
  font-weight: 700;
}
.tally .off b {
  text-decoration: line-through;
  color: var(--alarm);
}
.waits {
  padding: 8px 16px;
  background: var(--watch-wash);
  color: var(--watch);
}
.struck {
  padding: 12px 16px;
  background: var(--alarm-wash);
  color: var(--alarm);
  border-left: 6px solid var(--alarm);
}
.struck .code {
  font-size: 44px;
}
.taste :deep(.excuse.wide) {
  width: 100%;
}
.tally i {
  display: block;
  height: 9px;
  background: var(--trough);
  border: var(--line) solid var(--grain);
}
.tally .done i {
  background: var(--ink);
  clip-path: polygon(0 0, calc(100% - 6px) 0, 100% 100%, 0 100%);
}
.tally .here i {
  background: var(--board);
  border: 3px solid var(--ink);
}
.code {
  font-size: 80px;
  font-weight: 700;
  line-height: 1;
}
.taste :deep(footer) {
  position: sticky;
  bottom: 0;
  background: var(--board);
  border-top: var(--line-strong) solid var(--ink);
  padding: 10px 16px 8px;
}
.taste :deep(.nowrap) {
  flex-wrap: nowrap;
}
.taste :deep(.seal),
.taste :deep(.excuse) {
  --tall: 56px;
  min-height: var(--tall);
  border-radius: var(--r-2);
  border: 2px solid var(--ink);
  font-weight: 700;
  cursor: pointer;
}
.taste :deep(.seal) {
  flex: 1;
  background: var(--ink);
  color: var(--board);
  font-size: 19px;
}
.taste :deep(.seal.open) {
  background: var(--board);
  color: var(--soot);
  border: 2.5px dashed var(--edge);
}
.taste :deep(.excuse) {
  background: var(--board);
  min-width: 96px;
}
</style>
