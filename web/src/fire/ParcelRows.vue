<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import type { PutIn } from '../api/schema.gen'

/** What goes into a wrap with the meat: each thing with how much of it, by weight or by volume. */
const { disabled } = defineProps<{ disabled?: boolean }>()
const parcel = defineModel<PutIn[]>({ required: true })
const put = (i: number, change: Partial<PutIn>) =>
  (parcel.value = parcel.value.map((p, n) => (n === i ? { ...p, ...change } : p)))
const text = (e: Event) => (e.target as HTMLInputElement).value.trim()
</script>

<template>
  <div class="parcel">
    <div v-for="(p, i) in parcel" :key="i" class="row">
      <InputText
        :model-value="p.what"
        class="what"
        placeholder="fat, syrup, whey"
        :aria-label="`Thing ${i + 1} in the wrap`"
        :disabled="disabled"
        maxlength="60"
        @change="(e: Event) => put(i, { what: text(e) })"
      />
      <InputText
        :model-value="p.typed"
        class="much mono-input"
        placeholder="45 g"
        :aria-label="`How much of thing ${i + 1}`"
        :disabled="disabled"
        maxlength="30"
        @change="(e: Event) => put(i, { typed: text(e) })"
      />
      <Button v-if="!disabled" label="Drop" size="small" text @click="parcel = parcel.filter((_, n) => n !== i)" />
    </div>
    <Button
      v-if="!disabled && parcel.length < 6"
      label="Put something in"
      size="small"
      outlined
      @click="parcel = [...parcel, { what: '', typed: '', g: 0, ml: 0 }]"
    />
  </div>
</template>

<style scoped>
.parcel {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 6px;
}
.row {
  flex-wrap: nowrap;
  gap: 6px;
}
.what {
  width: 150px;
  min-height: 44px;
}
.much {
  width: 96px;
  min-height: 44px;
}
</style>
