<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import SelectButton from 'primevue/selectbutton'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, dateTime, fromLocal, toLocal } from '../ui/time'
import { label, letters, more, ofPit, pads } from './acts'
import FireChart from './FireChart.vue'
import LogImport from './LogImport.vue'

const { trial, set, armOf, shut } = useThisTrial()
const client = useQueryClient()
const { run, busy, problem } = useAct()

const cookId = ref(trial.value.cooks[0]?.id ?? null)
const cook = computed(() => trial.value.cooks.find((k) => k.id === cookId.value) ?? null)
const importing = ref(false)
const moreShown = ref(false)

// The view: all of the log until a hand zooms.
const zoomed = ref<[number, number] | null>(null)
const width = ref(900)
const asked = refDebounced(zoomed, 120)
const columns = refDebounced(width, 200)
const { data: traces } = useQuery({
  queryKey: computed(() => ['traces', cookId.value, asked.value?.[0] ?? 0, asked.value?.[1] ?? 0, columns.value]),
  queryFn: () =>
    ok(
      api.GET('/api/cooks/{id}/traces', {
        params: {
          path: { id: cookId.value! },
          query: {
            from: Math.round(asked.value?.[0] ?? 0),
            to: Math.round(asked.value?.[1] ?? 0),
            columns: Math.max(50, columns.value),
          },
        },
      }),
    ),
  enabled: computed(() => cookId.value !== null),
  placeholderData: keepPreviousData,
  staleTime: 30_000,
})
const hasLog = computed(() => !!traces.value?.traces.length)
const events = computed(() =>
  trial.value.events.filter(
    (e) =>
      e.cook_id === cookId.value ||
      cook.value?.runs.some((r) => r.id === e.pit_run_id) ||
      trial.value.cuts.some((c) => c.id === e.cut_id && c.placement?.cook_id === cookId.value),
  ),
)
const whole = computed<[number, number]>(() => {
  const serve = Date.parse(cook.value?.serve_at ?? '')
  const t = hasLog.value ? [Date.parse(traces.value!.first), Date.parse(traces.value!.last)] : []
  const all = [...t, ...events.value.map((e) => Date.parse(e.at))]
  if (all.length === 0) return [serve - 10 * 3_600_000, serve]
  const [a, b] = [Math.min(...all), Math.max(...all)]
  return [a - (b - a) * 0.05 - 60_000, b + (b - a) * 0.02 + 60_000]
})
const view = computed(() => zoomed.value ?? whole.value)
function look(v: [number, number] | null) {
  const [a, b] = whole.value
  zoomed.value =
    !v || (v[0] <= a && v[1] >= b) || v[1] - v[0] > 2 * (b - a) ? null : v[1] - v[0] < 120_000 ? zoomed.value : v
}
function by(factor: number, shift = 0) {
  const [a, b] = view.value
  const mid = (a + b) / 2 + shift * (b - a)
  look([mid - ((b - a) / 2) * factor, mid + ((b - a) / 2) * factor])
}
watch(cookId, () => (zoomed.value = null))

// Who is pressed: an arm, all, or one cut of them; and when.
const pressed = ref<number | 'all'>('all')
const onlyCut = ref<number | null>(null)
const when = ref('') // empty: now, by the cook's clock
const note = ref('')
const cuts = computed(() => trial.value.cuts.filter((c) => c.placement?.cook_id === cookId.value))
const ofArm = computed(() => cuts.value.filter((c) => pressed.value === 'all' || armOf(c) === pressed.value))
const targets = computed(() => (onlyCut.value ? ofArm.value.filter((c) => c.id === onlyCut.value) : ofArm.value))
const runsOfTargets = computed(() => [...new Set(targets.value.map((c) => c.placement!.pit_run_id!))])
watch(pressed, () => (onlyCut.value = null))
const marked = computed(() => (when.value ? Date.parse(fromLocal(when.value)) : null))
function shift(minutes: number) {
  const base = marked.value ?? Date.parse(cook.value!.now)
  when.value = toLocal(base + minutes * 60_000)
}

