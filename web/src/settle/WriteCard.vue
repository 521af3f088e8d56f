<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Ask } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'

/** Writes a card of the arm that comes out first, or the next version of one. */
const props = defineProps<{ trial: number; ask: Ask; arm: number }>()
const shown = defineModel<boolean>({ required: true })
const router = useRouter()
const { data: cards } = useQuery({ queryKey: ['book', 'cards'], queryFn: () => ok(api.GET('/api/book/cards')) })
const { busy, problem, run } = useAct()
const arm = ref(props.arm)
const card = ref(0)
const name = ref('')
const changed = ref('')
const why = ref('')
const arms = computed(() => props.ask.arms.map((a, i) => ({ label: a.tag, value: i })))
const choices = computed(() => [
  { label: 'A new card', value: 0 },
  ...(cards.value ?? []).map((c) => ({ label: `Version ${c.versions + 1} of ${c.name}`, value: c.id })),
])
watch(shown, (open) => {
  if (!open) return
  arm.value = props.arm
  problem.value = null
  const a = props.ask.arms[props.arm]!
  name.value ||= `${props.ask.product[0]!.toUpperCase()}${props.ask.product.slice(1)}, ${a.levels.map((l) => l.value).join(', ')}`
})
async function write() {
  const made = await run(() =>
    ok(
      api.POST('/api/book/versions', {
        body: {
          trial_id: props.trial,
          arm_id: props.ask.arms[arm.value]!.id,
          process_id: card.value,
          name: name.value,
          changed: changed.value,
          why: why.value,
        },
      }),
    ),
  )
  if (made) await router.push(`/book/cards/${made.process_id}`)
}
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Write the card" :style="{ width: 'min(520px, 96vw)' }">
    <form class="stack" @submit.prevent="write">
      <p class="small">
        Phases, tolerances, amounts and times are taken from what the arm delivered, not typed. It can be cooked once it
        is written; signing says that the crew stands by it.
      </p>
      <div class="field">
        <label for="card-arm">Arm</label>
        <Select v-model="arm" input-id="card-arm" :options="arms" option-label="label" option-value="value" />
      </div>
      <div class="field">
        <label for="card-of">Card</label>
        <Select v-model="card" input-id="card-of" :options="choices" option-label="label" option-value="value" />
      </div>
      <div v-if="card === 0" class="field">
        <label for="card-name">Name</label>
        <InputText id="card-name" v-model="name" data-field="name" maxlength="80" />
      </div>
      <template v-else>
        <div class="field">
          <label for="card-changed">The one thing it changes</label>
          <InputText id="card-changed" v-model="changed" data-field="changed" maxlength="200" />
        </div>
        <div class="field">
          <label for="card-why">Why</label>
          <InputText id="card-why" v-model="why" data-field="why" maxlength="300" />
        </div>
      </template>
      <ProblemNote v-if="problem" :problem="problem" />
      <Button type="submit" label="Write it" :loading="busy" data-testid="write-card" />
    </form>
  </Dialog>
</template>
