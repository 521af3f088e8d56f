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
    :class="{ num: typeof o === 'number' }"
    :aria-pressed="picked === o"
    @click="picked = picked === o ? undefined : o"
  >
    {{ o }}
  </button>
</template>

<style scoped>
button {
  min-width: 44px;
  min-height: 44px;
  padding: 0 10px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  color: var(--ink);
  font-size: 15px;
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
</style>
