<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import Slider from 'primevue/slider'
import KeyCap from '../ui/KeyCap.vue'
import { dateTime } from '../ui/time'

/** The cook again, from lighting to the last reading, at any speed. */
defineProps<{ from: number; to: number; until: number; playing: boolean }>()
const speed = defineModel<number>('speed', { required: true })
const emit = defineEmits<{ toggle: []; seek: [number]; end: [] }>()
const speeds = [60, 300, 600, 1800, 3600].map((v) => ({ label: `${v}×`, value: v }))
</script>

<template>
  <div class="replay no-print" data-testid="replay">
    <Button size="small" @click="emit('toggle')"><KeyCap>Space</KeyCap> {{ playing ? 'Pause' : 'Play' }}</Button>
    <b class="num" data-testid="replay-at">{{ dateTime(until) }}</b>
    <Slider
      class="slide"
      :model-value="until"
      :min="from"
      :max="to"
      :step="60_000"
      aria-label="Moment of the cook"
      @update:model-value="(v) => emit('seek', v as number)"
    />
    <SelectButton
      v-model="speed"
      :options="speeds"
      option-label="label"
      option-value="value"
      :allow-empty="false"
      aria-label="Speed of the replay"
    />
    <Button size="small" outlined label="Show all of it" @click="emit('end')" />
  </div>
</template>

<style scoped>
.replay {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px 16px;
  padding: 8px 16px;
  background: var(--trough);
}
.slide {
  flex: 1;
  min-width: 160px;
  margin: 0 10px;
}
</style>
