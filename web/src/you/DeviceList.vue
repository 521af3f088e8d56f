<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import { browserIn } from './agent'

/** Where one is signed in. */
const client = useQueryClient()
const { data: devices } = useQuery({ queryKey: ['own-devices'], queryFn: () => ok(api.GET('/api/me/devices')) })
const { run, busy, problem } = useAct()
const ended = ref(false)

async function signOut() {
  if (!(await run(() => ok(api.POST('/api/me/sign-out'))))) return
  ended.value = true
  await client.invalidateQueries({ queryKey: ['own-devices'] })
}
</script>

<template>
  <section v-if="devices" class="stack" data-testid="devices">
    <h2>Signed in on {{ devices.length }} {{ devices.length === 1 ? 'device' : 'devices' }}</h2>
    <ProblemNote :problem="problem" />
    <ul>
      <li v-for="(d, i) in devices" :key="i">
        <b>{{ browserIn(d.agent) }}</b> since {{ dateTime(d.since) }}{{ d.here ? ', this one' : '' }}
      </li>
    </ul>
    <div class="row">
      <Button
        label="Sign out everywhere else"
        outlined
        :loading="busy"
        :disabled="devices.length < 2"
        data-testid="sign-out-others"
        @click="signOut"
      />
      <span v-if="ended" class="check" role="status">They are signed out.</span>
    </div>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 6px 0;
  border-top: var(--line) solid var(--grain);
}
</style>
