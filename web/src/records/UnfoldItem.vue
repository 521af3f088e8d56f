<script setup lang="ts">
/** A line of a list that opens on what it holds. */
defineProps<{ open: boolean }>()
defineEmits<{ turn: [] }>()
defineOptions({ inheritAttrs: false })
</script>

<template>
  <li>
    <button type="button" :aria-expanded="open" v-bind="$attrs" @click="$emit('turn')"><slot name="head" /></button>
    <slot v-if="open" />
  </li>
</template>

<style scoped>
li {
  list-style: none;
  border-top: var(--line) solid var(--grain);
}
button {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: center;
  width: 100%;
  min-height: 44px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}
</style>
