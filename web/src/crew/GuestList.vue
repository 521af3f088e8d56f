<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import { date } from '../ui/time'

/** Guests whose phones are known again at the table. */
const client = useQueryClient()
const { data: guests } = useQuery({ queryKey: ['people', 'guests'], queryFn: () => ok(api.GET('/api/guests')) })
const { run, problem } = useAct()
const sure = ref(0)
async function forget(id: number) {
  const done = await run(
    async () => (await ok(api.POST('/api/guests/{id}/forget', { params: { path: { id } } })), true),
  )
  if (done) await client.invalidateQueries({ queryKey: ['people'] })
}
</script>

<template>
  <section v-if="guests" class="stack" data-testid="guest-list">
    <h2>Guests who are known again</h2>
    <ProblemNote :problem="problem" />
    <p v-if="guests.length === 0" class="soot">
      None yet. A guest who seats themselves by the table's code may ask to be known again; their phone then says so.
    </p>
    <ul v-else>
      <li v-for="g in guests" :key="g.id" class="row">
        <b>{{ g.name }}</b>
        <span
          >{{ g.tables }} {{ g.tables === 1 ? 'table' : 'tables' }}{{ g.last ? `, last ${date(g.last)}` : '' }}</span
        >
        <Button
          size="small"
          text
          :label="sure === g.id ? `Forget ${g.name} now` : 'Forget'"
          :aria-label="`Forget ${g.name}`"
          @click="sure === g.id ? forget(g.id) : (sure = g.id)"
        />
        <span v-if="sure === g.id" class="small">What they scored stays, under the name of that day.</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
