<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import CutRuling from '../gate/CutRuling.vue'
import { isOpen, useGate } from '../gate/gate'
import MeatStrip from '../gate/MeatStrip.vue'
import StopStrips from '../gate/StopStrips.vue'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ArmName from '../ui/ArmName.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import CarverKey from './CarverKey.vue'
import CookLooks from './CookLooks.vue'
import OpenCodes from './OpenCodes.vue'
import { usePanel } from './panel'
import PanelResults from './PanelResults.vue'
import PanelTrust from './PanelTrust.vue'
import PlaceCard from './PlaceCard.vue'

const { trial, set, armOf, shut } = useThisTrial()
const { isPitmaster, person } = useSession()
const { gate, of: rulingOf } = useGate()
const { waiting } = usePanel()
const struck = (flight: number, code: string) =>
  gate.value?.struck.some((s) => s.flight_id === flight && s.code === code) ?? false
const { data: people } = useQuery({ queryKey: ['people'], queryFn: () => ok(api.GET('/api/people')) })
const seating = useAct()
const serving = useAct()
const name = ref('')
const path = computed(() => ({ path: { id: trial.value.id } }))

async function seat() {
  const v = await seating.run(() =>
    ok(api.POST('/api/trials/{id}/tasters', { params: path.value, body: { name: name.value } })),
  )
  if (!v) return
  set(v)
  name.value = ''
}
const { offer, voided } = useUndo()
async function unseat(id: number) {
  const who = trial.value.tasters.find((t) => t.id === id)!.name
  const v = await seating.run(() =>
    ok(api.POST('/api/tasters/{id}/void', { params: { path: { id } }, body: { why: 'left the table' } })),
  )
  if (v) voided('taster', id, `${who} left the table`)
  set(v)
}

const draft = reactive({
  carver_id: null as number | null,
  cut_ids: [] as number[],
  place: 'middle of the piece',
  tasters: [] as number[],
})
const preparing = ref(false)
function prepare() {
  preparing.value = true
  serving.problem.value = null
  draft.carver_id ??= person.value?.id ?? null
  const carver = people.value?.find((p) => p.id === draft.carver_id)
  draft.cut_ids = trial.value.cuts
    .filter((c) => isOpen(rulingOf(c.id)) && c.arm_id !== null)
    .slice(0, 6)
    .map((c) => c.id)
  draft.tasters = trial.value.tasters.filter((t) => t.name !== carver?.name).map((t) => t.id)
}
async function serve() {
  const v = await serving.run(() =>
    ok(
      api.POST('/api/trials/{id}/flights', {
        params: path.value,
        body: { carver_id: draft.carver_id ?? 0, cut_ids: draft.cut_ids, place: draft.place, tasters: draft.tasters },
      }),
    ),
  )
  if (!v) return
  const before = new Set(trial.value.flights.map((f) => f.id))
  const flight = set(v)!.flights.find((f) => !before.has(f.id))
  if (flight) offer(`Flight ${flight.number} was served`, { served: flight.id })
  preparing.value = false
}
async function takeBack(id: number) {
  const flight = trial.value.flights.find((f) => f.id === id)!
  const v = await serving.run(() =>
    ok(api.POST('/api/flights/{id}/void', { params: { path: { id } }, body: { why: 'taken back before tasting' } })),
  )
  if (v) voided('flight', id, `Flight ${flight.number} was taken back`)
  set(v)
}

const ballot = (flight: number, taster: number) =>
  trial.value.ballots.find((b) => b.flight_id === flight && b.taster_id === taster)
</script>

