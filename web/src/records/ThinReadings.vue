<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputNumber from 'primevue/inputnumber'
import { ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Keeping } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'

/** Raw readings are kept for ever, unless the pitmaster asks for less. */
const props = defineProps<{ kept: Keeping }>()
const client = useQueryClient()
const { run, busy, problem } = useAct()
const on = ref(false)
const days = ref(365)
const seconds = ref(60)
watch(
  () => props.kept,
  (k) => {
    on.value = k.thin_after_days !== null
    days.value = k.thin_after_days ?? 365
    seconds.value = k.thin_to_s ?? 60
  },
  { immediate: true },
)
async function save() {
  const body = on.value
    ? { thin_after_days: days.value, thin_to_s: seconds.value }
    : { thin_after_days: null, thin_to_s: null }
  const done = await run(async () => {
    await ok(api.PUT('/api/records/thinning', { body }))
    return true
  })
  if (done) await client.invalidateQueries({ queryKey: ['records'] })
}
</script>

<template>
  <details>
    <summary>
      {{
        kept.thin_after_days
          ? `Readings older than ${kept.thin_after_days} days are thinned to one in ${kept.thin_to_s} s`
          : 'All readings are kept as they came'
      }}
    </summary>
    <form class="stack" @submit.prevent="save">
      <label class="check"
        ><Checkbox v-model="on" binary input-id="thin-on" /> Thin old readings; of each stretch the lowest, the highest
        and the first stay, the rest are gone for good</label
      >
      <div v-if="on" class="row">
        <div class="field">
          <label for="thin-days">Older than, days</label
          ><InputNumber v-model="days" input-id="thin-days" :min="30" :max="36500" data-field="thin_after_days" />
        </div>
        <div class="field">
          <label for="thin-s">One in so many seconds</label
          ><InputNumber v-model="seconds" input-id="thin-s" :min="10" :max="240" data-field="thin_to_s" />
        </div>
      </div>
      <ProblemNote :problem="problem" />
      <p><Button type="submit" label="Save" outlined :loading="busy" /></p>
    </form>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  text-decoration: underline;
}
summary,
.check {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 44px;
}
</style>
