<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { ref } from 'vue'
import type { CookView, CutView } from '../api/schema.gen'
import MomentInput from '../ui/MomentInput.vue'
import { clock, fromLocal, toLocal } from '../ui/time'
import { sentence } from '../ui/units'
import { label } from './acts'
import type { Turned } from './outbox'
import type { Pressed } from './presses'

/** A press that the barn would not take: it can be mended and sent again, with its cuts. */
const { entry, cuts, cook } = defineProps<{ entry: Turned; cuts: CutView[]; cook: CookView }>()
const emit = defineEmits<{ again: [Pressed]; forget: [] }>()
const mending = ref(false)
/** What was pressed, and of what. */
const pressed = () => {
  const { act, note, cut_ids: ids } = entry.body!
  const of = ids.length > 1 && ids.length === cuts.length ? [`all ${ids.length} cuts`] : named(ids)
  return [label(act), ...of].join(' ') + (note ? `, ${note}` : '')
}
const named = (ids: number[]) =>
  [
    cuts
      .filter((c) => ids.includes(c.id))
      .map((c) => c.name)
      .join(', '),
  ].filter(Boolean)
const at = ref(toLocal(entry.at))
const picked = ref<number[]>(entry.body?.cut_ids ?? [])
const pits = ref<number[]>(entry.body?.pit_run_ids ?? [])
function send() {
  const { act, detail } = entry.body!
  emit('again', { act, at: fromLocal(at.value), detail, cut_ids: picked.value, pit_run_ids: pits.value })
}
/** It does not fit, and is so all the same. */
function sure() {
  const { act, detail, cut_ids, pit_run_ids } = entry.body!
  emit('again', { act, at: entry.at, detail, cut_ids, pit_run_ids, sure: true })
}
</script>

<template>
  <div class="turned" role="alert" data-testid="turned-away">
    <p>
      {{ entry.asks ? 'Not logged yet:' : 'Not taken:' }}
      <b
        ><span class="num">{{ clock(entry.at) }}</span> {{ entry.body ? pressed() : entry.text }}.</b
      >
      {{ sentence(entry.why) }}{{ entry.asks ? '. Is it so?' : ` ${sentence(entry.remedy)}` }}
    </p>
    <div v-if="mending" class="row">
      <MomentInput v-model="at" label="Time of what was not taken" :day="toLocal(cook.now).slice(0, 10)" />
      <SelectButton
        v-if="entry.body?.pit_run_ids.length"
        v-model="pits"
        multiple
        :options="cook.runs"
        option-label="pit"
        option-value="id"
        aria-label="Pits"
      />
      <SelectButton
        v-else
        v-model="picked"
        multiple
        :options="cuts"
        option-label="name"
        option-value="id"
        aria-label="Cuts"
      />
    </div>
    <div class="row">
      <template v-if="entry.asks && !mending">
        <Button class="no" label="No, it was a slip" data-testid="slip" @click="$emit('forget')" />
        <Button class="yes" outlined label="It is so" data-testid="sure" @click="sure" />
      </template>
      <Button v-if="mending" size="small" label="Send again" :disabled="!at" data-testid="send-again" @click="send" />
      <Button
        v-else-if="entry.body"
        size="small"
        outlined
        label="Fix it"
        data-testid="mend-turned"
        @click="mending = true"
      />
      <Button v-if="mending || !entry.asks" size="small" outlined label="Let it go" @click="$emit('forget')" />
    </div>
  </div>
</template>

<style scoped>
.turned {
  display: flex;
  flex-direction: column;
  gap: 8px;
  background: var(--watch-wash);
  color: var(--watch);
  padding: 8px 12px;
}
.no {
  min-height: 64px;
  min-width: min(240px, 50vw);
}
.yes {
  min-height: 48px;
}
</style>
