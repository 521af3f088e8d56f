<script setup lang="ts" generic="T extends string | number">
/** A few words or numbers to tap; a second tap takes it back. */
const picked = defineModel<T | undefined>({ required: true })
defineProps<{ options: readonly T[] }>()
</script>

<template>
  <button
    v-for="o in options"
    :key="o"
    type="button"
    class="tap"
    :class="{ num: typeof o === 'number' }"
    :aria-pressed="picked === o"
    @click="picked = picked === o ? undefined : o"
  >
    {{ o }}
  </button>
</template>
