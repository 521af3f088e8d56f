<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Entry, Place } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import EntryLink from './EntryLink.vue'
import TrustBoxes from './TrustBoxes.vue'

/** Asks somebody to be of the crew. */
const client = useQueryClient()
const place = reactive<Place>({ name: '', role: 'crew', trusts: [] })
const { run, busy, problem } = useAct()
const made = ref<Entry | null>(null)

async function ask() {
  const entry = await run(() => ok(api.POST('/api/people', { body: place })))
  if (!entry) return
  made.value = entry
  Object.assign(place, { name: '', role: 'crew', trusts: [] })
  await client.invalidateQueries({ queryKey: ['people'] })
}
</script>

<template>
  <form class="stack" data-testid="invite" @submit.prevent="ask">
    <h2>Ask somebody to come</h2>
    <ProblemNote :problem="problem" />
    <div class="row fields">
      <div class="field">
        <label for="ask-name">Name, as the record calls them</label>
        <InputText id="ask-name" v-model="place.name" data-field="name" autocomplete="off" />
      </div>
      <TrustBoxes v-model:role="place.role" v-model:trusts="place.trusts" />
      <Button type="submit" label="Make their link" :loading="busy" data-testid="invite-go" />
    </div>
  </form>
  <EntryLink v-if="made" :entry="made" @close="made = null" />
</template>

<style scoped>
.fields {
  align-items: flex-end;
}
</style>
