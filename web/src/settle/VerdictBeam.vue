<script setup lang="ts">
import { computed } from 'vue'
import type { Side } from '../api/schema.gen'

/** A balance beam: tipped for clear, half tipped for leaning, level for same, broken for cannot tell. */
const props = defineProps<{ word: Side['word'] }>()
const tilt = computed(() => ({ 'clear winner': 14, leaning: 7 })[props.word as string] ?? 0)
const same = computed(() => props.word === 'same for our purposes')
const open = computed(() => !props.word || props.word === 'cannot tell')
</script>

<template>
  <svg width="48" height="28" viewBox="0 0 48 28" aria-hidden="true">
    <path d="M24 14 31 27H17z" fill="var(--ink)" />
    <g :transform="`rotate(${tilt} 24 11)`">
      <path d="M2 11h44" stroke="var(--ink)" stroke-width="3.5" :stroke-dasharray="open ? '5 4' : undefined" />
      <path v-if="word === 'clear winner' || same" d="M37 11h9v9h-9z" fill="var(--ink)" />
      <path v-if="word === 'leaning'" d="M37.5 11.5h8v8h-8z" fill="var(--board)" stroke="var(--ink)" stroke-width="2" />
      <path v-if="same" d="M2 11h9v9H2z" fill="var(--ink)" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  flex: none;
}
</style>
