<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { phaseKindValues, type Phase, type PutIn } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import LateInput from '../ui/LateInput.vue'
import ParcelRows from '../fire/ParcelRows.vue'
import { withTemperatureUnit } from '../ui/units'
import PhaseEnds from './PhaseEnds.vue'
import PhaseMoves from './PhaseMoves.vue'
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

/** What goes into the wrap; of an earlier plan only its weight is known. */
const parcel = computed<PutIn[]>(
  () =>
    p.value.parcel ??
    (p.value.liquid_g
      ? [{ what: 'liquid', typed: `${Math.round(p.value.liquid_g)} g`, g: p.value.liquid_g, ml: 0 }]
      : []),
)
function putIn(of: PutIn[]) {
  p.value.parcel = of
  if (!of.length) p.value.liquid_g = 0
}
const inPit = computed(() => kindOf(p.value.kind).in_pit)
const { data: pits } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
const cookers = computed(() => [{ id: 0, name: 'where it stands' }, ...(pits.value ?? [])])
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
      <div v-if="inPit || kindOf(p.kind).cooks || p.kind === 'reheat'" class="field">
        <span class="label">Where</span>
        <Select
          :model-value="p.pit_id ?? 0"
          :options="cookers"
          option-label="name"
          option-value="id"
          aria-label="Cooker"
          :disabled="shut"
          @update:model-value="(id: number) => (p.pit_id = id || undefined)"
        />
      </div>
      <div v-if="inPit || p.kind === 'hold'" class="field">
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
    <div v-if="inPit" class="pairs three">
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
    </div>
    <div v-if="inPit && p.wrap" class="field">
      <span class="label">In the wrap with it</span>
      <ParcelRows :model-value="parcel" :disabled="shut" @update:model-value="putIn" />
    </div>
    <PhaseMoves v-if="inPit || kindOf(p.kind).cooks" v-model="p" />
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
