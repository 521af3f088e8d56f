<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { title } from '../ui/title'
import { load, order } from './pages'

/** One page of the guide, with the way to the others. */
const route = useRoute()
const router = useRouter()
const page = computed(() => String(route.params.page || 'start'))
const shown = ref<{ title: string; html: string } | null>(null)
watch(
  page,
  async (p) => {
    shown.value = (await load(p)) ?? null
    title.value = shown.value ? `Guide: ${shown.value.title}` : 'Guide'
  },
  { immediate: true },
)
const names: Record<string, string> = {
  start: 'The first evening',
  book: 'The House Book',
  practice: 'A practice evening',
  crew: 'The crew',
  words: 'The words',
}
const name = (p: string) => names[p] ?? p[0]!.toUpperCase() + p.slice(1)
const next = computed(() => order[order.indexOf(page.value as (typeof order)[number]) + 1])
/** Links of the text lead into the application without loading it anew. */
function follow(e: MouseEvent) {
  const to = (e.target as HTMLElement).closest('a')?.getAttribute('href')
  if (!to?.startsWith('/') || e.metaKey || e.ctrlKey) return
  e.preventDefault()
  void router.push(to)
}
</script>

<template>
  <div class="guide">
    <nav aria-label="Guide" class="no-print">
      <RouterLink v-for="p in order" :key="p" :to="`/guide/${p}`">{{ name(p) }}</RouterLink>
    </nav>
    <!-- eslint-disable vue/no-v-html -- the guide's own pages, built in -->
    <article v-if="shown" class="board" @click="follow" v-html="shown.html" />
    <!-- eslint-enable vue/no-v-html -->
    <article v-else class="board"><h1>There is no such page in the guide</h1></article>
    <p v-if="next" class="no-print">
      <RouterLink :to="`/guide/${next}`">On to {{ name(next) }}</RouterLink>
    </p>
  </div>
</template>

<style scoped>
.guide {
  max-width: 900px;
  margin: 0 auto;
  padding: 16px;
}
nav {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
  margin-bottom: 12px;
}
nav a,
p a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
nav a.router-link-active {
  font-weight: 700;
}
article :deep(h1) {
  margin-bottom: 12px;
}
article :deep(h2) {
  margin: 20px 0 6px;
}
article :deep(p),
article :deep(ul),
article :deep(ol) {
  margin: 0 0 12px;
}
article :deep(img) {
  max-width: 100%;
  height: auto;
  border: var(--line) solid var(--edge);
}
</style>
