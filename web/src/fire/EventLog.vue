<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, Detail, Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { useUndo } from '../trial/undo'
import KeyCap from '../ui/KeyCap.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, dateTime, fromLocal, toLocal } from '../ui/time'
import { uuid } from '../ui/uuid'
import { label, letterOf } from './acts'
import ImportedLogs from './ImportedLogs.vue'
import { notHandedIn } from './waiting'

const DetailForm = defineAsyncComponent(() => import('./DetailForm.vue'))

const MomentInput = defineAsyncComponent(() => import('../ui/MomentInput.vue'))

/** What was logged, newest first; every entry can be mended, none is lost. */
const props = defineProps<{ cook: CookView; events: Event[] }>()
const { trial, set, shut } = useThisTrial()
const { run, busy, problem } = useAct()
const { offer } = useUndo()

/** What one press wrote: one line, opened on a tap. */
interface Line {
  press: string
  events: Event[]
}
function linesOf(events: Event[]): Line[] {
  const lines: Line[] = []
  const at = new Map<string, Line>()
  for (const e of events.slice().reverse()) {
    const line = at.get(e.press)
    if (line) line.events.unshift(e)
    else {
      at.set(e.press, { press: e.press, events: [e] })
      lines.push(at.get(e.press)!)
    }
  }
  return lines
}
const logged = computed(() => linesOf(props.events.filter((e) => !notHandedIn(e))))
/** What this device did and the barn does not have: a press a line. */
const here = computed(() => linesOf(props.events.filter(notHandedIn)))
const opened = ref(new Set<string>())
function toggle(press: string) {
  const now = new Set(opened.value)
  if (!now.delete(press)) now.add(press)
  opened.value = now
}

// A press, or one entry of it, can be mended later: another time or note, or taken back.
// Once the codes are open it needs a reason, which the verdict names.
const mending = ref<{ events: Event[]; at: string; note: string; detail: Detail; why: string } | null>(null)
const first = computed(() => mending.value!.events[0]!)
function mendAll(events: Event[]) {
  const e = events[0]!
  mending.value = { events, at: toLocal(e.at), note: e.note, detail: e.detail, why: '' }
}
const mend = (e: Event) => mendAll([e])
/** What was asked about may be so all the same. */
const asked = computed(() => problem.value?.errors.some((e) => e.field === 'sure') ?? false)
async function keepMended(sure = false) {
  const m = mending.value!
  const body = { at: fromLocal(m.at), note: m.note, detail: m.detail, press: uuid(), why: m.why, sure }
  const v = await run(() =>
    m.events.length > 1
      ? ok(api.PUT('/api/presses/{press}', { params: { path: { press: first.value.press } }, body }))
      : ok(api.PUT('/api/events/{id}', { params: { path: { id: first.value.id } }, body })),
  )
  if (!v) return
  set(v)
  mending.value = null
}
async function takeBack() {
  const e = first.value
  const v = await run(() =>
    ok(
      api.POST('/api/presses/{press}/void', {
        params: { path: { press: e.press } },
        body: { why: shut.value ? mending.value!.why : 'taken back' },
      }),
    ),
  )
  if (!v) return
  offer(`${label(e.act)} of ${clock(e.at)} was taken back`, { void: { subject: 'press', id: 0, press: e.press } })
  set(v)
  mending.value = null
}
const target = (e: Event) =>
  trial.value.cuts.find((c) => c.id === e.cut_id)?.name ??
  props.cook.runs.find((r) => r.id === e.pit_run_id)?.pit ??
  'the cook'
/** What a press says; where its entries say different things, all of it. */
const said = (events: Event[]) =>
  [...new Set(events.map((e) => [e.said, e.note].filter(Boolean).join('. ')))].filter(Boolean).join('; ')
const targets = (events: Event[]) => events.map(target).join(', ')
defineExpose({ mend })
</script>

