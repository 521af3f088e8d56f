<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { GateView, TrialMeat } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { meatName } from './gate'
import MeatFields from './MeatFields.vue'

/** What meat it is: asked once where nobody confirmed it, and kept in sight after. */
const { gate } = defineProps<{ gate: GateView }>()
const { trial, set, shut } = useThisTrial()
const { run, busy, problem } = useAct()
const open = ref(false)
const meat = ref<TrialMeat>({ species: '', handling: '', whole_bird: false })
const why = ref('')
function change() {
  meat.value = { ...gate.meat }
  why.value = ''
  problem.value = null
  open.value = true
}
async function keep(m: TrialMeat, reason: string) {
  const v = await run(() =>
    ok(
      api.PUT('/api/trials/{id}/meat', {
        params: { path: { id: trial.value.id } },
        body: { species: m.species, handling: m.handling, whole_bird: m.whole_bird, why: reason },
      }),
    ),
  )
  if (!v) return
  set(v)
  open.value = false
}
const said = () => gate.meat.species !== '' && gate.meat.handling !== ''
</script>

<template>
  <div class="meat row" :class="{ warn: !gate.confirmed || (gate.asked.length && !gate.why) }" data-testid="meat">
    <template v-if="!said()"><b class="triangle">Nobody said what meat it is.</b></template>
    <template v-else-if="gate.asked.length && !gate.why">
      <b class="triangle"
        >The product says {{ gate.asked.map((h) => `“${h.word}”`).join(', ') }}. Is it {{ meatName(gate.meat) }}?</b
      >
    </template>
    <b v-else-if="!gate.confirmed" class="triangle">{{ meatName(gate.meat) }}: is that so?</b>
    <span v-else
      >The meat: <b>{{ meatName(gate.meat) }}</b></span
    >
    <span v-if="gate.why" class="soot small">“{{ gate.why }}”</span>
    <template v-if="!shut">
      <Button
        v-if="said() && !gate.confirmed && !gate.asked.length"
        class="no-print"
        label="Yes, it is"
        :loading="busy"
        data-testid="confirm-meat"
        @click="keep(gate.meat, '')"
      />
      <Button class="no-print" text size="small" label="Change" data-testid="change-meat" @click="change" />
    </template>
    <ProblemNote v-if="!open" :problem="problem" />
    <Dialog v-model:visible="open" modal header="What meat it is" :style="{ width: '560px' }">
      <form class="stack" @submit.prevent="keep(meat, why)">
        <div class="row"><MeatFields v-model="meat" /></div>
        <p class="small">
          Anybody makes it stricter. Looser, or otherwise than the product's words say, only the pitmaster with a
          reason{{ gate.locked ? '; and since a cut was on the fire, not at all' : '' }}. An arm that injects,
          tenderises, rolls or minces is stricter by itself. A probe's hole counts as piercing only where it is.
        </p>
        <div class="field">
          <label for="meat-why">Reason, where it gets looser</label
          ><InputText id="meat-why" v-model="why" maxlength="200" />
        </div>
        <ProblemNote :problem="problem" />
        <div><Button type="submit" label="Save" :loading="busy" data-testid="save-meat" /></div>
      </form>
    </Dialog>
  </div>
</template>

<style scoped>
.meat {
  gap: 10px;
}
</style>
