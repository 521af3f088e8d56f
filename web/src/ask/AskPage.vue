<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import SelectButton from 'primevue/selectbutton'
import { computed, inject, provide, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok, Refused } from '../api/client'
import type { Ask, Reading, TrialView } from '../api/schema.gen'
import { useSession } from '../session/session'
import { trialKey } from '../trial/trial'
import { useKept } from '../ui/kept'
import ProblemNote from '../ui/ProblemNote.vue'
import { title } from '../ui/title'
import LayoutTrials from './LayoutTrials.vue'
import { useDraft } from './draft'
import AskReading from './AskReading.vue'
import { askKey, newFactor, newLevel, sent } from './ask'
import AskSentence from './AskSentence.vue'
import AtHand from './AtHand.vue'
import FactorTable from './FactorTable.vue'
import HeldList from './HeldList.vue'
import OutcomeTable from './OutcomeTable.vue'
import { allNumbers } from '../ui/number'

const route = useRoute()
const router = useRouter()
const frame = inject(trialKey, null)
const trial = computed(() => frame?.trial.value)
const { isPitmaster } = useSession()
const { data: catalogue, isFetched: listed } = useQuery({
  queryKey: ['catalogue'],
  queryFn: () => ok(api.GET('/api/catalogue')),
})
const { run, busy, problem } = useAct()
const saved = ref(false)
if (!frame) title.value = 'A new question'

const ask = reactive<Ask>({
  kind: '',
  question: '',
  product: '',
  product_id: 0,
  family: '',
  cut: '',
  written_up: false,
  species: '',
  handling: '',
  whole_bird: false,
  meat_confirmed: false,
  meat_why: '',
  factors: [],
  arms: [],
  held: [],
  outcomes: [],
  contexts: [],
  allergens: [],
  words: [],
  hand: { blocks: 6, block_size: 2, pits: 1, positions: 12, cook_days: 2, tasters: 5, cut_cents: 0 },
  layout: '',
  follows_id: null,
})
const allergens = ref('')
const words = ref('')
const shut = computed(() => !isPitmaster.value || !!trial.value?.revealed_at)

const kinds: { label: string; value: Ask['kind'] }[] = [
  { label: 'Meat, side by side', value: '' },
  { label: 'Set-ups of a pit, without meat', value: 'set-ups' },
]
const dry = computed(() => ask.kind === 'set-ups')
/** Another kind begins from its own usual question; words of the one before do not fit it. */
function ofKind(kind: Ask['kind']) {
  const usual = catalogue.value?.templates.find((t) => t.ask.kind === kind && kind)
  start(usual?.ask ?? catalogue.value!.start)
}
function take(next: Ask) {
  Object.assign(ask, JSON.parse(JSON.stringify(next)))
  allergens.value = next.allergens.join(', ')
  words.value = next.words.join(', ')
}
// What is typed stays over what is read anew, until it is kept or let go.
const base = ref('') // as it was kept, or began
const version = ref(-1) // of none yet
const theirs = ref<TrialView | null>(null) // what somebody else kept meanwhile
const typed = computed(() => (shut.value ? null : { ask, allergens: allergens.value, words: words.value }))
const dirty = computed(() => base.value !== '' && JSON.stringify(typed.value) !== base.value)
watch(dirty, (is) => is && (saved.value = false))
const begin = () => (base.value = JSON.stringify({ ask, allergens: allergens.value, words: words.value }))
function show(t: TrialView) {
  take(t.ask)
  begin()
  version.value = t.ask_version
  theirs.value = null
}
watch(
  trial,
  (t) => {
    if (!t || t.ask_version === version.value) return
    if (!dirty.value) show(t)
    else theirs.value = t
  },
  { immediate: true },
)
const { restore, restored, letGo } = useKept('Ask', () => `ask ${trial.value?.id ?? 'new'}`, typed, base)
function bringBack() {
  const was = shut.value ? null : restore()
  if (was) {
    Object.assign(ask, was.ask)
    allergens.value = was.allergens
    words.value = was.words ?? ''
  }
  return was !== null
}
if (trial.value && bringBack() && restored.value === 'changed since') {
  theirs.value = trial.value
  version.value = -1 // of neither, until one is chosen
}
function discard() {
  if (trial.value) show(trial.value)
  else if (catalogue.value) {
    start(catalogue.value.start)
    begin()
  }
  letGo()
}

