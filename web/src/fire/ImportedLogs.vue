<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'

const props = defineProps<{ cook: CookView }>()
const { trial, set } = useThisTrial()
const { run, busy, problem } = useAct()
const client = useQueryClient()
const imports = computed(() => trial.value.imports.filter((i) => i.cook_id === props.cook.id))
const taking = ref<{ id: number; name: string; added: number; why: string } | null>(null)
const again = computed(() => imports.value.some((i) => i.id !== taking.value?.id && !i.voided_by && i.already_there))
async function takeBack() {
  const { id, why } = taking.value!
  const v = await run(() => ok(api.POST('/api/imports/{id}/void', { params: { path: { id } }, body: { why } })))
  if (!v) return
  set(v)
  taking.value = null
  await client.invalidateQueries({ queryKey: ['traces', props.cook.id] })
}
</script>

<template>
  <details v-if="imports.length">
    <summary>Logs imported</summary>
    <p v-for="i in imports" :key="i.id" class="small" data-testid="log-taken-in">
      <component :is="i.voided_by ? 's' : 'span'">
        {{ i.file_name }} from {{ i.logger }}: <b>{{ i.added.toLocaleString('en') }}</b> added,
        {{ i.already_there.toLocaleString('en') }} there already, {{ i.trouble.length }} lines with trouble ({{ i.by }},
        {{ dateTime(i.at) }})
      </component>
      <span v-if="i.voided_by"> taken back by {{ i.voided_by }}: {{ i.void_reason }}</span>
      <Button
        v-else
        class="no-print"
        size="small"
        text
        :aria-label="`Take ${i.file_name} back`"
        @click="taking = { id: i.id, name: i.file_name, added: i.added, why: '' }"
        >Take back</Button
      >
    </p>
  </details>
  <Dialog :visible="!!taking" modal header="Take a log back" @update:visible="taking = null">
    <form v-if="taking" class="stack" @submit.prevent="takeBack">
      <p>
        The <b class="num">{{ taking.added.toLocaleString('en') }}</b> readings that {{ taking.name }} added go out of
        the traces, the clocks and the gate. They stay on record, and the file can be taken in again.
      </p>
      <p v-if="again" class="warn">Another log had some of the same readings. Import that one again after this.</p>
      <ProblemNote :problem="problem" />
      <div class="field">
        <label for="log-why">Why?</label>
        <InputText id="log-why" v-model="taking.why" maxlength="200" placeholder="the columns of another cook" />
      </div>
      <div class="row">
        <Button type="submit" label="Take it back" :loading="busy" data-testid="log-back" />
        <Button label="Leave it" outlined @click="taking = null" />
      </div>
    </form>
  </Dialog>
</template>
