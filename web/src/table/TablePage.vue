<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useGate } from '../gate/gate'
import MeatStrip from '../gate/MeatStrip.vue'
import StopStrips from '../gate/StopStrips.vue'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import CookLooks from './CookLooks.vue'
import FlightCard from './FlightCard.vue'
import OpenCodes from './OpenCodes.vue'
import { usePanel } from './panel'
import PanelResults from './PanelResults.vue'
import PanelTrust from './PanelTrust.vue'
import SeatList from './SeatList.vue'
import ServeFlight from './ServeFlight.vue'

/** Who sits, what is served and how far it is, and what the panel said once the codes are open. */
const { trial, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { gate } = useGate()
const { waiting } = usePanel()
const preparing = ref(false)
const locked = computed(() => trial.value.ballots.filter((b) => b.locked).length)
/** The first line: how far the tasting is. */
const lead = computed(() => {
  const n = trial.value.ballots.length
  if (!trial.value.tasters.length) return 'Nobody sits yet'
  if (!n) return `${trial.value.tasters.length} seated, nothing is served`
  return locked.value === n ? `All ${n} ballots are locked` : `${locked.value} of ${n} ballots locked`
})
</script>

<template>
  <div class="two">
    <section class="page stack wide">
      <PanelResults v-if="shut" />
      <template v-if="!waiting">
        <div class="row head">
          <component :is="shut && trial.flights.length ? 'h2' : 'h1'">Seats</component>
          <b v-if="!shut" class="lead" data-testid="table-lead">{{ lead }}</b>
          <Button
            v-if="isPitmaster && !shut && !preparing"
            class="push"
            label="Serve a flight"
            data-testid="prepare-flight"
            @click="preparing = true"
          />
        </div>
        <p class="soot">
          A taster's page opens by the code on their card, on one phone, with no account. It shows codes, never an arm.
        </p>
        <template v-if="gate">
          <StopStrips :gate="gate" />
          <MeatStrip :gate="gate" />
        </template>
        <ServeFlight v-if="preparing" @done="preparing = false" />
        <SeatList />
        <h2>Flights</h2>
        <p v-if="trial.flights.length === 0" class="soot">
          Nothing is served yet. A flight is up to six samples on a plate, in drawn order, under drawn codes.
        </p>
        <FlightCard v-for="f in trial.flights" :key="f.id" :flight="f" />
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
.head {
  align-items: baseline;
}
.lead {
  font-size: var(--n-md);
}
.side {
  padding: 16px;
}
</style>