/** A new ask starts empty, from a template, or from another trial. */
function start(next: Ask) {
  const a: Ask = JSON.parse(JSON.stringify(next))
  if (a.factors.length === 0) a.factors.push(newFactor(a.kind))
  while (a.arms.length < 2)
    a.arms.push({ id: 0, tag: '', levels: a.factors.map(() => newLevel()), control: a.arms.length === 0 })
  take(a)
}
const { from, card, draft } = useDraft(!frame)
watch(
  [catalogue, draft],
  ([c, d]) => {
    if (frame || !c || ask.factors.length) return
    if (from.value > 0) {
      if (!d) return
      start(d)
      begin()
    } else {
      const usual = c.templates.find((t) => t.key === route.query.template)
      start(usual?.ask ?? c.start)
      begin()
      if (!usual) bringBack()
    }
  },
  { immediate: true },
)

// What the ask can tell is read anew at every change.
const reading = ref<Reading>()
let asked = 0
let readOf = ''
async function read() {
  const mine = ++asked
  const body = JSON.stringify(clean())
  try {
    const r = await ok(
      api.POST('/api/design/review', { body: { ask: JSON.parse(body), trial_id: trial.value?.id ?? 0 } }),
    )
    if (mine === asked) {
      reading.value = r
      readOf = body
    }
  } catch (e) {
    // What was read last stands until the next change; keeping it says what is wrong.
    if (!(e instanceof Refused)) throw e
  }
}
watchDebounced(ask, read, { deep: true, debounce: 200, immediate: true })
/** Mends what was found. It is read anew if something was typed since, so that no typing is lost. */
async function mend(finding: string, words: string) {
  if (readOf !== JSON.stringify(clean())) await read()
  const m = reading.value?.findings.find((f) => f.key === finding)?.mends.find((m) => m.do === words)
  if (m?.ask) take(m.ask)
}
provide(askKey, {
  ask,
  catalogue: computed(() => catalogue.value),
  reading: computed(() => reading.value),
  shut,
  problem: computed(() => problem.value),
  take,
  mend,
})

const clean = () => sent(ask, allergens.value, words.value, catalogue.value)

function mine() {
  version.value = theirs.value!.ask_version
  theirs.value = null
  problem.value = null
}
const client = useQueryClient()
/** Words of one's own are of the barn's catalogue from now on. */
const named = () => client.invalidateQueries({ queryKey: ['catalogue'] })
async function keep() {
  saved.value = false
  if (!allNumbers()) return
  const body = clean()
  const kept = JSON.stringify(typed.value)
  if (!trial.value) {
    const t = await run(() =>
      ok(api.POST('/api/trials', { params: { query: card.value ? { card: card.value } : {} }, body })),
    )
    if (!t) return
    void named()
    letGo('ask new')
    await router.push(`/trials/${t.id}/${dry.value ? 'plan' : 'match'}`)
    return
  }
  const params = { path: { id: trial.value.id } }
  const was = trial.value.ask
  const meat = { species: body.species, handling: body.handling, whole_bird: body.whole_bird }
  if (was.species !== meat.species || was.handling !== meat.handling || was.whole_bird !== meat.whole_bird) {
    const why = body.meat_why === was.meat_why ? '' : body.meat_why
    if (!(await run(() => ok(api.PUT('/api/trials/{id}/meat', { params, body: { ...meat, why } }))))) return
  }
  const t = await run(() =>
    ok(api.PUT('/api/trials/{id}/ask', { params: { ...params, query: { version: version.value } }, body })),
  )
  if (!t) {
    if (problem.value?.status === 409) void frame!.refresh('ask')
    return
  }
  void named()
  const now = frame!.set(t)!
  if (JSON.stringify(typed.value) !== kept) {
    // What was typed meanwhile goes on from here.
    base.value = kept
    version.value = now.ask_version
    theirs.value = null
    return
  }
  show(now)
  letGo()
  saved.value = true
}
</script>

