<script setup lang="ts">
import Button from 'primevue/button'
import { inject } from 'vue'
import type { PlanView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { sentence } from '../ui/units'
import { draftKey } from './draft'

/** What stands in the way, and the ways out of it. */
defineProps<{ work: PlanView }>()
const { shut } = useThisTrial()
const { apply } = inject(draftKey)!
</script>

<template>
  <section data-testid="clashes">
    <div v-for="c in work.conflicts" :key="c.words" class="clash" :data-testid="`clash-${c.kind.replaceAll(' ', '-')}`">
      <p class="triangle words">{{ sentence(c.words) }}</p>
      <ul>
        <li v-for="w in c.ways_out" :key="w.words">
          <Button v-if="w.do && !shut" :label="w.words" size="small" outlined @click="apply(w)" />
          <span v-else class="small">{{ w.words }}</span>
        </li>
      </ul>
    </div>
    <p v-if="work.conflicts.length === 0" class="soot">Nothing stands in the way.</p>
  </section>
</template>

<style scoped>
.clash {
  background: var(--watch-wash);
  color: var(--watch);
  padding: 10px 12px;
  margin-bottom: 6px;
}
.words {
  font-weight: 600;
}
ul {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin: 6px 0 0;
  padding: 0;
}
</style>
