<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { useResolution } from '../match/resolution'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import { signed, typedWeight } from '../ui/units'
import WeightCell from '../ui/WeightCell.vue'

const { trial, armOf } = useThisTrial()
const resolution = useResolution()
</script>

<template>
  <div class="page stack">
    <div class="row">
      <h1>Before and after salt, brine or injection</h1>
      <label class="row push small"
        >Scale step <InputText v-model="resolution" class="mono-input step" aria-label="Scale step"
      /></label>
    </div>
    <p class="soot">
      Weigh each cut again once it is prepped. What it picked up counts in the yield. Leave it out if nothing was added.
    </p>
    <table v-if="trial.cuts.length">
      <thead>
        <tr>
          <th>Cut</th>
          <th>Arm</th>
          <th>Before (trimmed)</th>
          <th>After (prepped)</th>
          <th>Picked up</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in trial.cuts" :key="c.id">
          <td>
            <b class="num">{{ c.name }}</b>
          </td>
          <td><ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" /></td>
          <td class="num">{{ weighingAt(c, 'trimmed') ? typedWeight(weighingAt(c, 'trimmed')!) : 'not weighed' }}</td>
          <td><WeightCell :cut="c" stage="prepped" label="Prepped weight" /></td>
          <td class="big">{{ c.account.pick_up ? `${signed(100 * c.account.pick_up.value, 1)} %` : '' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soot">No cut hangs yet. Hang them in Match.</p>
    <p class="warn">
      Keep meat below 40 F until it goes on. What is left of an injection or brine that met raw meat is thrown away.
      Injected or pierced meat is no longer whole muscle: say so in Ask, and its minimum follows.
    </p>
  </div>
</template>

<style scoped>
.step {
  width: 90px;
}
</style>
