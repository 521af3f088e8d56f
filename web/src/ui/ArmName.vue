<script setup lang="ts">
import ArmToken from './ArmToken.vue'

defineProps<{ place: number; tag: string; size?: number }>()
</script>

<template>
  <span class="arm"
    ><ArmToken :place="place" :size="size ?? 19" /> <b class="num">{{ tag }}</b></span
  >
</template>

<style scoped>
.arm {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
</style>
