<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { withTemperatureUnit } from '../ui/units'
import { useAsPlanned } from './planned'

/** Where a cut goes: one of the cook's pits, another that is taken for it now, or a holder. */
const { cook, holders } = defineProps<{ cook: CookView; holders: boolean }>()
const to = defineModel<number | undefined>({ required: true })
const { trial } = useThisTrial()
const { data: boxes } = useQuery({
  queryKey: ['holders'],
  queryFn: () => ok(api.GET('/api/holders')),
  enabled: computed(() => holders),
})
const { data: pits } = useQuery({
  queryKey: ['pits'],
  queryFn: () => ok(api.GET('/api/pits')),
  enabled: computed(() => !holders),
})
const runs = computed(() => trial.value.cooks.find((k) => k.id === cook.id)?.runs ?? cook.runs)
const options = computed(() =>
  holders
    ? (boxes.value ?? []).map((h) => ({ id: h.id, name: h.name }))
    : runs.value.map((r) => ({ id: r.id, name: r.pit })),
)
const others = computed(() => (pits.value ?? []).filter((p) => !runs.value.some((r) => r.pit_id === p.id)))

const taking = ref(false)
const pit = ref<number | null>(null)
const set = ref('')
const { begin, problem } = useAsPlanned(() => cook)
async function take() {
  await begin(pit.value!, withTemperatureUnit(set.value))
  const run = runs.value.find((r) => r.pit_id === pit.value)
  if (!run) return
  taking.value = false
  to.value = run.id
}
</script>

<template>
  <span class="where">
    <button
      v-for="o in options"
      :key="o.id"
      type="button"
      class="tap"
      :aria-pressed="to === o.id"
      @click="to = to === o.id ? undefined : o.id"
    >
      {{ o.name }}
    </button>
    <Button v-if="!holders && others.length && !taking" outlined label="Another cooker" @click="taking = true" />
    <form v-if="taking" class="row" @submit.prevent="take">
      <Select
        v-model="pit"
        :options="others"
        option-label="name"
        option-value="id"
        placeholder="which"
        aria-label="Another cooker"
      />
      <InputText v-model="set" class="set mono-input" placeholder="300 F" aria-label="Set to" />
      <Button type="submit" label="Take it" :disabled="!pit || !set" />
    </form>
    <ProblemNote :problem="problem" />
  </span>
</template>

<style scoped>
.where {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px;
}
.set {
  width: 92px;
  min-height: 44px;
}
</style>
