<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { Ask, Problem, Trials } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import { signed } from '../ui/units'

/** Two hundred simulated trials of this layout: how often it would say clear, and how often wrongly. */
const props = defineProps<{ trial: number; ask: Ask }>()
const all = 200
const batch = 20
const told = ref<Trials | null>(null)
const running = ref(false)
const problem = ref<Problem | null>(null)
const done = computed(() => told.value?.trials ?? 0)
async function run() {
  running.value = true
  problem.value = null
  told.value = null
  try {
    for (let seed = 1; seed <= all / batch && running.value; seed++)
      told.value = await ok(
        api.POST('/api/trials/{id}/simulate', {
          params: { path: { id: props.trial } },
          body: { trials: batch, seed, so_far: told.value },
        }),
      )
  } catch (e) {
    if (!(e instanceof Refused)) throw e
    problem.value = e.problem
  } finally {
    running.value = false
  }
}
const tens = (n: number) => `${Math.round((10 * n) / Math.max(1, done.value))} in 10`
const tag = (i: number) => props.ask.arms[i]?.tag ?? ''
</script>

<template>
  <section class="stack" data-testid="layout-trials">
    <h2>Try this layout {{ all }} times</h2>
    <p class="small">
      What each arm truly becomes is taken from the cook model; cuts, days and tasters are drawn anew each time, and
      every trial is read as a real one is.
    </p>
    <div class="row">
      <Button v-if="!running" outlined :label="told ? 'Again' : 'Simulate'" data-testid="simulate" @click="run" />
      <Button v-else outlined label="Stop" @click="running = false" />
      <progress v-if="running" :value="done" :max="all" aria-label="Trials so far" />
      <span v-if="done" class="small soot num">{{ done }} of {{ all }}</span>
    </div>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="told">
      <p>
        <b data-testid="layout-says">{{ told.says }}</b>
      </p>
      <div class="scroll-x">
        <table>
          <thead>
            <tr>
              <th>Outcome</th>
              <th>truly</th>
              <th>clear</th>
              <th>wrongly</th>
              <th>same</th>
              <th>next cook clear</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in told.shares" :key="`${s.key}${s.a}${s.b}`">
              <td>
                <b>{{ s.name }}</b>, {{ tag(s.a) }} less {{ tag(s.b) }}
              </td>
              <td class="num">{{ signed(s.truth, 1) }}</td>
              <td class="num">{{ tens(s.clear) }}</td>
              <td class="num">{{ tens(s.wrong) }}</td>
              <td class="num">{{ tens(s.same) }}</td>
              <td class="num">{{ tens(s.next) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </section>
</template>
