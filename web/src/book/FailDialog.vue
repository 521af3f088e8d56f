<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { vocabulary } from '../api/vocabulary.gen'
import ProblemNote from '../ui/ProblemNote.vue'

/** A method that failed is a version too: with its fault, and the lever that the cook model ranks first. */
const props = defineProps<{ version: number }>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ done: [] }>()
const fault = ref(vocabulary.faults[0]!)
const why = ref('')
const { busy, problem, run } = useAct()
watch(shown, () => {
  why.value = ''
  problem.value = null
})
async function fail() {
  const done = await run(() =>
    ok(
      api.POST('/api/book/versions/{id}/fail', {
        params: { path: { id: props.version } },
        body: { fault: fault.value, why: why.value },
      }),
    ),
  )
  if (done === undefined && problem.value) return
  shown.value = false
  emit('done')
}
</script>

<template>
  <Dialog v-model:visible="shown" modal header="It failed" :style="{ width: 'min(460px, 96vw)' }">
    <form class="stack" @submit.prevent="fail">
      <div class="field">
        <label for="fault">What was wrong</label>
        <Select v-model="fault" input-id="fault" :options="vocabulary.faults" editable />
      </div>
      <div class="field">
        <label for="fail-why">How it showed</label>
        <InputText id="fail-why" v-model="why" data-field="why" maxlength="300" />
      </div>
      <p class="small soot">The version stays on the card, struck. The cook model says what would mend it first.</p>
      <ProblemNote v-if="problem" :problem="problem" />
      <Button type="submit" label="Write that it failed" :loading="busy" data-testid="fail-do" />
    </form>
  </Dialog>
</template>
