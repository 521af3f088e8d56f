<script setup lang="ts">
import { nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import type { Problem } from '../api/schema.gen'
import { sentence } from './units'

/**
 * What was refused. What is about a field stands at that field, which gets the focus, and goes as
 * it is mended; the rest stands here. A field is known by its data-field: of the form or dialog
 * this note is in, else of the page, where just one is meant.
 */
const props = defineProps<{ problem: Problem | null }>()
type Wrong = Problem['errors'][number]
interface Placed {
  wrong: Wrong
  field: HTMLElement
  at: HTMLElement // where the words go
  id: string
}
const anchor = ref<HTMLElement | null>(null)
const placed = shallowRef<Placed[]>([])
const rest = ref<Wrong[]>([])
let count = 0

const end = (words: string) => sentence(words).replace(/\.$/, '') + '.'
const said = (e: Wrong) => [e.problem, e.remedy].filter(Boolean).map((w) => end(w[0]!.toUpperCase() + w.slice(1)))

function clear(p: Placed) {
  p.field.removeAttribute('aria-invalid')
  p.field.removeAttribute('aria-describedby')
}
function mended(p: Placed) {
  clear(p)
  placed.value = placed.value.filter((q) => q !== p)
}
function fieldOf(name: string): HTMLElement | undefined {
  const mine = anchor.value?.closest('form, [role="dialog"]')
  for (const within of [mine, document.querySelector('main')]) {
    const found = within?.querySelectorAll<HTMLElement>(`[data-field="${CSS.escape(name)}"]`) ?? []
    if (found.length === 1) return found[0]
  }
}
function place(wrong: Wrong): Placed | null {
  const marked = wrong.field && fieldOf(wrong.field)
  if (!marked) return null
  const field = marked.matches('input, textarea, [role="combobox"]')
    ? marked
    : (marked.querySelector<HTMLElement>('input, textarea, [role="combobox"]') ?? marked)
  const at = marked.closest<HTMLElement>('.field, td, label') ?? marked.parentElement!
  const p = { wrong, field, at, id: `wrong-${++count}-${wrong.field.replace(/\W/g, '-')}` }
  field.setAttribute('aria-invalid', 'true')
  field.setAttribute('aria-describedby', p.id)
  field.addEventListener('input', () => mended(p), { once: true })
  field.addEventListener('change', () => mended(p), { once: true })
  if (field.getAttribute('role') === 'combobox') field.addEventListener('click', () => mended(p), { once: true })
  return p
}
watch(
  () => props.problem,
  async (problem) => {
    placed.value.forEach(clear)
    placed.value = []
    rest.value = problem?.errors ?? []
    if (!problem?.errors.length) return
    await nextTick()
    const all = problem.errors.map(place)
    placed.value = all.filter((p) => p !== null)
    rest.value = problem.errors.filter((_, i) => !all[i])
    placed.value[0]?.field.focus()
  },
  { immediate: true },
)
onBeforeUnmount(() => placed.value.forEach(clear))
</script>

<template>
  <span ref="anchor" hidden />
  <div v-if="problem && (!problem.errors.length || rest.length)" class="problem" role="alert" data-testid="problem">
    <template v-if="problem.errors.length">
      <p v-for="e in rest" :key="e.field + e.problem">
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
  <Teleport v-for="p in placed" :key="p.id" :to="p.at">
    <span :id="p.id" class="at-field" role="alert" data-testid="problem"
      ><strong class="triangle">{{ said(p.wrong)[0] }}</strong> {{ said(p.wrong)[1] }}</span
    >
  </Teleport>
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
.at-field {
  display: block;
  color: var(--alarm);
  font-size: var(--t-sm);
  line-height: 1.25;
}
</style>
