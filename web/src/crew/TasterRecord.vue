<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ok, Refused } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import RecordTable from '../taste/RecordTable.vue'

/** How somebody of the crew tasted, trial by trial: for their eyes and the pitmaster's. */
const props = defineProps<{ person: number }>()
const { data, error } = useQuery({
  queryKey: ['record', props.person],
  queryFn: () => ok(api.GET('/api/people/{id}/record', { params: { path: { id: props.person } } })),
})
</script>

<template>
  <ProblemNote v-if="error instanceof Refused" :problem="error.problem" />
  <section v-else-if="data" class="stack" data-testid="record">
    <p v-if="!data.trials.length" class="soot">Nothing tasted blind whose codes are open yet.</p>
    <RecordTable v-else :trials="data.trials" />
    <p class="soot small">Overall liking, blind samples alone. For your eyes and the pitmaster's.</p>
  </section>
</template>
