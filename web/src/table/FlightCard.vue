<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Flight } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useGate } from '../gate/gate'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ProblemNote from '../ui/ProblemNote.vue'
import CarverKey from './CarverKey.vue'
import PaperEntry from './PaperEntry.vue'
import TurnCups from './TurnCups.vue'

const PasteRows = defineAsyncComponent(() => import('../ui/PasteRows.vue'))
const pasting = ref(false)

/** One flight while it is tasted: who has sealed how much, who comes late or leaves, and what is struck. */
const props = defineProps<{ flight: Flight }>()
const { trial, set, shut } = useThisTrial()
const { isPitmaster, person } = useSession()
const { gate } = useGate()
const { voided } = useUndo()
const acting = useAct()
const path = computed(() => ({ path: { id: props.flight.id } }))
const rule = computed(() => vocabulary.formats.find((f) => f.format === props.flight.format)!)
const ballots = computed(() => trial.value.ballots.filter((b) => b.flight_id === props.flight.id))
const rows = computed(() =>
  trial.value.tasters.flatMap((t) => {
    const ballot = ballots.value.find((b) => b.taster_id === t.id)
    return ballot ? [{ taster: t, ballot }] : []
  }),
)
const locked = computed(() => ballots.value.filter((b) => b.locked).length)
const late = computed(() => trial.value.tasters.filter((t) => !ballots.value.some((b) => b.taster_id === t.id)))
const struck = (code: string) =>
  gate.value?.struck.some((s) => s.flight_id === props.flight.id && s.code === code) ?? false
const opens = computed(() => shut.value || props.flight.opened)
const allOpen = computed(() => ballots.value.length > 0 && ballots.value.every((b) => b.open))
const knows = computed(
  () => opens.value || (props.flight.carver_id !== null ? person.value?.id === props.flight.carver_id : allOpen.value),
)
const running = computed(() => !opens.value && !props.flight.closed && locked.value < ballots.value.length)
const comes = ref<number | null>(null)
/** Whose plate, a code of it or all of it, is about to be left out; 0 is the whole flight. */
const leaving = ref<{ taster: number; name: string; code: string } | null>(null)
const why = ref('')
const typing = ref(false)

async function takeBack() {
  const v = await acting.run(() =>
    ok(api.POST('/api/flights/{id}/void', { params: path.value, body: { why: 'taken back before tasting' } })),
  )
  if (v) voided('flight', props.flight.id, `Flight ${props.flight.number} was taken back`)
  set(v)
}
/** Everybody waits, or goes on; the water between is skipped. */
async function pace(paused: boolean, water_s: number) {
  set(await acting.run(() => ok(api.POST('/api/flights/{id}/pace', { params: path.value, body: { paused, water_s } }))))
}
async function addPlate() {
  const body = { taster_id: comes.value!, open: allOpen.value }
  set(await acting.run(() => ok(api.POST('/api/flights/{id}/plates', { params: path.value, body }))))
  comes.value = null
}
async function leave() {
  const l = leaving.value!
  const v = await acting.run(() =>
    l.taster
      ? ok(
          api.POST('/api/flights/{id}/leave-out', {
            params: path.value,
            body: { taster_id: l.taster, code: l.code, why: why.value },
          }),
        )
      : ok(api.POST('/api/flights/{id}/close', { params: path.value, body: { why: why.value } })),
  )
  if (!v) return
  set(v)
  leaving.value = null
  why.value = ''
}
</script>

