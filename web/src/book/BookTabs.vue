<script setup lang="ts">
defineProps<{ here: 'cards' | 'know' }>()
</script>

<template>
  <nav class="tabs no-print" aria-label="House Book">
    <RouterLink to="/book" :class="{ here: here === 'cards' }">Cards</RouterLink>
    <RouterLink to="/book/know" :class="{ here: here === 'know' }">What do we know?</RouterLink>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  background: var(--board);
  border-bottom: var(--line-strong) solid var(--ink);
}
a {
  display: flex;
  align-items: center;
  min-height: 44px;
  padding: 0 16px;
  border-right: var(--line) solid var(--grain);
  text-decoration: none;
  font: 700 16px var(--font-head);
}
a.here {
  background: var(--trough);
}
</style>
