<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, Detail, Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import KeyCap from '../ui/KeyCap.vue'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime, fromLocal, toLocal } from '../ui/time'
import { uuid } from '../ui/uuid'
import { label, letterOf } from './acts'
import DetailForm from './DetailForm.vue'
import ImportedLogs from './ImportedLogs.vue'

/** What was logged, newest first; every entry can be mended, none is lost. */
const props = defineProps<{ cook: CookView; events: Event[] }>()
const { trial, set, shut } = useThisTrial()
const { run, busy, problem } = useAct()

// One entry can be mended later: another time or note, or taken back.
// Once the codes are open it needs a reason, which the verdict names.
const mending = ref<{ event: Event; at: string; note: string; detail: Detail; why: string } | null>(null)
const mend = (e: Event) => (mending.value = { event: e, at: toLocal(e.at), note: e.note, detail: e.detail, why: '' })
async function keepMended() {
  const m = mending.value!
  const v = await run(() =>
    ok(
      api.PUT('/api/events/{id}', {
        params: { path: { id: m.event.id } },
        body: { at: fromLocal(m.at), note: m.note, detail: m.detail, press: uuid(), why: m.why },
      }),
    ),
  )
  if (!v) return
  set(v)
  mending.value = null
}
async function takeBack() {
  const v = await run(() =>
    ok(
      api.POST('/api/presses/{press}/void', {
        params: { path: { press: mending.value!.event.press } },
        body: { why: shut.value ? mending.value!.why : 'taken back' },
      }),
    ),
  )
  if (!v) return
  set(v)
  mending.value = null
}
const target = (e: Event) =>
  trial.value.cuts.find((c) => c.id === e.cut_id)?.name ??
  props.cook.runs.find((r) => r.id === e.pit_run_id)?.pit ??
  'the cook'
const logged = computed(() => props.events.slice().reverse())
defineExpose({ mend })
</script>

<template>
  <section class="page stack log">
    <h2>The log</h2>
    <p v-if="logged.length === 0" class="soot">Nothing is logged yet.</p>
    <table v-else data-testid="event-log">
      <tbody>
        <tr v-for="e in logged" :key="e.id">
          <td class="num">{{ dateTime(e.at) }}</td>
          <td>
            <KeyCap>{{ letterOf(e.act) }}</KeyCap> {{ label(e.act) }}
          </td>
          <td>
            <b class="num">{{ target(e) }}</b>
          </td>
          <td>
            {{ [e.said, e.note].filter(Boolean).join('. ') }}
            <button
              v-if="e.detail.photo_id"
              type="button"
              class="thumb"
              :aria-label="`Photo of ${target(e)}`"
              @click="mend(e)"
            >
              <img :src="`/api/photos/${e.detail.photo_id}`" alt="" loading="lazy" />
            </button>
          </td>
          <td class="soot">{{ e.by }}</td>
          <td class="no-print"><Button size="small" text label="Mend" @click="mend(e)" /></td>
        </tr>
      </tbody>
    </table>
    <ImportedLogs :cook="cook" />
    <p class="warn">
      Charcoal and wood fires belong outdoors or under proper draught: carbon monoxide has no smell. Hot fat and metal
      burn: gloves on. Ash stays hot for 48 hours.
    </p>
  </section>
  <Dialog :visible="!!mending" modal header="Mend an entry" @update:visible="mending = null">
    <div v-if="mending" class="stack">
      <p>
        <KeyCap>{{ letterOf(mending.event.act) }}</KeyCap> <b>{{ label(mending.event.act) }}</b>
        {{ target(mending.event) }}, by {{ mending.event.by }}
      </p>
      <ProblemNote :problem="problem" />
      <div class="field">
        <span class="label">At</span><MomentInput v-model="mending.at" label="Time of the entry" />
      </div>
      <DetailForm
        :act="mending.event.act"
        :cook="cook"
        :detail="mending.detail"
        :note="mending.note"
        @change="(detail, note) => mending && ((mending.detail = detail), (mending.note = note))"
      />
      <p v-if="mending.detail.photo_id">
        <img class="photo" :src="`/api/photos/${mending.detail.photo_id}`" :alt="`Photo of ${target(mending.event)}`" />
      </p>
      <div v-if="shut" class="field">
        <label for="mend-why">The codes are open: why it is corrected. The verdict is read anew and names it.</label>
        <InputText id="mend-why" v-model="mending.why" maxlength="200" />
      </div>
      <div class="row">
        <Button label="Keep" :loading="busy" @click="keepMended" /><Button
          label="Take the press back"
          outlined
          @click="takeBack"
        />
      </div>
    </div>
  </Dialog>
</template>

<style scoped>
.log td {
  padding-top: 2px;
  padding-bottom: 2px;
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
