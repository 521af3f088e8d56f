<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { get } from '../api/client'
import UnfoldItem from './UnfoldItem.vue'
import { listed, schemaLines, type Described } from './openapi'

/** What a script can ask of this barn, from the description that the barn itself gives. */
const { data: doc } = useQuery({
  queryKey: ['openapi'],
  queryFn: () => get<Described>('/api/openapi.json'),
  staleTime: Infinity,
})
const sought = ref('')
const routes = computed(() => (doc.value ? listed(doc.value) : []))
const shown = computed(() => {
  const w = sought.value.trim().toLowerCase()
  return routes.value.filter((r) => !w || `${r.method} ${r.path} ${r.id}`.toLowerCase().includes(w))
})
const open = ref('')
</script>

<template>
  <div class="page stack">
    <RouterLink to="/records">Records</RouterLink>
    <h1>What scripts can ask</h1>
    <p>
      A script sends <b class="num">Authorization: Bearer</b> and a token of the Records page. Times are UTC, weights
      kilograms, temperatures degrees Celsius. The whole description: <a href="/api/openapi.json">openapi.json</a>; of a
      report: <a href="/api/schemas/report.json">its JSON Schema</a>.
    </p>
    <div class="field">
      <label for="api-sought">Find</label><InputText id="api-sought" v-model="sought" placeholder="weighings" />
    </div>
    <p v-if="doc" class="soot">{{ shown.length }} of {{ routes.length }}</p>
    <ul>
      <UnfoldItem
        v-for="r in shown"
        :key="r.id"
        :open="open === r.id"
        :data-testid="`api-${r.id}`"
        @turn="open = open === r.id ? '' : r.id"
      >
        <template #head>
          <b class="num method">{{ r.method }}</b> <span class="num path">{{ r.path }}</span>
          <span class="soot">{{ r.id }}</span>
        </template>
        <div v-if="doc" class="stack detail">
          <p v-for="p in r.parameters" :key="p.name">
            <b class="num">{{ p.name }}</b> <span class="soot">in the {{ p.in }}, {{ p.type }}</span> {{ p.says }}
          </p>
          <template v-for="part in r.parts" :key="part.title">
            <h3>{{ part.title }}</h3>
            <pre>{{ schemaLines(doc, part.schema).join('\n') }}</pre>
          </template>
        </div>
      </UnfoldItem>
    </ul>
  </div>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
}
.method {
  min-width: 5ch;
}
.path {
  overflow-wrap: anywhere;
}
.detail {
  padding: 4px 0 16px 12px;
}
pre {
  margin: 0;
  font: var(--t-sm) / 1.5 var(--font-num);
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
