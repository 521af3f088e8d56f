<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, inject } from 'vue'
import type { TrialMeat } from '../api/schema.gen'
import MeatFields from '../gate/MeatFields.vue'
import { trialKey } from '../trial/trial'
import PickOrType from '../ui/PickOrType.vue'
import { useAskForm } from './ask'

const { ask, catalogue, shut } = useAskForm()
const frame = inject(trialKey, null)
const meat = computed<TrialMeat>({
  get: () => ({ species: ask.species, handling: ask.handling, whole_bird: ask.whole_bird }),
  set: (m) => Object.assign(ask, m),
})
/** Other meat than was kept, which may need a reason. */
const changed = computed(() => {
  const was = frame?.trial.value?.ask
  return (
    !!was?.species &&
    (was.species !== ask.species || was.handling !== ask.handling || was.whole_bird !== ask.whole_bird)
  )
})
const products = computed(() => catalogue.value?.products.map((p) => p.name) ?? [])
/** What the barn cooked before brings what it cooks like; what is new is asked about. */
function named() {
  const name = (ask.product ?? '').trim().toLowerCase()
  ask.family = catalogue.value?.products.find((p) => p.name.toLowerCase() === name)?.family ?? ''
}
</script>

<template>
  <section class="stack tight">
    <div class="field">
      <label for="question">The question, in one sentence</label>
      <InputText
        id="question"
        v-model="ask.question"
        data-field="question"
        class="question"
        placeholder="Paper or bare?"
      />
    </div>
    <p v-if="ask.kind" class="small soot">
      A pit burns without meat, a probe at each end of the grate and in the middle. It tells how soon it is hot, how
      even it is and how long a piece of fuel lasts.
    </p>
    <div v-if="!ask.kind" class="sentence">
      <label for="product">We cook</label>
      <PickOrType
        v-model="ask.product"
        :options="products"
        input-id="product"
        data-field="product"
        label="What is cooked"
        placeholder="lamb shoulder"
        class="product"
        :disabled="shut"
        @change="named"
      />
      <label for="family">which cooks like</label>
      <Select
        v-model="ask.family"
        label-id="family"
        :options="catalogue?.families ?? []"
        option-label="name"
        option-value="key"
        placeholder="not said"
        :disabled="shut"
        data-testid="family"
      />
    </div>
    <div v-if="!ask.kind" class="sentence">
      <label for="cut">One piece is a</label>
      <InputText id="cut" v-model="ask.cut" data-field="cut" placeholder="shoulder" class="cut" />
      <label for="species">of</label>
      <MeatFields v-model="meat" :disabled="shut" />
      <span v-if="!ask.species || !ask.handling" class="small triangle">The gate before the table asks for both.</span>
    </div>
    <div v-if="changed" class="field">
      <label for="meat-why">Why it is other meat now, if it gets looser</label>
      <InputText id="meat-why" v-model="ask.meat_why" maxlength="200" />
    </div>
  </section>
</template>

<style scoped>
.tight {
  gap: 10px;
}
.question {
  font: 700 26px var(--font-head);
}
.sentence {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.sentence .product {
  flex: 0 1 270px;
  font-weight: 700;
}
.cut {
  width: 158px;
  font-weight: 700;
}
</style>
