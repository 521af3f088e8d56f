<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'
import PickOrType from '../ui/PickOrType.vue'
import { useAskForm } from './ask'

const { ask, catalogue, shut } = useAskForm()
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
      <InputText id="question" v-model="ask.question" class="question" placeholder="Paper or bare?" />
    </div>
    <div class="sentence">
      <label for="product">We cook</label>
      <PickOrType
        v-model="ask.product"
        :options="products"
        input-id="product"
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
    <div class="sentence">
      <label for="cut">One piece is a</label>
      <InputText id="cut" v-model="ask.cut" placeholder="shoulder" class="cut" />
      <label for="species">of</label>
      <Select
        v-model="ask.species"
        label-id="species"
        :options="['red meat', 'poultry', 'fish']"
        :disabled="shut"
        data-testid="species"
      />
      <Select
        v-model="ask.handling"
        aria-label="Handled"
        :options="[
          { label: 'whole muscle', value: 'intact' },
          { label: 'injected or pierced', value: 'pierced' },
          { label: 'minced', value: 'minced' },
        ]"
        option-label="label"
        option-value="value"
        :disabled="shut"
      />
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
