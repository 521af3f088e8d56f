<script setup lang="ts">
import InputText from 'primevue/inputtext'

/** A text field that counts once it is left or Enter is pressed, so that half a number is never worked with. */
const text = defineModel<string>({ required: true })
const { tidy = (t: string) => t } = defineProps<{ tidy?: (text: string) => string }>()
const put = (e: globalThis.Event) => (text.value = tidy((e.target as HTMLInputElement).value.trim()))
</script>

<template>
  <InputText :model-value="text" @change="put" />
</template>
