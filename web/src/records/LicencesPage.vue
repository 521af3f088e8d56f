<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { get } from '../api/client'
import UnfoldItem from './UnfoldItem.vue'

/** What of others ships with White Barn, and under which terms. */
interface Ships {
  name: string
  version: string
  licence: string
  text: string
}
const { data: ships } = useQuery({
  queryKey: ['licences'],
  queryFn: () => get<Ships[]>('/licences.json'),
  staleTime: Infinity,
})
const open = ref('')
const kinds = computed(() => [...new Set((ships.value ?? []).map((s) => s.licence))].sort().join(', '))
</script>

<template>
  <div class="page stack">
    <RouterLink to="/records">Records</RouterLink>
    <h1>Licences of what ships</h1>
    <p>
      White Barn is under the Apache License 2.0. It is built of {{ ships?.length ?? 0 }} packages of others, under
      {{ kinds }}. The database is PostgreSQL, from the system it runs on.
    </p>
    <ul>
      <UnfoldItem v-for="s in ships" :key="s.name" :open="open === s.name" @turn="open = open === s.name ? '' : s.name">
        <template #head>
          <b>{{ s.name }}</b> <span class="num soot">{{ s.version }}</span> <span>{{ s.licence }}</span>
        </template>
        <pre>{{ s.text }}</pre>
      </UnfoldItem>
    </ul>
  </div>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
}
pre {
  font: var(--t-sm) / 1.4 var(--font-num);
  white-space: pre-wrap;
}
</style>
