<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ProblemNote from '../ui/ProblemNote.vue'

/** The codes are opened for all, or a trial with nothing to taste is ended. */
const { trial, set, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { offer } = useUndo()
const router = useRouter()
const opening = useAct()
const path = computed(() => ({ path: { id: trial.value.id } }))
const openBallots = computed(() => trial.value.ballots.filter((b) => !b.locked).length)
const closed = computed(() => trial.value.ballots.reduce((n, b) => n + b.closed, 0))
const reason = ref('')
const sure = ref(false)
async function reveal() {
  const v = await opening.run(() =>
    ok(api.POST('/api/trials/{id}/reveal', { params: path.value, body: { reason: reason.value } })),
  )
  if (!v) return
  set(v)
  await router.push(`/trials/${trial.value.id}/settle`)
}
async function end() {
  const v = await opening.run(() =>
    ok(api.POST('/api/trials/{id}/end', { params: path.value, body: { why: reason.value } })),
  )
  if (!v) return
  set(v)
  offer('The trial was ended with nothing tasted', { ended: true })
  await router.push(`/trials/${trial.value.id}/settle`)
}
</script>

<template>
  <div class="stack">
    <h2>{{ trial.flights.length ? 'Open the codes' : 'Nothing to taste?' }}</h2>
    <template v-if="shut">
      <p class="check">
        {{ trial.ended_by ? `Ended by ${trial.ended_by} with nothing tasted.` : 'The codes are open.' }}
      </p>
      <p v-if="trial.reveal_reason" class="warn triangle">
        {{ trial.ended_by ? '' : 'Opened early: ' }}{{ trial.reveal_reason }}
      </p>
      <RouterLink :to="`/trials/${trial.id}/settle`">Read the verdict</RouterLink>
    </template>
    <template v-else-if="trial.flights.length === 0">
      <p>
        A trial that is only weighed, timed or measured has no codes to open. End it, and the verdict is read from what
        is on record.
      </p>
      <ProblemNote :problem="opening.problem.value" />
      <form v-if="isPitmaster" class="stack" @submit.prevent="end">
        <div class="field">
          <label for="end-why">Why is nothing tasted? The trial keeps the reason.</label>
          <InputText
            id="end-why"
            v-model="reason"
            data-field="why"
            maxlength="200"
            placeholder="weighed and timed only"
          />
        </div>
        <div>
          <Button
            type="submit"
            label="End with nothing tasted"
            outlined
            :disabled="!reason.trim()"
            :loading="opening.busy.value"
            data-testid="end-trial"
          />
        </div>
      </form>
      <p v-else class="soot">A pitmaster ends it.</p>
    </template>
    <template v-else>
      <p class="big">{{ trial.ballots.length - openBallots }} of {{ trial.ballots.length }}</p>
      <p>
        ballots locked. A ballot locks when its taster has sealed or excused every sample. Once the codes are open,
        nothing that was judged can change.
      </p>
      <ProblemNote :problem="opening.problem.value" />
      <template v-if="isPitmaster">
        <p v-if="!closed" class="soot">Nothing is sealed yet, so there is nothing to open.</p>
        <div v-else-if="openBallots" class="field">
          <label for="reveal-why">Why open them now? The trial keeps the reason.</label>
          <InputText id="reveal-why" v-model="reason" data-field="why" maxlength="200" />
        </div>
        <div>
          <Button
            v-if="!sure"
            label="Open the codes"
            :disabled="!closed || (openBallots > 0 && !reason.trim())"
            data-testid="reveal"
            @click="sure = true"
          />
          <div v-else class="stack">
            <b>Open them for good? It cannot be undone.</b>
            <div class="row">
              <Button label="Yes, open them" :loading="opening.busy.value" data-testid="reveal-sure" @click="reveal" />
              <Button label="Not yet" text @click="sure = false" />
            </div>
          </div>
        </div>
      </template>
      <p v-else class="soot">A pitmaster opens them.</p>
    </template>
  </div>
</template>
