<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, inject, ref } from 'vue'
import { useAct } from '../api/act'
import { useCrew } from '../crew/people'
import { api, ok } from '../api/client'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import LateInput from '../ui/LateInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { temperatureHint } from '../ui/units'
import { draftKey } from './draft'

/** Which pit at what heat, which cut stands where, and who is there. */
const { trial, armOf, shut } = useThisTrial()
const { draft } = inject(draftKey)!
const client = useQueryClient()
const { run, problem } = useAct()
const { data: pits } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
const people = useCrew()
const newPit = ref('')
const pitName = (id: number | null) => pits.value?.find((p) => p.id === id)?.name ?? 'a pit'
const runOptions = computed(() => [
  { label: 'not in this cook', value: -1 },
  ...(draft.value?.runs.map((r, i) => ({ label: pitName(r.pit_id), value: i })) ?? []),
])
/** What a run carries by the cuts on it. */
const levelsOf = (run: number) => trial.value.cooks.flatMap((k) => k.runs).find((r) => r.id === run)?.levels ?? ''
const cutOf = (id: number) => trial.value.cuts.find((c) => c.id === id)!

async function addPit() {
  const p = await run(() => ok(api.POST('/api/pits', { body: { name: newPit.value } })))
  if (!p) return
  newPit.value = ''
  await client.invalidateQueries({ queryKey: ['pits'] })
  // It was added because it is needed: it takes the first place without a pit.
  const open = draft.value!.runs.find((r) => r.pit_id === null)
  if (open) open.pit_id = p.id
}
const shiftOf = (id: number) => draft.value!.outline.shifts.find((s) => s.person_id === id)
/** The first tick means the others are not there: until then the whole crew is. */
function there(id: number) {
  const shifts = draft.value!.outline.shifts
  const at = shifts.findIndex((s) => s.person_id === id)
  if (at >= 0) shifts.splice(at, 1)
  else shifts.push({ person_id: id, from: '', to: '' })
}
/** "5", "530" and "5:30" are times of the day. */
function hour(text: string): string {
  const m = /^(\d{1,2})\D?(\d{2})?$/.exec(text)
  return m ? `${m[1]!.padStart(2, '0')}:${m[2] ?? '00'}` : text
}
</script>

<template>
  <section v-if="draft" class="stack places">
    <ProblemNote :problem="problem" />
    <div v-for="(r, i) in draft.runs" :key="i" class="pit">
      <div class="field">
        <label :for="`pit${i}`">Pit</label
        ><Select
          v-model="r.pit_id"
          :label-id="`pit${i}`"
          :options="pits ?? []"
          option-label="name"
          option-value="id"
          placeholder="choose"
          :disabled="shut"
          :data-testid="`pit-${i}`"
          :data-field="`runs[${i}].pit_id`"
        />
      </div>
      <div class="field">
        <label :for="`set${i}`">Set point</label
        ><LateInput
          :id="`set${i}`"
          v-model="r.set_point"
          :data-field="`runs[${i}].set_point`"
          class="mono-input"
          :placeholder="temperatureHint()"
          inputmode="decimal"
          :disabled="shut"
        />
      </div>
      <div class="field">
        <label :for="`setup${i}`">Set-up</label
        ><InputText :id="`setup${i}`" v-model="r.setup" placeholder="water trough half full" :disabled="shut" />
        <span v-if="levelsOf(r.id)" class="small">{{ levelsOf(r.id) }}</span>
      </div>
    </div>
    <div v-if="!shut" class="row">
      <Button
        label="Another pit"
        size="small"
        outlined
        @click="draft.runs.push({ id: 0, pit_id: null, setup: '', set_point: '' })"
      />
      <span class="push row"
        ><InputText
          v-model="newPit"
          placeholder="a pit not in the list"
          aria-label="New pit"
          data-field="name" /><Button label="Add pit" size="small" outlined data-testid="add-pit" @click="addPit"
      /></span>
    </div>
    <div class="columns">
      <div>
        <h2>Where each cut stands</h2>
        <table v-if="draft.cuts.length">
          <thead>
            <tr>
              <th>Cut</th>
              <th>Arm</th>
              <th>Stands in</th>
              <th>On the grate</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in draft.cuts" :key="c.id">
              <td>
                <b class="num">{{ cutOf(c.id).name }}</b>
              </td>
              <td>
                <ArmName
                  v-if="armOf(cutOf(c.id)) >= 0"
                  :place="armOf(cutOf(c.id))"
                  :tag="trial.ask.arms[armOf(cutOf(c.id))]!.tag"
                />
              </td>
              <td>
                <Select
                  v-model="c.run"
                  :options="runOptions"
                  option-label="label"
                  option-value="value"
                  :aria-label="`Pit of ${cutOf(c.id).name}`"
                  :disabled="shut"
                />
              </td>
              <td>
                <InputText
                  v-model="c.position"
                  class="mono-input place"
                  placeholder="A1"
                  :aria-label="`Place of ${cutOf(c.id).name}`"
                  :data-field="`placements[${draft.cuts.filter((x) => x.run >= 0).indexOf(c)}].position`"
                  :disabled="shut || c.run < 0"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else-if="trial.cuts.length" class="soot">
          Every cut has its place in another cook. Take it out there to move it here.
        </p>
        <p v-else class="soot">No cut hangs yet. Hang them in Match; they can be placed here then.</p>
      </div>
      <div>
        <h2>Who is there</h2>
        <p class="small soot">Nobody ticked: the whole crew, around the clock.</p>
        <table>
          <tbody>
            <tr v-for="p in people" :key="p.id">
              <td>
                <label class="tick"
                  ><input
                    type="checkbox"
                    :checked="!!shiftOf(p.id)"
                    :disabled="shut"
                    :aria-label="`${p.name} is there`"
                    @change="there(p.id)"
                  />
                  {{ p.name }}</label
                >
              </td>
              <template v-if="shiftOf(p.id)">
                <td>
                  <LateInput
                    v-model="shiftOf(p.id)!.from"
                    class="mono-input hour"
                    placeholder="from"
                    :aria-label="`${p.name} from`"
                    :tidy="hour"
                    :disabled="shut"
                  />
                </td>
                <td>
                  <LateInput
                    v-model="shiftOf(p.id)!.to"
                    class="mono-input hour"
                    placeholder="to"
                    :aria-label="`${p.name} to`"
                    :tidy="hour"
                    :disabled="shut"
                  />
                </td>
              </template>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  </section>
</template>

<style scoped>
.places {
  padding-top: 12px;
}
.pit {
  display: grid;
  grid-template-columns: 1fr 130px 1.6fr;
  gap: 12px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1.7fr) minmax(0, 1fr);
  gap: 32px;
}
.place {
  width: 80px;
}
.hour {
  width: 84px;
}
.tick {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 40px;
}
.tick input {
  width: 22px;
  height: 22px;
}
td {
  padding-top: 4px;
  padding-bottom: 4px;
}
@media (max-width: 900px) {
  .pit {
    grid-template-columns: 1fr 110px;
  }
  .pit > :last-child {
    grid-column: 1 / -1;
  }
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
