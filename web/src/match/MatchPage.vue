<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import SelectButton from 'primevue/selectbutton'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView } from '../api/schema.gen'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import GateLine from '../ui/GateLine.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { sentence, typedWeight, weight, weightDifference, weightHint } from '../ui/units'
import HangingRail from './HangingRail.vue'
import { useResolution } from './resolution'

const { trial, set, armOf, shut } = useThisTrial()
const { run, busy, problem } = useAct()
const cuts = computed(() => trial.value.cuts)
const picked = ref<number | null>(null)
const cut = computed(() => cuts.value.find((c) => c.id === picked.value) ?? null)
const resolution = useResolution()

const slip = reactive({
  name: '',
  pair: '',
  animal: '',
  side: '',
  batch: '',
  bought: '',
  trimmed: '',
  arm_id: null as number | null,
})
const arms = computed(() => trial.value.ask.arms.map((a) => ({ label: a.tag, value: a.id })))

/** A weight in the reader's units; only a changed text is a new weighing. */
function shownAt(c: CutView | null, stage: 'bought' | 'trimmed'): string {
  const w = c && weighingAt(c, stage)
  return w ? typedWeight(w) : ''
}
function lift(c: CutView | null) {
  picked.value = c?.id ?? null
  problem.value = null
  Object.assign(slip, {
    name: c?.name ?? '',
    pair: c?.pair ?? '',
    animal: c?.animal ?? '',
    side: c?.side ?? '',
    batch: c?.batch ?? '',
    arm_id: c?.arm_id ?? null,
    bought: shownAt(c, 'bought'),
    trimmed: shownAt(c, 'trimmed'),
  })
}
watch(
  () => trial.value.id,
  () => lift(null),
)

async function keep() {
  const id = picked.value
  const body = {
    name: slip.name,
    pair: slip.pair,
    animal: slip.animal,
    side: slip.side,
    batch: slip.batch,
    arm_id: slip.arm_id,
  }
  const before = new Set(cuts.value.map((c) => c.id))
  const old = cut.value
  // A cut on the table can still be weighed; only a changed tag is sent.
  if (!old || Object.entries(body).some(([k, v]) => old[k as keyof typeof body] !== v)) {
    const v = await run(() =>
      id === null
        ? ok(api.POST('/api/trials/{id}/cuts', { params: { path: { id: trial.value.id } }, body }))
        : ok(api.PUT('/api/cuts/{id}', { params: { path: { id } }, body })),
    )
    if (!v) return
    set(v)
  }
  const at = id ?? cuts.value.find((c) => !before.has(c.id))!.id
  picked.value = at
  for (const stage of ['bought', 'trimmed'] as const) {
    const c = trial.value.cuts.find((c) => c.id === at)!
    if (!slip[stage].trim() || slip[stage].trim() === shownAt(c, stage)) continue
    const w = await run(() =>
      ok(
        api.POST('/api/cuts/{id}/weighings', {
          params: { path: { id: at } },
          body: { stage, weight: slip[stage], resolution: resolution.value },
        }),
      ),
    )
    if (!w) return
    set(w)
  }
  // The next cut follows by itself; a new one after a new one.
  const next = id === null ? null : (cuts.value[cuts.value.findIndex((c) => c.id === id) + 1] ?? null)
  const pair = id === null ? nextPair(slip.pair) : ''
  lift(next)
  if (id === null) slip.pair = pair
  await nextTick()
  document.getElementById(next ? 'cut-trimmed' : 'cut-name')?.focus()
}

/** After the second cut of a pair the next number is offered. */
function nextPair(pair: string): string {
  const n = cuts.value.filter((c) => c.pair === pair).length
  return n < 2 ? pair : /^\d+$/.test(pair) ? String(Number(pair) + 1) : ''
}

async function takeOut() {
  const id = picked.value!
  const v = await run(() =>
    ok(api.POST('/api/cuts/{id}/void', { params: { path: { id } }, body: { why: 'taken out in Match' } })),
  )
  if (v) {
    set(v)
    lift(null)
  }
}

/** Moves a cut to the other arm; its twin moves the other way. */
async function swap(c: CutView) {
  if (shut.value) return
  const ids = trial.value.ask.arms.map((a) => a.id)
  const other = ids[armOf(c) === 0 ? 1 : 0]!
  const twin = c.pair ? cuts.value.find((t) => t.pair === c.pair && t.id !== c.id) : undefined
  const move = (cut: CutView, arm_id: number) =>
    ok(
      api.PUT('/api/cuts/{id}', {
        params: { path: { id: cut.id } },
        body: { name: cut.name, pair: cut.pair, animal: cut.animal, side: cut.side, batch: cut.batch, arm_id },
      }),
    )
  const v = await run(async () => {
    const first = await move(c, other)
    return twin
      ? await move(
          twin,
          ids.find((i) => i !== other)!,
        )
      : first
  })
  set(v)
  if (picked.value !== null) lift(cuts.value.find((x) => x.id === picked.value) ?? null)
}

useKeys((key) => {
  const at = cuts.value.findIndex((c) => c.id === picked.value)
  if (key === 'ArrowRight' || key === 'ArrowDown')
    return (lift(cuts.value[Math.min(at + 1, cuts.value.length - 1)] ?? null), true)
  if (key === 'ArrowLeft' || key === 'ArrowUp') return (lift(cuts.value[Math.max(at - 1, 0)] ?? null), true)
  if (key === 'x' && cut.value) return (void swap(cut.value), true)
})