const last = ref<{ press: string; text: string } | null>(null)
async function log(act: Event['act']) {
  if (shut.value || !cook.value || busy.value) return
  const press = crypto.randomUUID()
  const pit = ofPit.includes(act)
  const v = await run(() =>
    ok(
      api.POST('/api/cooks/{id}/events', {
        params: { path: { id: cook.value!.id } },
        body: {
          act,
          at: marked.value === null ? null : new Date(marked.value).toISOString(),
          note: note.value,
          cut_ids: pit ? [] : targets.value.map((c) => c.id),
          pit_run_ids: pit ? runsOfTargets.value : [],
          press,
        },
      }),
    ),
  )
  if (!v) return
  set(v)
  note.value = ''
  moreShown.value = false
  const mine = v.events.filter((e) => e.press === press)
  last.value = {
    press,
    text: `${clock(mine[0]!.at)} ${label(act)} ${pit ? '' : targets.value.map((c) => c.name).join(', ')}`,
  }
}
async function undo(press: string, why = 'undo') {
  const v = await run(() => ok(api.POST('/api/presses/{press}/void', { params: { path: { press } }, body: { why } })))
  if (!v) return
  set(v)
  last.value = null
  mending.value = null
}

// One entry can be mended later: another time or note, or taken back.
const mending = ref<{ event: Event; at: string; note: string } | null>(null)
const mend = (e: Event) => (mending.value = { event: e, at: toLocal(e.at), note: e.note })
async function keepMended() {
  const m = mending.value!
  const v = await run(() =>
    ok(
      api.PUT('/api/events/{id}', {
        params: { path: { id: m.event.id } },
        body: { at: fromLocal(m.at), note: m.note },
      }),
    ),
  )
  if (!v) return
  set(v)
  mending.value = null
}
const target = (e: Event) =>
  trial.value.cuts.find((c) => c.id === e.cut_id)?.name ??
  cook.value?.runs.find((r) => r.id === e.pit_run_id)?.pit ??
  'the cook'
const logged = computed(() => events.value.slice().reverse())

useKeys((key) => {
  if (!cook.value) return
  if (key === '0') return ((pressed.value = 'all'), true)
  if (/^[1-6]$/.test(key) && Number(key) <= trial.value.ask.arms.length)
    return ((pressed.value = Number(key) - 1), true)
  if (key === 'i') return (importing.value = !shut.value)
  if (key === 'u' && last.value) return (void undo(last.value.press), true)
  if (key === '[' || key === ']') return (shift(key === '[' ? -5 : 5), true)
  if (key === '+' || key === '=') return (by(0.7), true)
  if (key === '-') return (by(1 / 0.7), true)
  if (key === 'ArrowLeft' || key === 'ArrowRight') return (by(1, key === 'ArrowLeft' ? -0.2 : 0.2), true)
  const act = [...pads, ...more].find((a) => letters[a].toLowerCase() === key)
  if (act) return (void log(act), true)
})

async function imported(r: { trial: typeof trial.value }) {
  set(r.trial)
  zoomed.value = null
  await client.invalidateQueries({ queryKey: ['traces', cookId.value] })
}
</script>

