<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Keeping } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import { megabytes } from './size'

defineProps<{ kept: Keeping }>()
const { isPitmaster } = useSession()
const client = useQueryClient()
const { run, busy, problem } = useAct()
async function take() {
  if (await run(() => ok(api.POST('/api/records/backups')))) await client.invalidateQueries({ queryKey: ['records'] })
}
</script>

<template>
  <h2>Backups</h2>
  <template v-if="kept.backups">
    <p>
      Every {{ kept.backups.every_hours }} h into <b class="num">{{ kept.backups.folder }}</b>; the newest
      {{ kept.backups.keep }} stay. Keep a copy on another machine too.
    </p>
    <table v-if="kept.backups.kept.length" data-testid="backups">
      <tbody>
        <tr v-for="b in kept.backups.kept" :key="b.name">
          <td>{{ dateTime(b.at) }}</td>
          <td class="num">{{ megabytes(b.bytes) }}</td>
          <td class="num soot small">{{ b.name }}</td>
        </tr>
      </tbody>
    </table>
    <ProblemNote :problem="problem" />
    <p v-if="isPitmaster">
      <Button label="Back up now" outlined :loading="busy" data-testid="back-up" @click="take" />
    </p>
  </template>
  <p v-else class="soot">
    On the machine, at any time and while a cook runs: <b class="num">whitebarn backup</b>. Start the server with
    <b class="num">-backups FOLDER</b> to have them taken by the clock.
  </p>
</template>
