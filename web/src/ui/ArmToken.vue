<script setup lang="ts">
defineProps<{ place: number; size?: number }>()
</script>

<template>
  <i class="token" :class="`arm-${place + 1}`" :style="{ zoom: (size ?? 28) / 28 }" aria-hidden="true"><i /></i>
</template>