const lines = computed(() => trial.value.balance.arms.map((a) => ({ mean: a.mean_kg, values: a.kg })))
const headline = computed(() => {
  const pairs = new Set(cuts.value.map((c) => c.pair).filter(Boolean)).size
  const n = cuts.value.length
  return n === 0
    ? 'Hang the first cut.'
    : `${n} ${n === 1 ? 'cut' : 'cuts'}, ${pairs} ${pairs === 1 ? 'pair' : 'pairs'}, two arms.`
})
</script>

<template>
  <div class="two">
    <section>
      <div class="page head">
        <h1>{{ headline }}</h1>
        <p class="soot">Two of a pair go to different arms. Tap a tag to swap the pair.</p>
      </div>
      <HangingRail :cuts="cuts" :picked="picked" @pick="lift" @swap="swap" />
      <form class="trough slip" @submit.prevent="keep">
        <div class="row">
          <h2>{{ cut ? `${trial.ask.cut} ${cut.name}` : 'Hang a cut' }}</h2>
          <Button v-if="cut" label="Hang another cut" size="small" outlined @click="lift(null)" />
          <Button v-if="cut && !shut" label="Take out" size="small" text @click="takeOut" />
          <label class="row push small"
            >Scale step <InputText v-model="resolution" class="mono-input step" aria-label="Scale step"
          /></label>
        </div>
        <ProblemNote :problem="problem" />
        <div class="fields">
          <div class="field">
            <label for="cut-name">Name</label
            ><InputText id="cut-name" v-model="slip.name" class="mono-input" placeholder="1L" :disabled="shut" />
          </div>
          <div class="field">
            <label for="cut-pair">Pair</label
            ><InputText id="cut-pair" v-model="slip.pair" class="mono-input" placeholder="1" :disabled="shut" />
          </div>
          <div class="field">
            <label for="cut-animal">Animal</label
            ><InputText id="cut-animal" v-model="slip.animal" placeholder="Lamb 1" :disabled="shut" />
          </div>
          <div class="field">
            <label for="cut-side">Side</label
            ><InputText id="cut-side" v-model="slip.side" placeholder="left" :disabled="shut" />
          </div>
          <div v-if="trial.ask.unit === 'batch'" class="field">
            <label for="cut-batch">Batch</label><InputText id="cut-batch" v-model="slip.batch" :disabled="shut" />
          </div>
          <div class="field weigh">
            <label for="cut-bought">Bought weight</label
            ><InputText
              id="cut-bought"
              v-model="slip.bought"
              class="mono-input"
              :placeholder="weightHint()"
              :disabled="shut"
            />
          </div>
          <div class="field weigh">
            <label for="cut-trimmed">Trimmed weight</label
            ><InputText
              id="cut-trimmed"
              v-model="slip.trimmed"
              class="mono-input"
              :placeholder="weightHint()"
              :disabled="shut"
            />
          </div>
          <div class="field">
            <span class="label">Arm</span
            ><SelectButton
              v-model="slip.arm_id"
              :options="arms"
              option-label="label"
              option-value="value"
              aria-label="Arm"
              :disabled="shut"
            />
          </div>
          <Button v-if="!shut" type="submit" :loading="busy" data-testid="keep-cut"
            >{{ cut ? 'Keep' : 'Hang it' }} <KeyCap>Enter</KeyCap></Button
          >
        </div>
      </form>
    </section>
    <aside class="stack side">
      <h2>Are the arms alike?</h2>
      <div>
        <b>Trimmed weight</b> <span class="soot small">within {{ weightDifference(trial.balance.gate_kg) }}</span>
        <GateLine :arms="lines" :gate="trial.balance.gate_kg" />
        <div v-for="(a, i) in trial.balance.arms" :key="i" class="row mean">
          <ArmName :place="i" :tag="trial.ask.arms[i]!.tag" /> <span class="soot small">{{ a.cuts }} cuts</span>
          <b class="num push">{{ a.mean_kg === null ? '–' : weight(a.mean_kg) }}</b>
        </div>
        <div v-if="trial.balance.difference_kg !== null" class="row mean rule" data-testid="difference">
          <span :class="trial.balance.alike ? 'check' : 'triangle apart'">{{
            trial.balance.alike ? 'alike' : 'apart'
          }}</span>
          <b class="num big push">{{ weightDifference(trial.balance.difference_kg) }}</b>
        </div>
      </div>
      <p v-for="w in trial.balance.warnings" :key="w" class="warn triangle">{{ sentence(w) }}</p>
    </aside>
  </div>
</template>

<style scoped>
.head {
  padding-bottom: 8px;
  max-width: none;
}
.slip {
  border-top: var(--line-strong) solid var(--ink);
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.step {
  width: 90px;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
.fields :deep(input) {
  width: 84px;
}
.fields #cut-animal {
  width: 150px;
}
.fields .weigh :deep(input) {
  width: 172px;
}
.side {
  padding: 16px;
}
.mean {
  padding: 6px 0;
}
.apart {
  color: var(--watch);
  font-weight: 700;
}
</style>
