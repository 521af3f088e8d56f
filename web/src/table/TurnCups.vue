<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, reactive } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Flight } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'

/** After all is sealed: which cut lay in each of the shuffled cups. */
const props = defineProps<{ flight: Flight }>()
const { trial, set } = useThisTrial()
const codes = computed(() => trial.value.ballots.find((b) => b.flight_id === props.flight.id)?.codes ?? [])
const under = reactive<Record<string, number>>({})
const acting = useAct()
async function keep() {
  const v = await acting.run(() =>
    ok(
      api.POST('/api/flights/{id}/turned', { params: { path: { id: props.flight.id } }, body: { cups: { ...under } } }),
    ),
  )
  set(v)
}
</script>

<template>
  <form class="trough stack" data-testid="turn-cups" @submit.prevent="keep">
    <b>All is sealed. Turn each cup over: what stands under it?</b>
    <ProblemNote :problem="acting.problem.value" />
    <div class="cups">
      <label v-for="c in codes" :key="c" class="row nowrap">
        <b class="num code">{{ c }}</b>
        <Select
          v-model="under[c]"
          :options="trial.cuts"
          option-label="name"
          option-value="id"
          placeholder="cut"
          :aria-label="`Under ${c}`"
          :data-testid="`under-${c}`"
        />
      </label>
    </div>
    <Button
      type="submit"
      label="That was under them"
      :loading="acting.busy.value"
      :disabled="codes.some((c) => !under[c])"
      data-testid="turned"
    />
  </form>
</template>

<style scoped>
form {
  padding: 12px;
  margin-top: 8px;
}
.cups {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px;
}
.nowrap {
  flex-wrap: nowrap;
}
.code {
  font-size: 26px;
}
</style>
