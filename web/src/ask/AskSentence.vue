<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { useAskForm } from './ask'

const { ask, shut } = useAskForm()
</script>

<template>
  <section class="stack tight">
    <div class="field">
      <label for="question">The question, in one sentence</label>
      <InputText id="question" v-model="ask.question" class="question" placeholder="Paper or bare?" />
    </div>
    <div class="sentence">
      <label for="product">We cook</label>
      <InputText id="product" v-model="ask.product" placeholder="lamb shoulder" class="word" />
      <label for="cut">one piece is a</label>
      <InputText id="cut" v-model="ask.cut" placeholder="shoulder" class="word short" />
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
.word {
  width: 158px;
  font-weight: 700;
}
.short {
  width: 112px;
}
</style>
