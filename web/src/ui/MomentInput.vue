<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'

/** A day and a 24-hour clock, as "2026-09-19T18:00" or empty; browsers' own field shows 12 hours to some. */
const moment = defineModel<string>({ required: true })
const props = defineProps<{ label: string; disabled?: boolean; day?: string }>()
const date = ref('')
const time = ref('')
watch(
  moment,
  (m) => {
    if (m || (date.value && time.value)) [date.value = '', time.value = ''] = m.split('T') as [string, string]
    if (!m) date.value ||= props.day ?? ''
  },
  { immediate: true },
)

/** "805", "8:05" and "08.05" all mean 08:05. */
function tidy(): string {
  const m = /^(\d{1,2})\D?(\d{2})$/.exec(time.value.trim())
  if (!m || Number(m[1]) > 23 || Number(m[2]) > 59) return ''
  return `${m[1]!.padStart(2, '0')}:${m[2]}`
}
function put() {
  const t = tidy()
  if (t) time.value = t
  moment.value = date.value && t ? `${date.value}T${t}` : ''
}
</script>

<template>
  <span class="moment">
    <InputText
      v-model="date"
      type="date"
      class="mono-input"
      :aria-label="`${label}, day`"
      :disabled="disabled"
      @change="put"
    />
    <InputText
      v-model="time"
      class="mono-input clock"
      placeholder="hh:mm"
      inputmode="numeric"
      maxlength="5"
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
</style>