<template>
  <article class="flight rule" data-testid="flight">
    <div class="row">
      <h3>Flight {{ flight.number }}</h3>
      <b class="num lead">{{ locked }} of {{ ballots.length }} locked</b>
      <span class="soot"
        >{{ rule.name }}, {{ flight.samples }} samples,
        {{ flight.carver ? `carved by ${flight.carver}` : flight.shuffled ? 'shuffled cups' : 'open' }}</span
      >
      <span v-if="flight.closed" class="triangle small">closed: {{ flight.close_reason }}</span>
      <Button
        v-if="!shut && !flight.closed"
        size="small"
        text
        label="Paste rows"
        :aria-label="`Paste rows of scores into flight ${flight.number}`"
        data-testid="paste-scores"
        @click="pasting = true"
      />
      <Button
        v-if="isPitmaster && !opens && !ballots.some((b) => b.closed)"
        class="push"
        size="small"
        text
        label="Take it back"
        @click="takeBack"
      />
    </div>
    <ProblemNote :problem="acting.problem.value" />
    <PasteRows v-if="pasting" v-model="pasting" what="scores" :of="flight.id" />
    <table>
      <thead>
        <tr>
          <th>Seat</th>
          <th>Plate, in this order</th>
          <th>Sealed</th>
          <th v-if="running && isPitmaster"><span class="visually-hidden">Leaves</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ taster: t, ballot: b } in rows" :key="t.id" :data-testid="`row-${t.name}`">
          <td>
            <b>{{ t.seat }}</b> {{ t.name }}
            <small v-if="b.open" class="tag">open</small>
          </td>
          <td class="num">
            <template v-for="code in b.codes" :key="code">
              <s v-if="struck(code)" class="bad" title="Do not eat">{{ code }}</s>
              <template v-else>{{ code }}</template>
              {{ ' ' }}
            </template>
          </td>
          <td>
            <b class="num">{{ b.closed }} of {{ b.codes.length }}</b>
            <span v-if="b.locked" class="check gap">locked</span>
            <small v-if="b.paper" class="soot"> paper</small>
          </td>
          <td v-if="running && isPitmaster" class="acts">
            <Button
              v-if="!b.locked"
              size="small"
              text
              label="Leaves"
              :aria-label="`${t.name} leaves this flight`"
              :data-testid="`leaves-${t.name}`"
              @click="leaving = { taster: t.id, name: t.name, code: '' }"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="leaving" class="trough stack ask" data-testid="leaving" @submit.prevent="leave">
      <b>{{
        leaving.taster
          ? `What of ${leaving.name}'s plate is left out, and why?`
          : 'Why is this flight closed? What is open is left out, what is sealed stays.'
      }}</b>
      <div class="row">
        <Select
          v-if="leaving.taster"
          v-model="leaving.code"
          :options="[
            { label: 'all that is open: they leave', value: '' },
            ...(ballots.find((b) => b.taster_id === leaving!.taster)?.codes ?? []).map((c) => ({
              label: `${c} alone: it was dropped`,
              value: c,
            })),
          ]"
          option-label="label"
          option-value="value"
          aria-label="What is left out"
          data-testid="left-out"
        />
        <InputText v-model="why" placeholder="had to go home" aria-label="Why" data-testid="leaving-why" />
        <Button type="submit" label="Leave it out" :loading="acting.busy.value" data-testid="leave-sure" />
        <Button label="Not now" text @click="leaving = null" />
      </div>
    </form>
    <div v-if="running" class="row no-print">
      <template v-if="isPitmaster && late.length && !flight.shuffled">
        <Select
          v-model="comes"
          :options="late"
          option-label="name"
          option-value="id"
          placeholder="comes late"
          aria-label="Who comes late"
          data-testid="comes-late"
        />
        <Button
          label="Give a plate"
          size="small"
          outlined
          :disabled="comes === null"
          data-testid="add-plate"
          @click="addPlate"
        />
      </template>
      <RouterLink :to="`/trials/${trial.id}/ballots/${flight.id}`" class="small" data-testid="print-ballots"
        >Paper ballots</RouterLink
      >
      <Button label="Type paper in" size="small" text data-testid="type-paper" @click="typing = !typing" />
      <template v-if="isPitmaster">
        <Button
          :label="flight.paused ? 'Go on' : 'Pause'"
          size="small"
          text
          data-testid="pause"
          @click="pace(!flight.paused, flight.water_s)"
        />
        <Button
          v-if="flight.water_s"
          label="Skip the water"
          size="small"
          text
          data-testid="skip-water"
          @click="pace(flight.paused, 0)"
        />
      </template>
      <Button
        v-if="isPitmaster"
        label="Close this flight"
        size="small"
        text
        data-testid="close-flight"
        @click="leaving = { taster: 0, name: '', code: '' }"
      />
    </div>
    <PaperEntry v-if="typing" :flight="flight" @done="typing = false" />
    <TurnCups v-if="flight.shuffled && !flight.turned && !running" :flight="flight" />
    <template v-if="knows">
      <RouterLink
        v-if="!opens && person?.id === flight.carver_id"
        :to="`/trials/${trial.id}/carve/${flight.id}`"
        class="carve"
        data-testid="carve"
        >Carve and plate it, code by code</RouterLink
      >
      <CarverKey :flight="flight" :struck="struck" />
    </template>
    <p v-else-if="flight.carver" class="soot small">
      Only {{ flight.carver }} sees which code is which cut, until the codes are opened.
    </p>
  </article>
</template>

<style scoped>
.flight {
  padding-top: 10px;
}
.lead {
  font-size: var(--n-md);
}
.ask {
  padding: 12px;
  margin: 8px 0;
}
.bad {
  color: var(--alarm);
}
.gap {
  margin-left: 10px;
}
.tag {
  border: var(--line) dashed var(--ink);
  padding: 0 6px;
  margin-left: 6px;
}
td b + span,
td b {
  margin-right: 6px;
}
.acts {
  text-align: right;
}
.carve {
  display: inline-block;
  margin-top: 8px;
  font-weight: 700;
}
</style>
