<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import NumberInput from '../ui/NumberInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { allNumbers } from '../ui/number'

/** What the barn is. */
const client = useQueryClient()
const { session } = useSession()
const saving = useAct()
const saved = ref(false)
const barn = reactive({ name: '', time_zone: '', elevation_m: 0, guests: false })
watch(
  () => session.value?.barn,
  (b) => b && Object.assign(barn, b),
  { immediate: true },
)

async function save() {
  saved.value = false
  if (!allNumbers()) return
  const done = await saving.run(async () => {
    await ok(api.PUT('/api/barn', { body: { ...barn } }))
    return true
  })
  if (done) {
    saved.value = true
    await client.invalidateQueries({ queryKey: ['session'] })
  }
}
</script>

<template>
  <form class="stack" @submit.prevent="save">
    <h2>The barn</h2>
    <ProblemNote :problem="saving.problem.value" />
    <div class="row fields">
      <div class="field"><label for="barn-name">Name</label><InputText id="barn-name" v-model="barn.name" /></div>
      <div class="field">
        <label for="barn-zone">Time zone</label
        ><InputText id="barn-zone" v-model="barn.time_zone" data-field="time_zone" />
      </div>
      <div class="field">
        <label for="barn-high">Metres above the sea</label
        ><NumberInput id="barn-high" v-model="barn.elevation_m" zero="0" class="mono-input" />
      </div>
      <Button type="submit" label="Save" outlined :loading="saving.busy.value" />
      <span v-if="saved" class="check" role="status">saved</span>
    </div>
  </form>
</template>

<style scoped>
.fields {
  align-items: flex-end;
}
</style>
