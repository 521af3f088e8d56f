<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import SelectButton from 'primevue/selectbutton'
import { reactive, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { NewScriptToken } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import { date } from '../ui/time'

/** What lets scripts in. */
const client = useQueryClient()
const { data: tokens } = useQuery({ queryKey: ['tokens'], queryFn: () => ok(api.GET('/api/records/tokens')) })
const { run, busy, problem } = useAct()
const hand = reactive<NewScriptToken>({ name: '', scope: 'read', days: 365 })
const made = ref('')
const scopes = [
  { label: 'read', value: 'read' },
  { label: 'read and log', value: 'log' },
  { label: 'all I may', value: 'all' },
]
async function make() {
  const t = await run(() => ok(api.POST('/api/records/tokens', { body: hand })))
  if (!t) return
  made.value = t.token
  hand.name = ''
  await client.invalidateQueries({ queryKey: ['tokens'] })
}
async function end(id: number) {
  const done = await run(async () => {
    await ok(api.DELETE('/api/records/tokens/{id}', { params: { path: { id } } }))
    return true
  })
  if (done) await client.invalidateQueries({ queryKey: ['tokens'] })
}
</script>

<template>
  <h2>Tokens of scripts</h2>
  <table v-if="tokens?.length" data-testid="tokens">
    <tbody>
      <tr v-for="t in tokens" :key="t.id">
        <td>
          <b>{{ t.name }}</b>
        </td>
        <td>{{ scopes.find((s) => s.value === t.scope)?.label }}</td>
        <td class="soot small">
          {{ t.ends_at ? `until ${date(t.ends_at)}` : 'without end' }},
          {{ t.used_at ? `used ${date(t.used_at)}` : 'never used' }}
        </td>
        <td><Button label="End" text size="small" :aria-label="`End the token ${t.name}`" @click="end(t.id)" /></td>
      </tr>
    </tbody>
  </table>
  <p v-else class="soot">None. A script acts in your name, as far as its token goes.</p>
  <p v-if="made" class="made" data-testid="made-token">
    Shown once: <b class="num">{{ made }}</b>
  </p>
  <form class="stack" @submit.prevent="make">
    <ProblemNote :problem="problem" />
    <div class="row">
      <div class="field">
        <label for="token-name">What for</label
        ><InputText id="token-name" v-model="hand.name" data-field="name" autocomplete="off" />
      </div>
      <div class="field">
        <span class="label">It may</span
        ><SelectButton
          v-model="hand.scope"
          :options="scopes"
          option-label="label"
          option-value="value"
          :allow-empty="false"
          aria-label="It may"
        />
      </div>
      <Button type="submit" label="Make a token" outlined :loading="busy" data-testid="make-token" />
    </div>
  </form>
</template>

<style scoped>
.made {
  padding: 10px;
  background: var(--watch-wash);
  overflow-wrap: anywhere;
}
.row {
  align-items: end;
}
</style>