<template>
  <form v-if="frame || listed" class="ask" @submit.prevent="keep">
    <fieldset :disabled="shut">
      <section class="page stack">
        <h1 v-if="!frame">A new question</h1>
        <SelectButton
          v-if="!frame"
          :model-value="ask.kind"
          :options="kinds"
          option-label="label"
          option-value="value"
          :allow-empty="false"
          aria-label="What it is about"
          @update:model-value="ofKind"
        />
        <div v-if="!frame && from === 0" class="row templates" role="group" aria-label="Usual questions">
          <span class="soot small">A usual question</span>
          <Button
            v-for="t in catalogue?.templates.filter((x) => x.ask.kind === ask.kind)"
            :key="t.key"
            :label="t.ask.question"
            size="small"
            outlined
            :data-testid="`template-${t.key}`"
            @click="
              start({
                ...t.ask,
                product: t.ask.kind ? '' : ask.product,
                cut: ask.cut,
                species: ask.species,
                handling: ask.handling,
                whole_bird: ask.whole_bird,
              })
            "
          />
        </div>
        <p v-if="ask.follows_id" class="small">
          Follows from
          <RouterLink :to="`/trials/${ask.follows_id}/settle`">trial {{ ask.follows_id }}</RouterLink
          >: what was held equal there, and the way it went on with, are held here.
        </p>
        <AskSentence />
        <FactorTable />
        <div class="halves">
          <HeldList />
          <AtHand v-if="!dry" />
        </div>
        <OutcomeTable v-if="!dry" />
        <div v-if="!dry" class="field">
          <label for="allergens">Allergens in any arm, for all tasters alike (comma between)</label>
          <InputText id="allergens" v-model="allergens" placeholder="mustard, milk" />
        </div>
        <div v-if="!dry" class="field">
          <label for="words">What tasters can tick of a sample (comma between; empty is the usual)</label>
          <InputText id="words" v-model="words" placeholder="sour, bitter, too salty, greasy" />
        </div>
      </section>
    </fieldset>
    <aside class="board">
      <div class="panel" :class="{ fresh: !frame }">
        <AskReading />
        <div class="keep strong-rule stack">
          <ProblemNote :problem="problem" />
          <div v-if="theirs" class="warn stack" data-testid="theirs">
            <b class="triangle">Somebody kept another ask meanwhile: “{{ theirs.ask.question }}”</b>
            <div class="row">
              <Button size="small" label="Take theirs" @click="show(theirs)" />
              <Button size="small" outlined label="Go on with mine" @click="mine" />
            </div>
          </div>
          <p v-else-if="dirty && (trial || restored) && !shut" class="small" data-testid="unsaved">
            {{ restored ? 'What you typed before is here again.' : 'Not saved yet.' }}
            <Button size="small" text label="Let it go" @click="discard" />
          </p>
          <p v-if="shut" class="soot">
            {{ trial?.revealed_at ? 'The codes are open, so the ask is shut.' : 'A pitmaster writes the ask.' }}
          </p>
          <div class="row">
            <Button
              v-if="!shut"
              type="submit"
              :label="trial ? 'Save' : dry ? 'Ask it, then plan the burns' : 'Ask it, then match the cuts'"
              :loading="busy"
              data-testid="keep-ask"
            />
            <span v-if="saved" class="check" role="status">saved</span>
            <template v-if="trial && isPitmaster">
              <RouterLink class="small" :to="`/trials/new?copy=${trial.id}`">Copy this trial</RouterLink>
              <RouterLink class="small" :to="`/trials/new?follow=${trial.id}`">Follow on from it</RouterLink>
            </template>
          </div>
        </div>
      </div>
    </aside>
  </form>
  <LayoutTrials v-if="trial && !dry && trial.ask.arms.length > 1" class="page" :trial="trial.id" :ask="trial.ask" />
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}
aside {
  border-left: var(--line-strong) solid var(--ink);
  padding: 0;
}
.panel {
  position: sticky;
  top: 0;
  height: calc(100vh - 98px);
  display: flex;
  flex-direction: column;
}
.fresh {
  height: calc(100vh - 44px);
}
.keep {
  padding: 12px 16px;
  gap: 8px;
  max-height: 45vh;
  overflow-y: auto;
}
.page {
  width: 100%;
}
.templates {
  gap: 8px;
}
.halves {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 24px;
}
@media (max-width: 900px) {
  .ask,
  .halves {
    grid-template-columns: minmax(0, 1fr);
  }
  aside {
    border-left: 0;
    border-top: var(--line-strong) solid var(--ink);
  }
  .panel {
    position: static;
    height: auto;
  }
}
</style>
