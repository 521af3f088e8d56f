<script setup lang="ts">
import { computed } from 'vue'
import type { Problem } from '../api/schema.gen'
import { sentence } from './units'

/** A refusal in few words, under the one field it is about. */
const props = defineProps<{ problem: Problem | null }>()
const words = computed(() => {
  const p = props.problem
  if (!p) return ''
  const first = p.errors[0]
  return sentence(first ? `${first.problem}. ${first.remedy}.` : `${p.title} ${p.remedy}`)
})
</script>

<template>
  <span v-if="words" class="wrong" role="alert">{{ words }}</span>
</template>

<style scoped>
.wrong {
  color: var(--alarm);
  font-size: 13px;
  max-width: 220px;
}
</style>