<template>
  <section class="page stack log">
    <h2>The log</h2>
    <p v-if="logged.length + here.length === 0" class="soot">Nothing is logged yet.</p>
    <table v-else>
      <tbody v-if="here.length" class="here" data-testid="log-here">
        <tr v-for="{ press, events: those } in here" :key="press">
          <td class="num">{{ dateTime(those[0]!.at) }}</td>
          <td>
            <KeyCap>{{ letterOf(those[0]!.act) }}</KeyCap> {{ label(those[0]!.act) }}
          </td>
          <td>
            <b class="num">{{ targets(those) }}</b>
          </td>
          <td>{{ [said(those), 'not yet handed in'].filter(Boolean).join(', ') }}</td>
          <td>{{ those[0]!.by }}</td>
          <td />
        </tr>
      </tbody>
      <tbody data-testid="event-log">
        <template v-for="l in logged" :key="l.press">
          <tr>
            <td class="num">{{ dateTime(l.events[0]!.at) }}</td>
            <td>
              <KeyCap>{{ letterOf(l.events[0]!.act) }}</KeyCap> {{ label(l.events[0]!.act) }}
            </td>
            <td>
              <b class="num">{{ targets(l.events) }}</b>
            </td>
            <td>
              {{ said(l.events) }}
              <button
                v-if="l.events[0]!.detail.photo_id"
                type="button"
                class="thumb"
                :aria-label="`Photo of ${targets(l.events)}`"
                @click="mendAll(l.events)"
              >
                <img :src="`/api/photos/${l.events[0]!.detail.photo_id}`" alt="" loading="lazy" />
              </button>
            </td>
            <td class="soot">{{ l.events[0]!.by }}</td>
            <td class="no-print acts">
              <Button
                size="small"
                text
                label="Fix"
                :aria-label="`Fix ${label(l.events[0]!.act)} of ${clock(l.events[0]!.at)}`"
                @click="mendAll(l.events)"
              />
              <Button
                v-if="l.events.length > 1"
                size="small"
                text
                :label="opened.has(l.press) ? 'Close' : `${l.events.length} entries`"
                :aria-expanded="opened.has(l.press)"
                @click="toggle(l.press)"
              />
            </td>
          </tr>
          <template v-if="opened.has(l.press)">
            <tr v-for="e in l.events" :key="e.id" class="entry">
              <td />
              <td />
              <td class="num">{{ target(e) }}</td>
              <td>{{ said([e]) }}</td>
              <td />
              <td class="no-print"><Button size="small" text :label="`Fix ${target(e)} alone`" @click="mend(e)" /></td>
            </tr>
          </template>
        </template>
      </tbody>
    </table>
    <ImportedLogs :cook="cook" />
    <p class="warn">
      Charcoal and wood fires belong outdoors or under proper draught: carbon monoxide has no smell. Hot fat and metal
      burn: gloves on. Ash stays hot for 48 hours.
    </p>
  </section>
  <Dialog :visible="!!mending" modal header="Fix an entry" @update:visible="mending = null">
    <div v-if="mending" class="stack">
      <p>
        <KeyCap>{{ letterOf(first.act) }}</KeyCap> <b>{{ label(first.act) }}</b> {{ targets(mending.events) }}, by
        {{ first.by }}
      </p>
      <ProblemNote :problem="problem" />
      <div class="field">
        <span class="label">At</span><MomentInput v-model="mending.at" label="Time of the entry" />
      </div>
      <DetailForm
        :act="first.act"
        :cook="cook"
        :detail="mending.detail"
        :note="mending.note"
        @change="(detail, note) => mending && ((mending.detail = detail), (mending.note = note))"
      />
      <p v-if="mending.detail.photo_id">
        <img
          class="photo"
          :src="`/api/photos/${mending.detail.photo_id}`"
          :alt="`Photo of ${targets(mending.events)}`"
        />
      </p>
      <div v-if="shut" class="field">
        <label for="mend-why">The codes are open: why it is corrected. The verdict is read anew and names it.</label>
        <InputText id="mend-why" v-model="mending.why" maxlength="200" />
      </div>
      <div class="row">
        <Button label="Save" :loading="busy" @click="keepMended()" /><Button
          v-if="asked"
          label="It is so: save"
          outlined
          data-testid="sure-mended"
          @click="keepMended(true)"
        /><Button label="Take the press back" outlined @click="takeBack" />
      </div>
    </div>
  </Dialog>
</template>

<style scoped>
.here {
  color: var(--watch);
}
.log td {
  padding-top: 2px;
  padding-bottom: 2px;
}
.acts {
  white-space: nowrap;
}
.entry td {
  color: var(--soot);
  border-top: 0;
}
@media (max-width: 700px) {
  /* In the hand an entry is two lines: when, what and of which; what it says and who. */
  .log table,
  .log tbody {
    display: block;
  }
  .log tr {
    display: grid;
    grid-template-columns: auto auto minmax(0, 1fr) auto;
    align-items: center;
    gap: 0 10px;
    padding: 4px 0;
    border-top: var(--line) solid var(--grain);
  }
  .log td {
    border: 0;
    padding: 0;
  }
  .log td:nth-child(4),
  .log td:nth-child(5) {
    grid-row: 2;
  }
  .log td:nth-child(4) {
    grid-column: 1 / 4;
  }
  .log td:nth-child(5) {
    grid-column: 4;
    text-align: right;
  }
  .log .entry td:empty {
    display: none;
  }
}
.photo {
  max-width: 100%;
  max-height: 60vh;
}
.thumb {
  border: var(--line) solid var(--edge);
  background: none;
  padding: 0;
  cursor: pointer;
  vertical-align: middle;
}
.thumb img {
  display: block;
  height: 48px;
}
</style>
