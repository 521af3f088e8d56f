<script setup lang="ts">
import { computed, onUnmounted, provide, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refused } from '../api/client'
import { useTrial } from '../api/trials'
import { waiting } from '../fire/outbox'
import { withWaiting } from '../fire/waiting'
import ProblemNote from '../ui/ProblemNote.vue'
import { steps } from '../router'
import { title } from '../ui/title'
import PracticeStrip from './PracticeStrip.vue'
import StepLine from './StepLine.vue'
import TrialTally from './TrialTally.vue'
import UndoStrip from './UndoStrip.vue'
import { trialKey } from './trial'

const route = useRoute()
const router = useRouter()
// A step that is about to go may still ask for its trial anew: the address has no number any more.
const id = computed<number>((before) => (route.params.id ? Number(route.params.id) : (before ?? NaN)))
const { trial: kept, error, set, refresh } = useTrial(id)
/** With what this device did that the barn does not have yet. */
const trial = computed(() => {
  const t = kept.value
  return (
    t && {
      ...t,
      events: withWaiting(
        t.events,
        waiting.value,
        t.cooks.map((k) => k.id),
      ),
    }
  )
})
const step = computed(() => (route.path.endsWith('labels') ? 'match' : (route.path.split('/').pop() ?? 'ask')))
provide(trialKey, { trial, set, refresh })
watchEffect(() => (title.value = trial.value?.ask.question ?? ''))
// A trial without meat has fewer steps: an address of another one leads to where it is.
watchEffect(() => {
  const t = trial.value
  if (t && steps.includes(step.value as never) && !t.steps.some((s) => s.step === step.value))
    void router.replace(`/trials/${t.id}/${t.here}`)
})
onUnmounted(() => (title.value = ''))
</script>

<template>
  <template v-if="trial">
    <TrialTally :trial="trial" :here="step" />
    <StepLine v-if="step !== 'fire' && !route.path.endsWith('labels')" :trial="trial" :here="step" />
    <PracticeStrip v-if="trial.rehearses !== null && step !== 'fire'" :here="step" />
    <RouterView :key="id" />
    <UndoStrip />
  </template>
  <div v-else-if="error instanceof Refused" class="page"><ProblemNote :problem="error.problem" /></div>
</template>
