<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import type { CookView, CutView } from '../api/schema.gen'
import MomentInput from '../ui/MomentInput.vue'
import { clock, fromLocal, toLocal } from '../ui/time'
import type { Turned } from './outbox'
import type { Pressed } from './presses'

/** A press that the barn would not take: it can be mended and sent again, with its cuts. */
const { entry, cuts, cook } = defineProps<{ entry: Turned; cuts: CutView[]; cook: CookView }>()
const emit = defineEmits<{ again: [Pressed]; forget: [] }>()
const mending = ref(false)
const at = ref(toLocal(entry.at))
const picked = ref<number[]>(entry.body?.cut_ids ?? [])
const pits = ref<number[]>(entry.body?.pit_run_ids ?? [])
const toggle = (list: number[], id: number) => (list.includes(id) ? list.filter((x) => x !== id) : [...list, id])
function send() {
  const { act, detail } = entry.body!
  emit('again', { act, at: fromLocal(at.value), detail, cut_ids: picked.value, pit_run_ids: pits.value })
}
</script>

<template>
  <div class="turned" role="alert" data-testid="turned-away">
    <p>
      Not taken: <b class="num">{{ clock(entry.at) }}</b> {{ entry.text }}. {{ entry.why }} {{ entry.remedy }}
    </p>
    <div v-if="mending" class="row">
      <MomentInput v-model="at" label="Time of what was not taken" :day="toLocal(cook.now).slice(0, 10)" />
      <template v-if="pits.length">
        <button
          v-for="r in cook.runs"
          :key="r.id"
          type="button"
          class="one"
          :aria-pressed="pits.includes(r.id)"
          @click="pits = toggle(pits, r.id)"
        >
          {{ r.pit }}
        </button>
      </template>
      <template v-else>
        <button
          v-for="c in cuts"
          :key="c.id"
          type="button"
          class="one num"
          :aria-pressed="picked.includes(c.id)"
          @click="picked = toggle(picked, c.id)"
        >
          {{ c.name }}
        </button>
      </template>
    </div>
    <div class="row">
      <Button v-if="mending" size="small" label="Send again" :disabled="!at" data-testid="send-again" @click="send" />
      <Button v-else-if="entry.body" size="small" label="Mend it" data-testid="mend-turned" @click="mending = true" />
      <Button size="small" outlined label="Let it go" @click="$emit('forget')" />
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
.one {
  min-width: 48px;
  min-height: 44px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  font-weight: 700;
  cursor: pointer;
}
.one[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
</style>
