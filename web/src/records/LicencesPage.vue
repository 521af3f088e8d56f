<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { get } from '../api/client'

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
      <li v-for="s in ships" :key="s.name">
        <button :aria-expanded="open === s.name" @click="open = open === s.name ? '' : s.name">
          <b>{{ s.name }}</b> <span class="num soot">{{ s.version }}</span> <span>{{ s.licence }}</span>
        </button>
        <pre v-if="open === s.name">{{ s.text }}</pre>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
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
pre {
  font: var(--t-sm) / 1.4 var(--font-num);
  white-space: pre-wrap;
}
</style>
