<script setup lang="ts">
import type { Problem } from '../api/schema.gen'
import { sentence } from './units'

defineProps<{ problem: Problem | null }>()
</script>

<template>
  <div v-if="problem" class="problem" role="alert" data-testid="problem">
    <template v-if="problem.errors.length">
      <p v-for="e in problem.errors" :key="e.field + e.problem">
        <strong class="triangle"
          >{{ e.field ? e.field.replaceAll('_', ' ') + ': ' : '' }}{{ sentence(e.problem).replace(/\.$/, '') }}.</strong
        >
        <span v-if="e.remedy"> {{ e.remedy[0]!.toUpperCase() + e.remedy.slice(1).replace(/\.$/, '') }}.</span>
      </p>
    </template>
    <p v-else>
      <strong class="triangle">{{ sentence(problem.title) }}</strong> {{ problem.remedy }}
    </p>
  </div>
</template>

<style scoped>
.problem strong {
  margin-right: 0.35em;
}
.problem {
  background: var(--alarm-wash);
  color: var(--alarm);
  border-left: 6px solid var(--alarm);
  padding: 10px 14px;
}
</style>