<template>
  <div class="two">
    <section class="page stack wide">
      <PanelResults v-if="shut" />
      <template v-if="!waiting">
        <div class="row">
          <component :is="shut && trial.flights.length ? 'h2' : 'h1'">Seats</component>
          <span class="soot"
            >Each taster's page opens by the code on their card, with no account. It shows codes, never an arm.</span
          >
        </div>
        <template v-if="gate">
          <StopStrips :gate="gate" />
          <MeatStrip :gate="gate" />
        </template>
        <ProblemNote :problem="seating.problem.value" />
        <div class="seats">
          <PlaceCard
            v-for="t in trial.tasters"
            :key="t.id"
            :taster="t"
            :ballots="trial.ballots.filter((b) => b.taster_id === t.id)"
            @leave="unseat(t.id)"
          />
          <form v-if="!shut" class="seat-new" @submit.prevent="seat">
            <InputText
              v-model="name"
              data-field="name"
              placeholder="Name of a taster"
              aria-label="Name of a taster"
              data-testid="taster-name"
            />
            <Button type="submit" label="Seat" data-testid="seat" />
          </form>
        </div>
        <h2>Flights</h2>
        <ProblemNote :problem="serving.problem.value" />
        <p v-if="trial.flights.length === 0 && !preparing" class="soot">
          Nothing is served yet. A flight is up to six samples, in drawn order, under drawn codes.
        </p>
        <article v-for="f in trial.flights" :key="f.id" class="flight rule" data-testid="flight">
          <div class="row">
            <h3>Flight {{ f.number }}</h3>
            <span class="soot">{{ f.samples }} samples, carved by {{ f.carver }}</span>
            <Button
              v-if="isPitmaster && !shut && !trial.ballots.some((b) => b.flight_id === f.id && b.closed)"
              class="push"
              size="small"
              text
              label="Take it back"
              @click="takeBack(f.id)"
            />
          </div>
          <table>
            <thead>
              <tr>
                <th>Seat</th>
                <th>Plate, in this order</th>
                <th>Sealed</th>
              </tr>
            </thead>
            <tbody>
              <template v-for="t in trial.tasters" :key="t.id">
                <tr v-if="ballot(f.id, t.id)">
                  <td>
                    <b>{{ t.seat }}</b> {{ t.name }}
                  </td>
                  <td class="num">
                    <template v-for="code in ballot(f.id, t.id)!.codes" :key="code">
                      <s v-if="struck(f.id, code)" class="bad" title="Do not eat">{{ code }}</s>
                      <template v-else>{{ code }}</template>
                      {{ ' ' }}
                    </template>
                  </td>
                  <td>
                    <b class="num">{{ ballot(f.id, t.id)!.closed }} of {{ f.samples }}</b>
                    <span v-if="ballot(f.id, t.id)!.locked" class="check gap">locked</span>
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
          <CarverKey
            v-if="shut || f.opened || person?.id === f.carver_id"
            :flight="f"
            :struck="(code) => struck(f.id, code)"
          />
          <p v-else class="soot small">Only {{ f.carver }} sees which code is which cut, until the codes are opened.</p>
        </article>
        <form v-if="preparing" class="trough stack" @submit.prevent="serve">
          <h3>A new flight</h3>
          <div class="row">
            <div class="field">
              <label for="carver">Carver, who does not taste in it</label>
              <Select
                v-model="draft.carver_id"
                label-id="carver"
                :options="people ?? []"
                option-label="name"
                option-value="id"
                placeholder="name one"
                data-testid="carver"
                @change="prepare"
              />
            </div>
            <div class="field">
              <label for="place">From the same place of every piece</label
              ><InputText id="place" v-model="draft.place" data-field="place" />
            </div>
          </div>
          <div class="choices">
            <fieldset>
              <legend>Cuts, 2 to 6</legend>
              <label v-for="c in trial.cuts" :key="c.id" class="row tick">
                <Checkbox v-model="draft.cut_ids" :value="c.id" :input-id="`serve-${c.name}`" />
                <b class="num">{{ c.name }}</b>
                <ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" />
                <CutRuling :ruling="rulingOf(c.id)" />
                <span v-if="rulingOf(c.id)?.advisory" class="small">served by a reason: the eaters are told</span>
              </label>
            </fieldset>
            <fieldset>
              <legend>Tasters, 3 or more</legend>
              <label v-for="t in trial.tasters" :key="t.id" class="row tick"
                ><Checkbox v-model="draft.tasters" :value="t.id" :input-id="`taste-${t.id}`" /> {{ t.name }}</label
              >
            </fieldset>
          </div>
          <div class="row">
            <Button
              type="submit"
              label="Draw codes and serve"
              :loading="serving.busy.value"
              data-testid="serve"
            /><Button label="Not now" text @click="preparing = false" />
          </div>
        </form>
        <div v-else-if="isPitmaster && !shut">
          <Button label="Serve a flight" outlined data-testid="prepare-flight" @click="prepare" />
        </div>
      </template>
    </section>
    <aside v-if="!waiting" class="side stack">
      <OpenCodes />
      <PanelTrust v-if="shut" />
      <CookLooks v-if="trial.cooks.length > 1 && !shut" />
      <h2>Allergens</h2>
      <p>
        {{
          trial.ask.allergens.length
            ? `Every taster is told, for all samples alike: ${trial.ask.allergens.join(', ')}.`
            : 'None are named in Ask. Ask your tasters all the same.'
        }}
      </p>
    </aside>
  </div>
</template>

<style scoped>
.wide {
  width: 100%;
}
.seats {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 12px;
}
.seat-new {
  border: 2.5px dashed var(--edge);
  padding: 14px;
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 116px;
}
.seat-new :deep(input) {
  min-width: 0;
  flex: 1;
}
.flight {
  padding-top: 10px;
}
.choices {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
}
fieldset {
  border: var(--line) solid var(--edge);
  padding: 8px 12px;
}
.tick {
  min-height: 40px;
  flex-wrap: wrap;
  padding: 4px 0;
}
.bad {
  color: var(--alarm);
}
.gap {
  margin-left: 10px;
}
td b + span,
td b {
  margin-right: 6px;
}
.side {
  padding: 16px;
}
@media (max-width: 700px) {
  .choices {
    grid-template-columns: 1fr;
  }
}
</style>
