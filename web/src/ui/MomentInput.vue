<script setup lang="ts">
import DatePicker from 'primevue/datepicker'
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import { clockTyped, clockWords } from './time'
import { hours } from './settings'

/** A day and a clock, as "2026-09-19T18:00" or empty. */
const moment = defineModel<string>({ required: true })
const props = defineProps<{ label: string; disabled?: boolean; day?: string }>()
const date = ref<Date | null>(null)
const time = ref('')
// A day without a zone: only its numbers are read.
const toDay = (text: string) => (/^\d{4}-\d\d-\d\d$/.test(text) ? new Date(`${text}T12:00`) : null)
const two = (n: number) => String(n).padStart(2, '0')
const dayText = () =>
  date.value ? `${date.value.getFullYear()}-${two(date.value.getMonth() + 1)}-${two(date.value.getDate())}` : ''
watch(
  [moment, hours],
  ([m]) => {
    if (m || (date.value && time.value)) {
      const [d = '', t = ''] = m.split('T')
      date.value = toDay(d)
      time.value = clockWords(t)
    }
    if (!m) date.value ??= toDay(props.day ?? '')
  },
  { immediate: true },
)

function put() {
  const t = clockTyped(time.value)
  if (t) time.value = clockWords(t)
  moment.value = date.value && t ? `${dayText()}T${t}` : ''
}
function pick(d: unknown) {
  date.value = d instanceof Date ? d : null
  put()
}
</script>

<template>
  <span class="moment">
    <DatePicker
      class="day"
      :model-value="date"
      date-format="yy-mm-dd"
      update-model-type="date"
      placeholder="2026-09-19"
      show-icon
      icon-display="input"
      input-class="mono-input"
      :aria-label="`${label}, day`"
      :disabled="disabled"
      @update:model-value="pick"
    />
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
.day {
  width: 152px;
}
.clock {
  width: 84px;
}
.clock.long {
  width: 104px;
}
</style>