<template>
  <div v-if="!cook" class="page stack">
    <h1>No cook is planned</h1>
    <p>Fire needs a cook with its pit, and cuts placed in it.</p>
    <RouterLink :to="`/trials/${trial.id}/plan`">Plan the cook</RouterLink>
  </div>
  <div v-else class="fire">
    <div class="bar row no-print">
      <SelectButton
        v-if="trial.cooks.length > 1"
        v-model="cookId"
        :options="trial.cooks.map((k, i) => ({ label: `Cook ${i + 1}`, value: k.id }))"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Cook"
      />
      <span
        >Table <b class="num">{{ dateTime(cook.serve_at) }}</b></span
      >
      <span class="push row">
        <Button class="zoom" size="small" outlined aria-label="Closer" @click="by(0.7)"
          >Closer <KeyCap>+</KeyCap></Button
        >
        <Button class="zoom" size="small" outlined aria-label="Further" @click="by(1 / 0.7)"
          >Further <KeyCap>-</KeyCap></Button
        >
        <Button size="small" outlined label="All" class="zoom" :disabled="!zoomed" @click="look(null)" />
        <Button v-if="!shut" size="small" data-testid="open-import" @click="importing = true"
          >Import a log <KeyCap>I</KeyCap></Button
        >
      </span>
    </div>
    <FireChart
      :cook="cook"
      :traces="hasLog ? traces : undefined"
      :view="view"
      :marked="marked"
      @view="look"
      @mark="(ms) => (when = toLocal(ms))"
      @size="(w) => (width = w)"
      @event="mend"
    />
    <p v-if="traces && !hasLog" class="none">No log yet. Import the logger's file, or log by hand below.</p>
    <section v-if="!shut" class="trough pads no-print">
      <ProblemNote :problem="problem" />
      <div class="row top">
        <div class="who" role="group" aria-label="Who">
          <button
            v-for="(a, i) in trial.ask.arms"
            :key="a.id"
            type="button"
            :aria-pressed="pressed === i"
            @click="pressed = i"
          >
            <span class="key num">{{ i + 1 }}</span><ArmToken :place="i" :size="24" /><b class="num">{{ a.tag }}</b>
          </button>
          <button type="button" :aria-pressed="pressed === 'all'" @click="pressed = 'all'">
            <span class="key num">0</span><b class="num all">All</b><b class="num">{{ cuts.length }} cuts</b>
          </button>
        </div>
        <div class="picks">
          <div class="row cutrow" role="group" aria-label="One cut only">
            <button
              v-for="c in ofArm"
              :key="c.id"
              type="button"
              class="one num"
              :aria-pressed="onlyCut === c.id"
              @click="onlyCut = onlyCut === c.id ? null : c.id"
            >
              {{ c.name }}
            </button>
          </div>
          <div class="row">
            <span class="row small" data-testid="when"
              >At <MomentInput v-model="when" label="Time of the act" :day="toLocal(cook.now).slice(0, 10)"
            /></span>
            <Button size="small" outlined @click="shift(-5)"><KeyCap>[</KeyCap> 5 min earlier</Button>
            <Button size="small" :outlined="when !== ''" label="Now" @click="when = ''" />
            <InputText
              v-model="note"
              class="note"
              placeholder="with what, how much"
              aria-label="Note"
              maxlength="400"
            />
          </div>
        </div>
      </div>
      <div class="verbs">
        <button v-for="a in pads" :key="a" type="button" class="pad" :data-testid="`pad-${a}`" @click="log(a)">
          <KeyCap>{{ letters[a] }}</KeyCap> {{ label(a) }}
        </button>
        <button type="button" class="pad" :aria-expanded="moreShown" @click="moreShown = !moreShown">More</button>
        <template v-if="moreShown">
          <button v-for="a in more" :key="a" type="button" class="pad" @click="log(a)">
            <KeyCap>{{ letters[a] }}</KeyCap> {{ label(a) }}
          </button>
        </template>
      </div>
      <div v-if="last" class="row last" role="status" data-testid="last-entry">
        <b>{{ last.text }}</b> <Button size="small" outlined @click="undo(last.press)"><KeyCap>U</KeyCap> Undo</Button>
      </div>
    </section>
    <section class="page stack log">
      <h2>The log</h2>
      <p v-if="logged.length === 0" class="soot">Nothing is logged yet.</p>
      <table v-else data-testid="event-log">
        <tbody>
          <tr v-for="e in logged" :key="e.id">
            <td class="num">{{ dateTime(e.at) }}</td>
            <td>
              <KeyCap>{{ letters[e.act] }}</KeyCap> {{ label(e.act) }}
            </td>
            <td>
              <b class="num">{{ target(e) }}</b>
            </td>
            <td>{{ e.note }}</td>
            <td class="soot">{{ e.by }}</td>
            <td class="no-print"><Button v-if="!shut" size="small" text label="Mend" @click="mend(e)" /></td>
          </tr>
        </tbody>
      </table>
      <details v-if="trial.imports.length">
        <summary>Logs imported</summary>
        <p v-for="i in trial.imports" :key="i.id" class="small">
          {{ i.file_name }} from {{ i.logger }}: <b>{{ i.added }}</b> added, {{ i.already_there }} there already,
          {{ i.trouble.length }} lines with trouble ({{ i.by }}, {{ dateTime(i.at) }})
        </p>
      </details>
      <p class="warn">
        Charcoal and wood fires belong outdoors or under proper draught: carbon monoxide has no smell. Hot fat and metal
        burn: gloves on. Ash stays hot for 48 hours.
      </p>
    </section>
    <LogImport v-model="importing" :cook="cook" @imported="imported" />
    <Dialog :visible="!!mending" modal header="Mend an entry" @update:visible="mending = null">
      <div v-if="mending" class="stack">
        <p>
          <KeyCap>{{ letters[mending.event.act] }}</KeyCap> <b>{{ label(mending.event.act) }}</b>
          {{ target(mending.event) }}, by {{ mending.event.by }}
        </p>
        <ProblemNote :problem="problem" />
        <div class="field">
          <span class="label">At</span><MomentInput v-model="mending.at" label="Time of the entry" :disabled="shut" />
        </div>
        <div class="field">
          <label for="mend-note">Note</label><InputText id="mend-note" v-model="mending.note" :disabled="shut" />
        </div>
        <div v-if="!shut" class="row">
          <Button label="Keep" :loading="busy" @click="keepMended" /><Button
            label="Take the press back"
            outlined
            @click="undo(mending.event.press, 'taken back')"
          />
        </div>
      </div>
    </Dialog>
  </div>
</template>

<style scoped>
.bar {
  padding: 8px 16px;
  background: var(--lime);
}
.none {
  padding: 10px 16px;
  background: var(--board);
  color: var(--soot);
}
.pads {
  border-top: var(--line-strong) solid var(--ink);
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.top {
  align-items: stretch;
}
.who {
  display: flex;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  overflow: hidden;
  background: var(--board);
}
.who button {
  position: relative;
  border: 0;
  border-right: var(--line) solid var(--edge);
  background: none;
  min-width: 88px;
  min-height: 64px;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 2px;
  cursor: pointer;
}
.who button:last-child {
  border-right: 0;
}
.who button[aria-pressed='true'],
.one[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
.key {
  position: absolute;
  top: 4px;
  left: 6px;
  font-size: 13px;
}
.all {
  font-size: 20px;
}
.picks {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-width: 0;
}
.cutrow {
  gap: 6px;
}
.one {
  min-width: 48px;
  min-height: 40px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  cursor: pointer;
  font-weight: 700;
}
.note {
  flex: 1;
  min-width: 160px;
}
.verbs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(112px, 1fr));
  gap: var(--gap-fire);
}
.pad {
  min-height: var(--touch-fire);
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  font-weight: 700;
  font-size: 17px;
  cursor: pointer;
}
.pad:active {
  background: var(--ink);
  color: var(--board);
}
.log td {
  padding-top: 2px;
  padding-bottom: 2px;
}
@media (max-width: 900px) {
  /* On a phone the pads come before the picture. */
  .fire {
    display: flex;
    flex-direction: column;
  }
  .fire > * {
    order: 2;
  }
  .bar,
  .pads {
    order: 1;
  }
  .zoom {
    display: none;
  }
  .verbs {
    grid-template-columns: repeat(3, 1fr);
  }
  .who {
    width: 100%;
  }
  .who button {
    flex: 1;
  }
}
</style>
