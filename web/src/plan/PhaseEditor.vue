<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { ref, watch } from 'vue'
import { api, ok } from '../api/client'
import { phaseKindValues, type Phase } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import LateInput from '../ui/LateInput.vue'
import { ounceG, system, withTemperatureUnit } from '../ui/units'
import PhaseEnds from './PhaseEnds.vue'
import { kindOf, setKind } from './phases'

/** The fields of one phase; what stands at its foot is the list's. */
const { i } = defineProps<{ i: number }>()
/** A phase of the plan that is being written: changed in place. */
const p = defineModel<Phase>({ required: true })
const { shut } = useThisTrial()
const { data: holders } = useQuery({ queryKey: ['holders'], queryFn: () => ok(api.GET('/api/holders')) })

const hours = (s: number) => (s ? String(Math.round((s / 3600) * 100) / 100) : '')
const minutes = (s: number) => (s ? String(Math.round(s / 60)) : '')
type Spans = 'spritz_every_s' | 'spritz_from_s' | 'least_s' | 'most_s'
function put(p: Phase, field: Spans, text: string | undefined, unit: number) {
  const v = Number((text ?? '').replace(',', '.'))
  p[field] = Number.isFinite(v) && v > 0 ? Math.round(v * unit) : 0
}

const liquid = ref('')
watch(
  p,
  (p) =>
    (liquid.value = p.liquid_g ? (system.value === 'F' ? `${Math.round(p.liquid_g / ounceG)}` : `${p.liquid_g}`) : ''),
  { immediate: true },
)
function putLiquid(p: Phase) {
  const v = Number(liquid.value.replace(',', '.'))
  p.liquid_g = Number.isFinite(v) && v > 0 ? (system.value === 'F' ? v * ounceG : v) : 0
}
</script>

<template>
  <form class="edit" @submit.prevent>
    <div class="pairs">
      <div class="field">
        <label :for="`name${i}`">What you call it</label
        ><LateInput :id="`name${i}`" v-model="p.name" :disabled="shut" />
      </div>
      <div class="field">
        <span class="label">What it is</span>
        <Select
          :model-value="p.kind"
          :options="[...phaseKindValues]"
          aria-label="Kind of phase"
          :disabled="shut"
          @update:model-value="(k: Phase['kind']) => setKind(p, k)"
        />
      </div>
      <div v-if="kindOf(p.kind).set" class="field">
        <label :for="`set${i}x`">{{ kindOf(p.kind).set }}</label><LateInput
          :id="`set${i}x`"
          v-model="p.set_typed"
          class="mono-input"
          :tidy="withTemperatureUnit"
          :disabled="shut"
        />
      </div>
      <div v-if="p.kind === 'smoke'" class="field">
        <span class="label">Wrapped in</span>
        <Select
          v-model="p.wrap"
          :options="vocabulary.wraps"
          option-label="words"
          option-value="key"
          aria-label="Wrap"
          :disabled="shut"
        />
      </div>
      <div v-if="p.kind === 'hold'" class="field">
        <span class="label">In</span>
        <Select
          v-model="p.holder_id"
          :options="holders ?? []"
          option-label="name"
          option-value="id"
          placeholder="choose"
          aria-label="Holder"
          :disabled="shut"
        />
      </div>
    </div>
    <PhaseEnds v-model="p" />
    <div v-if="p.kind === 'smoke'" class="pairs three">
      <div class="field">
        <label :for="`se${i}`">Spritz every (min)</label
        ><InputText
          :id="`se${i}`"
          :model-value="minutes(p.spritz_every_s)"
          class="mono-input"
          placeholder="never"
          :disabled="shut"
          @change="put(p, 'spritz_every_s', ($event.target as HTMLInputElement).value, 60)"
        />
      </div>
      <div class="field">
        <label :for="`sf${i}`">from (h)</label
        ><InputText
          :id="`sf${i}`"
          :model-value="hours(p.spritz_from_s)"
          class="mono-input"
          placeholder="0"
          :disabled="shut"
          @change="put(p, 'spritz_from_s', ($event.target as HTMLInputElement).value, 3600)"
        />
      </div>
      <div v-if="p.wrap" class="field">
        <label :for="`lq${i}`">Liquid ({{ system === 'F' ? 'oz' : 'g' }})</label
        ><InputText
          :id="`lq${i}`"
          v-model="liquid"
          class="mono-input"
          placeholder="none"
          :disabled="shut"
          @change="putLiquid(p)"
        />
      </div>
    </div>
    <div v-if="p.kind === 'hold'" class="pairs three">
      <div class="field">
        <label :for="`le${i}`">At least (h)</label
        ><InputText
          :id="`le${i}`"
          :model-value="hours(p.least_s)"
          class="mono-input"
          placeholder="0"
          :disabled="shut"
          @change="put(p, 'least_s', ($event.target as HTMLInputElement).value, 3600)"
        />
      </div>
      <div class="field">
        <label :for="`mo${i}`">At most (h)</label
        ><InputText
          :id="`mo${i}`"
          :model-value="hours(p.most_s)"
          class="mono-input"
          placeholder="no limit"
          :disabled="shut"
          @change="put(p, 'most_s', ($event.target as HTMLInputElement).value, 3600)"
        />
      </div>
    </div>
    <slot />
  </form>
</template>

<style scoped>
.edit {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 0 8px 10px;
}
.pairs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.pairs.three {
  grid-template-columns: repeat(3, 1fr);
}
.field :deep(input),
.field :deep(.p-select) {
  width: 100%;
}
</style>
