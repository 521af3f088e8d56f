<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { dateTime } from '../ui/time'
import ProblemNote from '../ui/ProblemNote.vue'

// The codes of one cook of a trial over several: an early look, named or not.
const { trial, set } = useThisTrial()
const { isPitmaster } = useSession()
const act = useAct()
const asked = ref<number | null>(null) // the cook whose codes are about to be opened
const reason = ref('')
const looks = computed(() => new Map(trial.value.looks.map((l) => [l.cook_id, l])))
const named = computed(() => trial.value.looks.some((l) => l.named_at))
const params = computed(() => ({ path: { id: trial.value.id } }))

async function name(cook_id: number) {
  set(
    await act.run(() =>
      ok(api.POST('/api/trials/{id}/looks/name', { params: params.value, body: { cook_id, reason: '' } })),
    ),
  )
}
async function open(cook_id: number) {
  const body = { cook_id, reason: reason.value }
  const v = await act.run(() => ok(api.POST('/api/trials/{id}/looks', { params: params.value, body })))
  if (!v) return
  set(v)
  asked.value = null
  reason.value = ''
}
</script>

<template>
  <section class="stack" data-testid="cook-looks">
    <h2>One cook early</h2>
    <p class="small">
      The codes of one cook can be opened before the others; later flights get new codes. It counts as a look: one named
      before anything is served is read strictly, any other speaks only by what holds at any number of looks.
    </p>
    <ProblemNote :problem="act.problem.value" />
    <article v-for="(k, i) in trial.cooks" :key="k.id" class="rule stack" data-testid="cook-look">
      <div>
        <b>Cook {{ i + 1 }}</b> <span class="num">{{ dateTime(k.serve_at) }}</span>
      </div>
      <template v-if="looks.get(k.id)?.opened_at">
        <p class="check">Its codes are open since {{ dateTime(looks.get(k.id)!.opened_at!) }}.</p>
        <p>{{ looks.get(k.id)!.headline }}</p>
      </template>
      <template v-else>
        <p v-if="looks.get(k.id)?.named_at" class="check">Named beforehand as the early look.</p>
        <template v-if="isPitmaster">
          <form v-if="asked === k.id" class="stack" @submit.prevent="open(k.id)">
            <b>Open the codes of this cook for good? It cannot be undone.</b>
            <div class="field">
              <label :for="`look-why-${k.id}`">Why, if ballots of it are still open</label>
              <InputText :id="`look-why-${k.id}`" v-model="reason" maxlength="200" />
            </div>
            <div class="row">
              <Button type="submit" label="Yes, open this cook" :loading="act.busy.value" data-testid="look-sure" />
              <Button label="Not yet" text @click="asked = null" />
            </div>
          </form>
          <div v-else class="row">
            <Button
              v-if="!trial.flights.length && !named"
              label="Name it as the early look"
              outlined
              data-testid="name-look"
              @click="name(k.id)"
            />
            <Button
              v-if="trial.flights.length"
              label="Open this cook's codes"
              outlined
              data-testid="open-look"
              @click="asked = k.id"
            />
          </div>
        </template>
      </template>
    </article>
  </section>
</template>
