<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import RadioButton from 'primevue/radiobutton'
import { computed, reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { useLayout } from './layout'
import RemoveButton from '../ui/RemoveButton.vue'

const cut = defineModel<CutView | null>({ required: true })
const { trial, set } = useThisTrial()
const { reason } = useLayout()
const { run, busy, problem } = useAct()
const shown = computed({ get: () => cut.value !== null, set: (v) => !v && (cut.value = null) })
const together = ref(false)
const parts = reactive<{ name: string; section: string }[]>([])
const ways: [string, string[]][] = [
  ['Halves', ['a', 'b']],
  ['Point and flat', ['point', 'flat']],
  ['Side by side', ['1', '2', '3']],
]
function way(words: string[]) {
  const c = cut.value!
  parts.splice(
    0,
    parts.length,
    ...words.map((w) => ({ name: w.length > 1 ? `${c.name} ${w}` : `${c.name}${w}`, section: w.length > 1 ? w : '' })),
  )
  together.value = words[0] === 'point'
}
watch(cut, (c) => c && way(ways[0]![1]))
async function divide() {
  const why = await reason(`Dividing ${cut.value!.name}`)
  if (why === null) return
  const v = await run(() =>
    ok(
      api.POST('/api/cuts/{id}/divide', {
        params: { path: { id: cut.value!.id } },
        body: { parts: [...parts], together: together.value, why },
      }),
    ),
  )
  if (!v) return
  cut.value = null
  set(v)
}
</script>

<template>
  <Dialog
    v-model:visible="shown"
    modal
    :header="`Divide ${trial.ask.cut} ${cut?.name ?? ''}`"
    :style="{ width: '34rem' }"
  >
    <form class="stack" @submit.prevent="divide">
      <div class="row">
        <Button v-for="[name, words] in ways" :key="name" :label="name" size="small" outlined @click="way(words)" />
      </div>
      <div v-for="(p, i) in parts" :key="i" class="row">
        <InputText v-model="p.name" class="mono-input" :aria-label="`Name of part ${i + 1}`" />
        <InputText v-model="p.section" placeholder="which part" :aria-label="`Which part ${i + 1} is`" />
        <RemoveButton v-if="parts.length > 2" what="One part fewer" @click="parts.splice(i, 1)" />
      </div>
      <label class="row"
        ><RadioButton v-model="together" :value="false" name="together" input-id="apart" /> They are alike: each goes to
        an arm of its own, as a block</label
      >
      <label class="row"
        ><RadioButton v-model="together" :value="true" name="together" input-id="as-one" /> They differ: all go to one
        arm and count as one cut</label
      >
      <p class="small soot">Parts keep the animal, side, lot and grade; their weights add up to the whole again.</p>
      <ProblemNote :problem="problem" />
      <div><Button type="submit" label="Divide it" :loading="busy" data-testid="divide" /></div>
    </form>
  </Dialog>
</template>

<style scoped>
.stack {
  gap: 10px;
}
.row {
  gap: 8px;
  flex-wrap: nowrap;
}
</style>
