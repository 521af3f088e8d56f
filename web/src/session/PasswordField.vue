<script setup lang="ts">
import InputText from 'primevue/inputtext'

/** A password to be set: of twelve letters and more, and not one that is guessed first. */
defineProps<{ label: string }>()
const password = defineModel<string>({ required: true })
</script>

<template>
  <div class="field">
    <label for="password">{{ label }}, 12 letters or more; four words do well</label>
    <InputText id="password" v-model="password" data-field="password" type="password" autocomplete="new-password" />
  </div>
</template>
