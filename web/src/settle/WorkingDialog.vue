<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { api, ok, Refused } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, sentence } from '../ui/units'
import type { ReachKey } from './words'

/** Where a number comes from: the values, how it was worked out of them, and by which source. */
export interface Asked {
  outcome: string
  a: number
  b: number
  reach: ReachKey
}
const props = defineProps<{ trial: number; asked: Asked | null }>()
const emit = defineEmits<{ close: [] }>()
const shown = computed({ get: () => props.asked !== null, set: (v) => !v && emit('close') })
const { data, error } = useQuery({
  queryKey: computed(() => ['working', props.trial, props.asked]),
  queryFn: () =>
    ok(
      api.GET('/api/trials/{id}/working', {
        params: { path: { id: props.trial }, query: { ...props.asked! } },
      }),
    ),
  enabled: computed(() => props.asked !== null),
})
const where = { pieces: 'these pieces', cooks: 'these cooks', next: 'the next cook' }
const json = computed(() => (data.value?.calculation ? JSON.stringify(data.value.input) : ''))
</script>

<template>
  <Dialog
    v-model:visible="shown"
    modal
    :header="data ? `${data.title}, ${where[asked?.reach ?? 'cooks']}` : 'Working'"
    :style="{ width: 'min(720px, 96vw)' }"
  >
    <ProblemNote v-if="error instanceof Refused" :problem="error.problem" />
    <div v-else-if="data" class="stack" data-testid="working">
      <p>{{ data.method }}</p>
      <ol>
        <li v-for="s in data.steps" :key="s">{{ sentence(s) }}</li>
      </ol>
      <p v-if="data.check" data-testid="mixed-check"><b>Cross-check.</b> {{ data.check }}</p>
      <div class="scroll-x">
        <table>
          <thead>
            <tr>
              <th v-for="c in data.columns" :key="c">{{ c }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(r, i) in data.rows" :key="i">
              <td v-for="(v, k) in r" :key="k" :class="{ num: k > 0 }">{{ v }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="data.changed" class="warn triangle">
        The record has changed since: it was read as
        <b class="num">{{ data.kept === null ? 'nothing' : fixed(data.kept, 3) }}</b>.
      </p>
      <p v-else class="small check">It comes out as it was kept.</p>
      <p class="small soot">{{ data.source }}. How it is judged: {{ data.reference }}.</p>
      <details v-if="data.calculation" class="small">
        <summary>
          Do it again: <b class="num">whitebarn calc {{ data.calculation }}</b>
        </summary>
        <pre>{{ json }}</pre>
        <RouterLink :to="`/bench/${data.calculation}`">Open it on the Bench</RouterLink>
      </details>
    </div>
    <p v-else>Working it out …</p>
  </Dialog>
</template>

<style scoped>
ol {
  margin: 0;
  padding-left: 20px;
}
pre {
  white-space: pre-wrap;
  word-break: break-all;
  font: 13px var(--font-num);
  background: var(--trough);
  padding: 8px;
  max-height: 160px;
  overflow: auto;
}
</style>
