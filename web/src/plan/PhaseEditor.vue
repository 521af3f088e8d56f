<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Select from 'primevue/select'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { phaseKindValues, type Phase, type PutIn } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import LateInput from '../ui/LateInput.vue'
import NumberInput from '../ui/NumberInput.vue'
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
        ><NumberInput
          :id="`se${i}`"
          v-model="p.spritz_every_s"
          :per="60"
          whole
          class="mono-input"
          placeholder="never"
          :disabled="shut"
        />
      </div>
      <div class="field">
        <label :for="`sf${i}`">from (h)</label
        ><NumberInput
          :id="`sf${i}`"
          v-model="p.spritz_from_s"
          :per="3600"
          whole
          class="mono-input"
          placeholder="0"
          :disabled="shut"
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
        ><NumberInput
          :id="`le${i}`"
          v-model="p.least_s"
          :per="3600"
          whole
          class="mono-input"
          placeholder="0"
          :disabled="shut"
        />
      </div>
      <div class="field">
        <label :for="`mo${i}`">At most (h)</label
        ><NumberInput
          :id="`mo${i}`"
          v-model="p.most_s"
          :per="3600"
          whole
          class="mono-input"
          placeholder="no limit"
          :disabled="shut"
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
