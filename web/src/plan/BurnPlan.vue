<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, PitRun } from '../api/schema.gen'
import { usePits } from '../pits/pits'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import MomentInput from '../ui/MomentInput.vue'
import PickOrType from '../ui/PickOrType.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import RemoveButton from '../ui/RemoveButton.vue'
import { dateTime, fromLocal, span, toLocal } from '../ui/time'
import { temperatureHint, typedTemperature, withTemperatureUnit } from '../ui/units'
import NumberInput from '../ui/NumberInput.vue'
import { allNumbers } from '../ui/number'

/** The burns of a trial of set-ups: which is burned when, in which pit. */
const { trial, set, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { run, busy, problem } = useAct()
const { pits, names, idOf } = usePits()
const may = computed(() => isPitmaster.value && !shut.value)

const burns = computed(() =>
  trial.value.cooks
    .flatMap((cook) => cook.runs.filter((r) => r.arm_id !== null).map((r) => ({ cook, run: r })))
    .sort((a, b) => Date.parse(a.run.lit_at ?? '') - Date.parse(b.run.lit_at ?? '')),
)
const arm = (r: PitRun) => trial.value.ask.arms.findIndex((a) => a.id === r.arm_id)
const litAt = (r: PitRun) => trial.value.events.find((e) => e.act === 'lit' && e.pit_run_id === r.id)?.at ?? null
const hoursOf = (r: PitRun) => (Date.parse(r.over_at!) - Date.parse(r.lit_at!)) / 3_600_000

const last = computed(() => burns.value[burns.value.length - 1]?.run)
const pit = ref(last.value?.pit ?? '')
const setPoint = ref(last.value?.set_point_typed ?? '')
const tomorrow = () => `${toLocal(Date.now() + 86_400_000).slice(0, 10)}T08:00`
const first = ref(tomorrow())
const hours = ref(last.value ? hoursOf(last.value) : 2)
const each = ref(2)
const eaches = [1, 2, 3].map((n) => ({ label: String(n), value: n }))
const when = (local: string) => (local ? fromLocal(local) : '0001-01-01T00:00:00Z')
async function plan() {
  if (!allNumbers()) return
  set(
    await run(async () =>
      ok(
        api.POST('/api/trials/{id}/burns', {
          params: { path: { id: trial.value.id } },
          body: {
            pit_id: pit.value.trim() ? await idOf(pit.value) : 0,
            set_point: withTemperatureUnit(setPoint.value),
            lit_at: when(first.value),
            hours: hours.value,
            each: each.value,
          },
        }),
      ),
    ),
  )
}

const mending = ref<number | null>(null)
const draft = ref({ arm_id: 0, pit_id: 0, set_point: '', lit: '', hours: 0 })
function mend(k: CookView, r: PitRun) {
  mending.value = k.id
  draft.value = {
    arm_id: r.arm_id!,
    pit_id: r.pit_id,
    set_point: r.set_point_typed,
    lit: toLocal(r.lit_at!),
    hours: hoursOf(r),
  }
}
async function keep() {
  if (!allNumbers()) return
  const { lit, hours, set_point, ...rest } = draft.value
  const v = await run(() =>
    ok(
      api.PUT('/api/cooks/{id}/burn', {
        params: { path: { id: mending.value! } },
        body: { ...rest, set_point: withTemperatureUnit(set_point), lit_at: when(lit), hours },
      }),
    ),
  )
  set(v)
  if (v) mending.value = null
}
const drop = async (k: CookView) =>
  set(
    await run(() =>
      ok(
        api.POST('/api/cooks/{id}/burn/void', {
          params: { path: { id: k.id } },
          body: { why: 'taken out of the plan' },
        }),
      ),
    ),
  )
</script>

<template>
  <div class="page stack">
    <ProblemNote :problem="problem" />
    <p v-if="burns.length === 0" class="soot">No burn is planned yet.</p>
    <table v-else class="burns" data-testid="burns">
      <thead>
        <tr>
          <th>Lit</th>
          <th>Set-up</th>
          <th>Pit</th>
          <th class="right">Set</th>
          <th class="right">For</th>
          <th>How far</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <template v-for="b in burns" :key="b.cook.id">
          <tr v-if="mending !== b.cook.id">
            <td class="num">{{ dateTime(litAt(b.run) ?? b.run.lit_at!) }}</td>
            <td><ArmName :place="arm(b.run)" :tag="trial.ask.arms[arm(b.run)]?.tag ?? ''" /></td>
            <td>{{ b.run.pit }}</td>
            <td class="num right">{{ typedTemperature({ c: b.run.set_point_c, typed: b.run.set_point_typed }) }}</td>
            <td class="num right">{{ span(hoursOf(b.run)) }}</td>
            <td>{{ litAt(b.run) ? 'lit' : 'to come' }}</td>
            <td>
              <span class="row nowrap acts">
                <RouterLink class="link" :to="`/trials/${trial.id}/fire?cook=${b.cook.id}`">{{
                  litAt(b.run) ? 'Its fire' : 'Light it'
                }}</RouterLink>
                <template v-if="may && !litAt(b.run)">
                  <Button label="Change" size="small" text @click="mend(b.cook, b.run)" />
                  <RemoveButton :what="`Take the burn of ${dateTime(b.run.lit_at!)} out`" @click="drop(b.cook)" />
                </template>
              </span>
            </td>
          </tr>
          <tr v-else>
            <td colspan="7">
              <form class="row form" @submit.prevent="keep">
                <Select
                  v-model="draft.arm_id"
                  :options="trial.ask.arms"
                  option-label="tag"
                  option-value="id"
                  aria-label="Set-up"
                  data-field="arm_id"
                />
                <Select
                  v-model="draft.pit_id"
                  :options="pits ?? []"
                  option-label="name"
                  option-value="id"
                  aria-label="Pit of the burn"
                  data-field="pit_id"
                />
                <InputText
                  v-model="draft.set_point"
                  class="mono-input short"
                  inputmode="decimal"
                  aria-label="Set point of the burn"
                  data-field="set_point"
                />
                <MomentInput v-model="draft.lit" label="Lit at" data-field="lit_at" />
                <label class="row nowrap tight"
                  >for
                  <NumberInput
                    v-model="draft.hours"
                    class="mono-input hours"
                    aria-label="Hours of the burn"
                    data-field="hours"
                  />
                  h</label
                >
                <Button type="submit" label="Save" size="small" :loading="busy" />
                <Button type="button" label="Leave it" size="small" text @click="mending = null" />
              </form>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <form v-if="may" class="trough stack plan" @submit.prevent="plan">
      <h2>{{ burns.length ? 'Plan more burns' : 'Plan the burns' }}</h2>
      <div class="row form">
        <div class="field">
          <label for="burn-pit">Pit</label>
          <PickOrType
            v-model="pit"
            :options="names"
            input-id="burn-pit"
            label="Pit"
            placeholder="Brick Pit"
            data-field="pit_id"
          />
        </div>
        <div class="field">
          <label for="burn-set">Set point</label>
          <InputText
            id="burn-set"
            v-model="setPoint"
            class="mono-input short"
            inputmode="decimal"
            :placeholder="`250 ${temperatureHint()}`"
            data-field="set_point"
          />
        </div>
        <div class="field">
          <span class="label">The first is lit</span
          ><MomentInput v-model="first" label="First lit" data-field="lit_at" />
        </div>
        <div class="field">
          <label for="burn-hours">Each burns for, h</label>
          <NumberInput id="burn-hours" v-model="hours" class="mono-input hours" data-field="hours" />
        </div>
        <div class="field">
          <span class="label">Burns of each</span>
          <SelectButton
            v-model="each"
            :options="eaches"
            option-label="label"
            option-value="value"
            :allow-empty="false"
            aria-label="Burns of each"
          />
        </div>
        <Button
          type="submit"
          :label="`Plan ${each * trial.ask.arms.length} burns`"
          :loading="busy"
          data-testid="plan-burns"
        />
      </div>
      <p class="small">
        One a day at the same hour; the lot says which set-up comes first. With one burn of each, the day cannot be told
        apart from the set-up; with two of each it can.
      </p>
    </form>
    <p class="small soot">
      Put a probe at the fire end, one in the middle and one at the far end of the grate; the lid dial is read too,
      where a probe stands beside it. The cautions of live coals are read before it is lit.
    </p>
  </div>
</template>

<style scoped>
.burns td {
  padding-top: 4px;
  padding-bottom: 4px;
}
.acts {
  justify-content: flex-end;
}
.link {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  font-weight: 700;
}
.form {
  align-items: end;
  gap: 12px;
}
.plan {
  padding: 16px;
}
.short {
  width: 96px;
}
:deep(.hours) {
  width: 72px;
}
.tight {
  gap: 6px;
}
@media (max-width: 700px) {
  .burns thead {
    display: none;
  }
  .burns tr {
    display: grid;
    grid-template-columns: 1fr auto;
    border-top: var(--line) solid var(--edge);
  }
  .burns td {
    border: 0;
  }
  .burns td:nth-child(odd) {
    text-align: left;
  }
  .burns td:nth-child(even) {
    text-align: right;
  }
  .burns td[colspan],
  .burns td:last-child {
    grid-column: 1 / -1;
  }
  .acts {
    justify-content: flex-start;
  }
}
</style>
