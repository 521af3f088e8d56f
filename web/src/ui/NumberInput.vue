<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, useId, watch } from 'vue'
import { numberIn } from './number'
import { reader } from './reader'

/**
 * A number that a person types. What reads as none stays in the field with words, and the number
 * stays what it was. The model is in per of what is typed.
 */
defineOptions({ inheritAttrs: false })
const {
  per = 1,
  whole = false,
  zero = '',
  live = false,
} = defineProps<{
  per?: number
  /** Whole in the model's unit. */
  whole?: boolean
  /** How nothing stands in the field. */
  zero?: string
  /** Counts with every key, and not only once the field is left. */
  live?: boolean
}>()
const model = defineModel<number>({ required: true })
const emit = defineEmits<{ change: [] }>()
const id = useId()
const wrong = ref('')
/** To four digits after the mark, without the tail of a binary number. */
const shown = (v: number) => (v ? String(Number((v / per).toFixed(4))).replace('.', reader.mark) : zero)
const text = ref(shown(model.value))
const read = computed(() => (text.value.trim() === '' ? 0 : numberIn(text.value)))
const inModel = (v: number) => (whole ? Math.round(v * per) : v * per)
function take() {
  if (typeof read.value === 'number' && inModel(read.value) !== model.value) model.value = inModel(read.value)
}
watch(text, () => {
  if (typeof read.value === 'number') wrong.value = ''
  if (live) take()
})
watch(model, (m) => {
  if (typeof read.value === 'number' && inModel(read.value) !== m) text.value = shown(m)
})
function done() {
  wrong.value = typeof read.value === 'string' ? read.value : ''
  if (wrong.value) return
  take()
  emit('change')
}
</script>

<template>
  <InputText
    v-bind="$attrs"
    v-model="text"
    inputmode="decimal"
    :aria-invalid="wrong ? true : undefined"
    :aria-describedby="wrong ? id : undefined"
    :data-no-number="wrong || undefined"
    @change="done"
  />
  <span v-if="wrong" :id="id" class="wrong small" role="alert" data-testid="no-number">{{ wrong }}.</span>
</template>

<style scoped>
.wrong {
  display: block;
  flex: 1 0 100%;
  order: 9;
  color: var(--alarm);
  font-weight: 700;
}
</style>
