<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { sendFile } from '../api/client'
import type { Problem } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'

/** A trial of another barn: first what it holds, then it is taken in. */
interface Found {
  kind: 'backup' | 'barn' | 'trial'
  title: string
  created: string
  rows: { what: string; rows: number }[]
  trial_id: number
}
const client = useQueryClient()
const router = useRouter()
const { run, busy, problem } = useAct()
const file = ref<File | null>(null)
const found = ref<Found | null>(null)
async function look(f: File | undefined) {
  if (!f) return
  file.value = f
  found.value = (await run(() => sendFile<Found>('/api/records/look', f))) ?? null
}
async function take() {
  const got = await run(() => sendFile<Found>('/api/records/trials', file.value!))
  if (!got) return
  await client.invalidateQueries()
  await router.push(`/trials/${got.trial_id}/settle`)
}
const whole: Problem = {
  status: 0,
  title: 'This is a whole barn, not one trial.',
  remedy: 'Bring it into an empty barn on the machine: whitebarn restore FILE.',
  errors: [],
}
</script>

<template>
  <div class="stack">
    <label class="way file"
      >A trial of another barn
      <input
        type="file"
        accept=".zip,application/zip"
        data-testid="archive-file"
        @change="look(($event.target as HTMLInputElement).files?.[0])"
    /></label>
    <p v-if="busy" class="soot" role="status">Reading {{ file?.name }}…</p>
    <ProblemNote :problem="problem ?? (found && found.kind !== 'trial' ? whole : null)" />
    <div v-if="found" class="found" data-testid="archive-found">
      <p>
        <b>{{ found.title }}</b>, written {{ dateTime(found.created) }}:
        {{ found.rows.map((r) => `${r.rows.toLocaleString('en')} ${r.what}`).join(', ') }}.
      </p>
      <p v-if="found.kind === 'trial'" class="soot small">
        People, pits and levels of the same name are taken for yours; everything else is new here. All of it comes in,
        or nothing.
      </p>
      <Button v-if="found.kind === 'trial'" label="Take it in" :loading="busy" data-testid="take-in" @click="take" />
    </div>
  </div>
</template>

<style scoped>
.file {
  align-self: start;
}
.found {
  padding: 12px;
  border: var(--line) solid var(--edge);
  display: flex;
  flex-direction: column;
  gap: 8px;
  align-items: start;
}
</style>
