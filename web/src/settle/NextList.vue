<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Proposal } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { sentence } from '../ui/units'

/** What to try next, each startable in one tap with what is held, its size and its phases. */
const props = defineProps<{ trial: number; context: string }>()
const { isPitmaster } = useSession()
const router = useRouter()
const { data } = useQuery({
  queryKey: computed(() => ['next', props.trial, props.context]),
  queryFn: () =>
    ok(
      api.GET('/api/trials/{id}/next', {
        params: { path: { id: props.trial }, query: { context: props.context } },
      }),
    ),
})
const { busy, problem, run } = useAct()
async function start(p: Proposal) {
  const made = await run(() =>
    ok(
      api.POST('/api/trials/{id}/next', {
        params: { path: { id: props.trial } },
        body: { kind: p.kind, context: props.context },
      }),
    ),
  )
  if (made) await router.push(`/trials/${made.trial_id}/ask`)
}
</script>

<template>
  <div class="stack" data-testid="proposals">
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="data && data.proposals.length === 0" class="soot">Nothing stands out to be tried next.</p>
    <div v-for="p in data?.proposals ?? []" :key="p.kind" class="next rule" :data-testid="`proposal-${p.kind}`">
      <p>
        <b>{{ p.title }}.</b> <span class="small">{{ sentence(p.why) }}</span>
      </p>
      <Button v-if="isPitmaster" label="Plan it" size="small" outlined :loading="busy" @click="start(p)" />
    </div>
  </div>
</template>

<style scoped>
.next {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  padding-top: 8px;
}
</style>
