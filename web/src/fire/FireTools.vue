<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { useThisTrial } from '../trial/trial'
import type { CookView } from '../api/schema.gen'
import KeyCap from '../ui/KeyCap.vue'
import { clock, date, dateTime } from '../ui/time'
import type { Align } from './lanes'

/** What is done with the picture and the log of a cook, under the pads: which cook, how near, side by side, out and in. */
defineProps<{
  of: CookView
  now: number
  live: boolean
  burning: boolean
  ahead: boolean
  zoomed: boolean
  replayable: boolean
  busy: boolean
}>()
const cook = defineModel<number | null>('cook', { required: true })
const align = defineModel<Align>('align', { required: true })
const emit = defineEmits<{
  zoom: [number]
  all: []
  ahead: []
  probes: []
  replay: []
  rehearse: []
  import: []
  save: ['svg' | 'png']
}>()
const { trial, shut } = useThisTrial()
const aligns: { label: string; value: Align }[] = [
  { label: 'Clock', value: 'clock' },
  { label: 'From on', value: 'on' },
  { label: 'From wrap', value: 'wrap' },
  { label: 'From pull', value: 'pull' },
]
/** A burn goes by its set-up, a cook by its number. */
const nameOf = (k: CookView, i: number) =>
  k.runs[0]?.arm_id
    ? `${trial.value.ask.arms.find((a) => a.id === k.runs[0]!.arm_id)?.tag} ${date(k.runs[0].lit_at!)}`
    : `Cook ${i + 1}`
const print = () => window.print()
</script>

<template>
  <section class="tools no-print" aria-label="The cook and its picture">
    <div class="row">
      <SelectButton
        v-if="trial.cooks.length > 1"
        v-model="cook"
        :options="trial.cooks.map((k, i) => ({ label: nameOf(k, i), value: k.id }))"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Cook"
      />
      <span
        >{{ trial.ask.kind ? 'Over' : 'Table' }} <b class="num">{{ dateTime(of.serve_at) }}</b></span
      >
      <template v-if="!shut">
        <span
          >Now <b class="num" data-testid="cook-now">{{ clock(now) }}</b></span
        >
        <span v-if="live" class="live" role="status" data-testid="wire">live</span>
      </template>
      <span class="push row">
        <Button outlined @click="emit('probes')">Probes <KeyCap>Q</KeyCap></Button>
        <Button v-if="!shut" data-testid="open-import" @click="emit('import')">Import a log <KeyCap>I</KeyCap></Button>
      </span>
    </div>
    <div class="row">
      <SelectButton
        v-model="align"
        :options="aligns"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Lanes side by side"
        data-testid="align"
      />
      <Button outlined @click="emit('zoom', 0.7)">Zoom in <KeyCap>+</KeyCap></Button>
      <Button outlined @click="emit('zoom', 1 / 0.7)">Zoom out <KeyCap>-</KeyCap></Button>
      <Button outlined label="All" :disabled="!zoomed" @click="emit('all')" />
      <Button v-if="burning" :outlined="!ahead" :aria-pressed="ahead" data-testid="ahead" @click="emit('ahead')"
        >Forecast <KeyCap>Y</KeyCap></Button
      >
      <Button v-if="replayable" outlined data-testid="replay-start" @click="emit('replay')"
        >Play it again <KeyCap>Space</KeyCap></Button
      >
      <span id="fire-options" class="push" />
      <span class="row">
        <Button outlined label="Save SVG" @click="emit('save', 'svg')" />
        <Button outlined label="Save PNG" @click="emit('save', 'png')" />
        <Button outlined label="Print" @click="print" />
        <Button
          v-if="!shut && trial.rehearses === null"
          outlined
          label="Rehearse"
          :loading="busy"
          @click="emit('rehearse')"
        />
      </span>
    </div>
  </section>
</template>

<style scoped>
.tools {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 8px 16px;
  background: var(--board);
  border-top: var(--line) solid var(--edge);
}
.tools :deep(button) {
  min-height: 48px;
}
.live {
  color: var(--ember);
  font-weight: 700;
}
</style>
