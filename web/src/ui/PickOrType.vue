<script setup lang="ts">
import AutoComplete, { type AutoCompleteCompleteEvent } from 'primevue/autocomplete'
import { ref } from 'vue'

/** Words typed freely or picked from a list; what was typed is never replaced unless an option is chosen. */
const words = defineModel<string>({ required: true })
const props = defineProps<{
  options: string[]
  inputId: string
  label: string
  placeholder?: string
  disabled?: boolean
}>()
const emit = defineEmits<{ change: [] }>()
const box = ref<{ hide: () => void } | null>(null)
const found = ref<string[]>([])

function find(e: AutoCompleteCompleteEvent) {
  const query = e.query.trim().toLowerCase()
  const whole = props.options.some((o) => o.toLowerCase() === query)
  const starts = (o: string) => o.toLowerCase().startsWith(query)
  const holds = props.options.filter((o) => o.toLowerCase().includes(query))
  found.value = whole ? [] : [...holds.filter(starts), ...holds.filter((o) => !starts(o))]
}
function put(v: unknown) {
  words.value = typeof v === 'string' ? v : ''
  emit('change')
}
// A click on an option takes the focus first, so the list goes a moment later.
const leave = () => setTimeout(() => box.value?.hide(), 150)
</script>

<template>
  <AutoComplete
    ref="box"
    :model-value="words"
    :suggestions="found"
    dropdown
    :delay="0"
    :input-id="inputId"
    :aria-label="label"
    :placeholder="placeholder"
    :disabled="disabled"
    fluid
    :show-empty-message="false"
    :pt="{ dropdown: { 'aria-label': `${label}: show the list` } }"
    @complete="find"
    @update:model-value="put"
    @blur="leave"
  />
</template>

<style scoped>
.p-autocomplete {
  flex: 1;
  min-width: 0;
}
</style>
