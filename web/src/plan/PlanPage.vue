<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime, fromLocal, toLocal } from '../ui/time'
import { temperatureHint, typedTemperature, withTemperatureUnit } from '../ui/units'

interface Draft {
  id: number | null
  serve: string
  runs: { id: number; pit_id: number | null; setup: string; set_point: string }[]
  /** Per cut: the run it stands in, -1 for not in this cook. */
  cuts: { id: number; run: number; position: string }[]
}

const { trial, set, armOf, shut } = useThisTrial()
const { isPitmaster } = useSession()
const client = useQueryClient()
const { data: pits } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
const { run, busy, problem } = useAct()
const draft = ref<Draft | null>(null)
const newPit = ref('')

function open(k: CookView | null) {
  problem.value = null
  const runs = k?.runs.map((r) => ({
    id: r.id,
    pit_id: r.pit_id as number | null,
    setup: r.setup,
    set_point: r.set_point_typed,
  })) ?? [{ id: 0, pit_id: null, setup: '', set_point: '' }]
  draft.value = {
    id: k?.id ?? null,
    serve: k ? toLocal(k.serve_at) : '',
    runs,
    cuts: trial.value.cuts
      .filter((c) => !c.placement || c.placement.cook_id === k?.id)
      .map((c) => {
        const here = k && c.placement?.cook_id === k.id
        return {
          id: c.id,
          run: here ? k.runs.findIndex((r) => r.id === c.placement!.pit_run_id) : !k && !c.placement ? 0 : -1,
          position: here ? c.placement!.position : '',
        }
      }),
  }
}
watch(
  () => trial.value.id,
  () => open(trial.value.cooks[0] ?? null),
  { immediate: true },
)

const pitName = (id: number | null) => pits.value?.find((p) => p.id === id)?.name ?? 'a pit'
const runOptions = computed(() => [
  { label: 'not in this cook', value: -1 },
  ...(draft.value?.runs.map((r, i) => ({ label: pitName(r.pit_id), value: i })) ?? []),
])
const cutOf = (id: number) => trial.value.cuts.find((c) => c.id === id)!

async function addPit() {
  const p = await run(() => ok(api.POST('/api/pits', { body: { name: newPit.value } })))
  if (!p) return
  newPit.value = ''
  await client.invalidateQueries({ queryKey: ['pits'] })
}

async function keep() {
  const d = draft.value!
  const body = {
    serve_at: d.serve ? fromLocal(d.serve) : '0001-01-01T00:00:00Z',
    runs: d.runs.map((r) => ({
      id: r.id,
      pit_id: r.pit_id ?? 0,
      setup: r.setup,
      set_point: withTemperatureUnit(r.set_point),
    })),
    placements: d.cuts.filter((c) => c.run >= 0).map((c) => ({ cut_id: c.id, run: c.run, position: c.position })),
  }
  const v = await run(() =>
    d.id === null
      ? ok(api.POST('/api/trials/{id}/cooks', { params: { path: { id: trial.value.id } }, body }))
      : ok(api.PUT('/api/cooks/{id}', { params: { path: { id: d.id } }, body })),
  )
  if (!v) return
  set(v)
  open(v.cooks.find((k) => k.id === d.id) ?? v.cooks[v.cooks.length - 1]!)
}
</script>

<template>
  <div class="two">
    <section class="page stack wide">
      <div class="row">
        <h1>{{ draft?.id === null ? 'A new cook' : 'The cook' }}</h1>
        <span class="soot">When it is served, which pit at what heat, and which cut stands where.</span>
      </div>
      <ProblemNote :problem="problem" />
      <form v-if="draft" class="stack" @submit.prevent="keep">
        <div class="field">
          <span class="label">On the table at</span>
          <MomentInput v-model="draft.serve" label="On the table" :disabled="shut" />
        </div>
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
            />
          </div>
          <div class="field">
            <label :for="`set${i}`">Set point</label
            ><InputText
              :id="`set${i}`"
              v-model="r.set_point"
              class="mono-input"
              :placeholder="temperatureHint()"
              :disabled="shut"
            />
          </div>
          <div class="field">
            <label :for="`setup${i}`">Set-up</label
            ><InputText :id="`setup${i}`" v-model="r.setup" placeholder="water trough half full" :disabled="shut" />
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
            ><InputText v-model="newPit" placeholder="a pit not in the list" aria-label="New pit" /><Button
              label="Add pit"
              size="small"
              outlined
              @click="addPit"
          /></span>
        </div>
        <table v-if="draft.cuts.length">
          <thead>
            <tr>
              <th>Cut</th>
              <th>Arm</th>
              <th>Stands in</th>
              <th>Place on the grate</th>
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
        <div v-if="isPitmaster && !shut">
          <Button type="submit" label="Keep the cook" :loading="busy" data-testid="keep-cook" />
        </div>
        <p v-else class="soot">
          {{ shut ? 'The codes are open, so the plan is shut.' : 'A pitmaster keeps the plan.' }}
        </p>
      </form>
    </section>
    <aside class="side stack">
      <h2>Cooks of this trial</h2>
      <p v-if="trial.cooks.length === 0" class="soot">None yet.</p>
      <button
        v-for="(k, i) in trial.cooks"
        :key="k.id"
        type="button"
        class="cook rule"
        :class="{ here: draft?.id === k.id }"
        @click="open(k)"
      >
        <b class="num">{{ i + 1 }}</b>
        <span
          ><b>{{ dateTime(k.serve_at) }}</b
          ><br /><span class="soot small">{{
            k.runs.map((r) => `${r.pit} ${typedTemperature({ c: r.set_point_c, typed: r.set_point_typed })}`).join(', ')
          }}</span></span
        >
        <span class="num push">{{ trial.cuts.filter((c) => c.placement?.cook_id === k.id).length }} cuts</span>
      </button>
      <div v-if="isPitmaster && !shut"><Button label="Plan another cook" outlined @click="open(null)" /></div>
    </aside>
  </div>
</template>

<style scoped>
.wide {
  width: 100%;
}
.pit {
  display: grid;
  grid-template-columns: 1fr 130px 1.6fr;
  gap: 12px;
}
.place {
  width: 90px;
}
.side {
  padding: 16px;
}
.cook {
  display: flex;
  gap: 12px;
  align-items: center;
  text-align: left;
  background: none;
  border-width: var(--line) 0 0;
  padding: 12px 4px;
  cursor: pointer;
  min-height: 48px;
}
.cook.here {
  background: var(--trough);
}
td {
  padding-top: 4px;
  padding-bottom: 4px;
}
</style>
