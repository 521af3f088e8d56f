<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Popover from 'primevue/popover'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { dayTyped } from './day'

const DatePicker = defineAsyncComponent(() => import('primevue/datepicker'))

/** A day, as "2026-11-30" or empty: typed as people do and read once it is left, or picked. */
const day = defineModel<string>({ required: true })
const {
  label = '',
  inputId = undefined,
  field = undefined,
} = defineProps<{
  label?: string
  inputId?: string
  disabled?: boolean
  field?: string
}>()
const text = ref(day.value)
const wrong = ref(false)
watch(day, (d) => {
  if (d || !wrong.value) text.value = d
  if (d) wrong.value = false
})
function put() {
  const d = dayTyped(text.value, new Date().getFullYear())
  wrong.value = text.value.trim() !== '' && !d
  if (d) text.value = d
  day.value = d
}
const calendar = ref<InstanceType<typeof Popover> | null>(null)
// A day without a zone: only its numbers are read.
const picked = computed(() => (day.value ? new Date(`${day.value}T12:00`) : null))
const two = (n: number) => String(n).padStart(2, '0')
function pick(d: unknown) {
  if (!(d instanceof Date)) return
  day.value = `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`
  calendar.value?.hide()
}
</script>

<template>
  <span class="whole">
    <span class="line">
      <InputText
        :id="inputId"
        v-model="text"
        class="mono-input day"
        placeholder="2026-11-30"
        maxlength="20"
        autocomplete="off"
        :invalid="wrong"
        :aria-label="label || undefined"
        :disabled="disabled"
        :data-field="field"
        @change="put"
        @keydown.enter="put"
      />
      <Button
        type="button"
        text
        class="pick no-print"
        :aria-label="`Pick ${label || 'the day'}`"
        :disabled="disabled"
        @click="(e: Event) => calendar?.toggle(e)"
        ><i class="leaf" aria-hidden="true"
      /></Button>
    </span>
    <span v-if="wrong" class="small bad" role="alert">No such day. Write it as 2026-11-30.</span>
    <Popover ref="calendar"><DatePicker inline :model-value="picked" @update:model-value="pick" /></Popover>
  </span>
</template>

<style scoped>
.whole {
  display: inline-flex;
  flex-direction: column;
}
.line {
  display: inline-flex;
  align-items: center;
}
.day {
  width: 132px;
}
.pick {
  min-width: 44px;
  min-height: 44px;
}
/* A leaf of a calendar. */
.leaf {
  width: 16px;
  height: 16px;
  border: 2px solid currentcolor;
  border-top-width: 5px;
  border-radius: 2px;
}
.bad {
  color: var(--alarm);
}
</style>
