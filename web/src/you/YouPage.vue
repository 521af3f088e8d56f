<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import SelectButton from 'primevue/selectbutton'
import { useSession } from '../session/session'
import { lettersOn } from '../ui/keys'
import DeviceList from './DeviceList.vue'
import PasskeyList from './PasskeyList.vue'
import PasswordForm from './PasswordForm.vue'
import { hours, mark, system, weights } from '../ui/settings'

/** What is one's own: how numbers are shown, the password, where one is signed in. */
const { person } = useSession()
const pick = { optionLabel: 'label', optionValue: 'value', allowEmpty: false }
const choices = {
  system: [
    { label: 'F', value: 'F' },
    { label: 'C', value: 'C' },
  ],
  weights: [
    { label: 'lb, in', value: 'lb' },
    { label: 'kg, mm', value: 'kg' },
  ],
  hours: [
    { label: '24 h, 18:05', value: '24' },
    { label: '12 h, 6:05 pm', value: '12' },
  ],
  mark: [
    { label: 'point, 1.5', value: '.' },
    { label: 'comma, 1,5', value: ',' },
  ],
}
</script>

<template>
  <div v-if="person" class="page stack">
    <h1>{{ person.name }}</h1>
    <section class="stack" aria-labelledby="shown">
      <h2 id="shown">How numbers are shown to you, on every device</h2>
      <div class="row">
        <SelectButton
          v-model="system"
          :options="choices.system"
          v-bind="pick"
          aria-label="Temperatures"
          data-testid="own-temperatures"
        />
        <SelectButton
          v-model="weights"
          :options="choices.weights"
          v-bind="pick"
          aria-label="Weights and lengths"
          data-testid="own-weights"
        />
        <SelectButton v-model="hours" :options="choices.hours" v-bind="pick" aria-label="Clock" data-testid="hours" />
        <SelectButton
          v-model="mark"
          :options="choices.mark"
          v-bind="pick"
          aria-label="Decimal mark"
          data-testid="mark"
        />
      </div>
      <label class="row"><Checkbox v-model="lettersOn" binary /> Single letters act as keys, on this device</label>
    </section>
    <div class="columns">
      <PasswordForm />
      <DeviceList />
      <PasskeyList />
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(22rem, 100%), 1fr));
  gap: 28px 40px;
  align-items: start;
}
</style>
