<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import DayInput from './DayInput.vue'
import { clockTyped, clockWords } from './time'
import { hours } from './settings'

/** A day and a clock, as "2026-09-19T18:00" or empty. */
const moment = defineModel<string>({ required: true })
const props = defineProps<{ label: string; disabled?: boolean; day?: string }>()
const on = ref('')
const time = ref('')
let typed = false // it changed by what was typed here: that stands, also while it is no day
watch(
  [moment, hours],
  ([m]) => {
    if (typed && !m) return void (typed = false)
    typed = false
    if (m || (on.value && time.value)) {
      const [d = '', t = ''] = m.split('T')
      on.value = d
      time.value = clockWords(t)
    }
    if (!m) on.value ||= props.day ?? ''
  },
  { immediate: true },
)

function put() {
  const t = clockTyped(time.value)
  if (t) time.value = clockWords(t)
  const then = on.value && t ? `${on.value}T${t}` : ''
  typed = then !== moment.value
  moment.value = then
}
function onDay(d: string) {
  on.value = d
  put()
}
</script>

<template>
  <span class="moment">
    <DayInput :model-value="on" :label="`${label}, day`" :disabled="disabled" @update:model-value="onDay" />
    <InputText
      v-model="time"
      class="mono-input clock"
      :class="{ long: hours === '12' }"
      :placeholder="hours === '12' ? '6:00 pm' : 'hh:mm'"
      inputmode="numeric"
      maxlength="8"
      :aria-label="`${label}, clock`"
      :disabled="disabled"
      @change="put"
    />
  </span>
</template>

<style scoped>
.moment {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.clock {
  width: 84px;
}
.clock.long {
  width: 104px;
}
</style>
