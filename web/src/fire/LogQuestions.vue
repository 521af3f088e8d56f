<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed } from 'vue'
import type { CookView, LogOptions, LogPreview } from '../api/schema.gen'
import DayInput from '../ui/DayInput.vue'
import MomentInput from '../ui/MomentInput.vue'
import { date, dateTime, toLocal } from '../ui/time'

/** What a log leaves open, and a person says. */
const said = defineModel<LogOptions>({ required: true })
const props = defineProps<{ preview: LogPreview; cook: CookView }>()
const emit = defineEmits<{ said: [] }>()

const asks = (q: LogPreview['questions'][number]) => props.preview.questions.includes(q) || said.value[q] !== ''
const tableDay = computed(() => toLocal(props.cook.serve_at).slice(0, 10))
function inZone() {
  said.value.zone = props.preview.likely_zone
  emit('said')
}
const scales = [
  { label: 'F', value: 'F' },
  { label: 'C', value: 'C' },
]
const orders = [
  { label: 'day first', value: 'dmy' },
  { label: 'month first', value: 'mdy' },
]
const outsides = [
  { label: 'leave them out', value: 'leave' },
  { label: 'keep them', value: 'keep' },
]
const folds = [
  { label: 'first pass', value: 'first' },
  { label: 'second pass', value: 'second' },
]
const counts = [
  { label: 'seconds', value: 's' },
  { label: 'minutes', value: 'min' },
  { label: 'hours', value: 'h' },
]
const futures = [{ label: 'leave them out', value: 'leave' }]
</script>

<template>
  <div v-if="asks('scale')" class="field ask">
    <span class="label">Guessed from the values: is it F or C?</span
    ><SelectButton
      v-model="said.scale"
      :options="scales"
      option-label="label"
      option-value="value"
      @change="emit('said')"
    />
  </div>
  <div v-if="asks('date_order')" class="field ask">
    <span class="label">Day or month first?</span
    ><SelectButton
      v-model="said.date_order"
      :options="orders"
      option-label="label"
      option-value="value"
      @change="emit('said')"
    />
  </div>
  <div v-if="asks('outside')" class="field ask" data-testid="outside">
    <span class="label"
      >{{ preview.outside.toLocaleString('en') }} readings of {{ preview.outside_from.slice(0, 10) }} to
      {{ preview.outside_to.slice(0, 10) }} are far from this cook's table of {{ date(cook.serve_at) }}.</span
    ><SelectButton
      v-model="said.outside"
      :options="outsides"
      option-label="label"
      option-value="value"
      @change="emit('said')"
    />
  </div>
  <div v-if="asks('day')" class="field ask" data-testid="log-day">
    <label for="log-day">Its times say no day. Of which day is the first?</label
    ><DayInput v-model="said.day" input-id="log-day" @update:model-value="emit('said')" />
  </div>
  <div v-if="asks('fold')" class="field ask">
    <span class="label">The clocks went back: which pass of the hour?</span
    ><SelectButton
      v-model="said.fold"
      :options="folds"
      option-label="label"
      option-value="value"
      @change="emit('said')"
    />
  </div>
  <div v-if="asks('future')" class="field ask" data-testid="future">
    <span class="label"
      >{{ preview.future.toLocaleString('en') }} readings lie after now, to {{ dateTime(preview.future_to) }}.
      {{ preview.likely_zone ? '' : "The logger's clock is fast." }}</span
    >
    <Button
      v-if="preview.likely_zone"
      size="small"
      :label="`Its times are of ${preview.likely_zone}`"
      data-testid="likely-zone"
      @click="inZone"
    />
    <SelectButton
      v-model="said.future"
      :options="futures"
      option-label="label"
      option-value="value"
      aria-label="What lies after now"
      @change="emit('said')"
    />
  </div>
  <div v-if="asks('elapsed')" class="field ask" data-testid="log-elapsed">
    <span class="label">Its times count up. In what?</span
    ><SelectButton
      v-model="said.elapsed"
      :options="counts"
      option-label="label"
      option-value="value"
      aria-label="Its times count in"
      @change="emit('said')"
    />
  </div>
  <div v-if="asks('start')" class="field ask" data-testid="log-start">
    <span class="label">Its times count from its start. When was that?</span
    ><MomentInput v-model="said.start" label="Start of the log" :day="tableDay" @update:model-value="emit('said')" />
  </div>
</template>

<style scoped>
.ask {
  background: var(--watch-wash);
  padding: 8px;
}
</style>
