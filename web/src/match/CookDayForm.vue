<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { usePits } from '../pits/pits'
import { useThisTrial } from '../trial/trial'
import PickOrType from '../ui/PickOrType.vue'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { fromLocal } from '../ui/time'
import { temperatureHint, withTemperatureUnit } from '../ui/units'

/** A cook day for the pit plan; Plan knows more of it. */
const emit = defineEmits<{ added: [] }>()
const { trial, set } = useThisTrial()
const { run, busy, problem } = useAct()
const { names: pitNames, idOf } = usePits()
const serve = ref('')
const first = ref('')
const second = ref('')
const setPoint = ref('')

async function add() {
  const v = await run(async () => {
    const runs = []
    for (const name of [first.value, second.value].filter((n) => n.trim()))
      runs.push({ id: 0, pit_id: await idOf(name), setup: '', set_point: withTemperatureUnit(setPoint.value) })
    return ok(
      api.POST('/api/trials/{id}/cooks', {
        params: { path: { id: trial.value.id } },
        body: { serve_at: serve.value ? fromLocal(serve.value) : '0001-01-01T00:00:00Z', runs, placements: [] },
      }),
    )
  })
  set(v)
  if (v) emit('added')
}
</script>

<template>
  <form class="day" @submit.prevent="add">
    <h3>Add a cook day</h3>
    <div class="field">
      <span class="label">On the table</span><MomentInput v-model="serve" label="Cook day on the table" />
    </div>
    <div class="row">
      <div class="field">
        <label for="day-pit">Pit</label>
        <PickOrType v-model="first" :options="pitNames" input-id="day-pit" label="Pit" placeholder="Brick Pit" />
      </div>
      <div class="field">
        <label for="day-pit-2">and</label>
        <PickOrType
          v-model="second"
          :options="pitNames"
          input-id="day-pit-2"
          label="And another pit"
          placeholder="no other"
        />
      </div>
      <div class="field">
        <label for="day-set">Set point</label>
        <InputText
          id="day-set"
          v-model="setPoint"
          inputmode="decimal"
          class="mono-input"
          :placeholder="`250 ${temperatureHint()}`"
        />
      </div>
    </div>
    <ProblemNote :problem="problem" />
    <div><Button type="submit" label="Add the day" :loading="busy" data-testid="add-day" /></div>
  </form>
</template>

<style scoped>
.day {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 520px;
}
.row {
  gap: 8px;
  align-items: end;
}
#day-set {
  width: 90px;
}
</style>
