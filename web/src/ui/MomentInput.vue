<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import DayInput from './DayInput.vue'
import { clockTyped, clockWords } from './time'
import { hours } from './settings'

/** A day and a clock, as "2026-09-19T18:00" or empty. */
const moment = defineModel<string>({ required: true })
const props = defineProps<{ label: string; disabled?: boolean; day?: string }>()
const day = ref('')
const time = ref('')
watch(
  [moment, hours],
  ([m]) => {
    if (m || (day.value && time.value)) {
      const [d = '', t = ''] = m.split('T')
      day.value = d
      time.value = clockWords(t)
    }
    if (!m) day.value ||= props.day ?? ''
  },
  { immediate: true },
)

function put() {
  const t = clockTyped(time.value)
  if (t) time.value = clockWords(t)
  moment.value = day.value && t ? `${day.value}T${t}` : ''
}
function onDay(d: string) {
  day.value = d
  put()
}
</script>

<template>
  <span class="moment">
    <DayInput :model-value="day" :label="`${label}, day`" :disabled="disabled" @update:model-value="onDay" />
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
  gap: 6px;
}
.clock {
  width: 84px;
}
.clock.long {
  width: 104px;
}
</style>
