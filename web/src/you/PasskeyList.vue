<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import { date } from '../ui/time'
import { browserIn } from './agent'
import { canPasskey, makePasskey } from './passkey'

/** Passkeys of one's own devices. */
const client = useQueryClient()
const { data: keys } = useQuery({ queryKey: ['passkeys'], queryFn: () => ok(api.GET('/api/me/passkeys')) })
const form = reactive({ name: browserIn(navigator.userAgent), password: '' })
const stopped = ref(false)
const { run, busy, problem } = useAct()
const renew = () => client.invalidateQueries({ queryKey: ['passkeys'] })

async function make() {
  stopped.value = false
  const done = await run(async () => {
    const { options } = await ok(api.POST('/api/me/passkeys/begin', { body: { password: form.password } }))
    const credential = await makePasskey(options)
    if (!credential) return void (stopped.value = true)
    await ok(api.POST('/api/me/passkeys', { body: { name: form.name, credential } }))
    return true
  })
  if (!done) return
  form.password = ''
  await renew()
}
async function end(id: number) {
  if (await run(async () => (await ok(api.DELETE('/api/me/passkeys/{id}', { params: { path: { id } } })), true)))
    await renew()
}
</script>

<template>
  <section v-if="keys" class="stack" data-testid="passkeys">
    <h2>Passkeys</h2>
    <ProblemNote :problem="problem" />
    <p>With one, this device lets you in by its own lock: no password to type, and none to be told.</p>
    <ul>
      <li v-for="k in keys" :key="k.id" class="row">
        <b>{{ k.name }}</b>
        <span class="small"
          >for {{ k.host }}, since {{ date(k.made_at) }}{{ k.used_at ? `, used ${date(k.used_at)}` : '' }}</span
        >
        <Button size="small" text label="End" :aria-label="`End the passkey of ${k.name}`" @click="end(k.id)" />
      </li>
    </ul>
    <form v-if="canPasskey" class="stack" @submit.prevent="make">
      <div class="field">
        <label for="key-name">This device</label>
        <InputText id="key-name" v-model="form.name" data-field="name" autocomplete="off" />
      </div>
      <div class="field">
        <label for="key-pass">Your password, to show it is you</label>
        <InputText
          id="key-pass"
          v-model="form.password"
          data-field="password"
          type="password"
          autocomplete="current-password"
        />
      </div>
      <div class="row">
        <Button type="submit" label="Make a passkey" outlined :loading="busy" data-testid="make-passkey" />
        <span v-if="stopped" role="status">The device made none.</span>
      </div>
    </form>
    <p v-else class="soot small">
      Not on this page: passkeys need a name of the barn and a secure page. On the machine itself open it as localhost;
      on the local network by its name.
    </p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
