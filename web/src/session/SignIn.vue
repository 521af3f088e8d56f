<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import { canPasskey, usePasskey } from '../you/passkey'

const emit = defineEmits<{ done: [] }>()
const name = ref('')
const password = ref('')
const { run, busy, problem } = useAct()

/** By a passkey of this device: nothing is typed. */
async function byKey() {
  const p = await run(async () => {
    const { options } = await ok(api.POST('/api/passkeys/begin'))
    const credential = await usePasskey(options)
    return credential ? ok(api.POST('/api/passkeys', { body: { credential } })) : undefined
  })
  if (p) emit('done')
}

async function enter() {
  const p = await run(() => ok(api.POST('/api/session', { body: { sign_in: name.value, password: password.value } })))
  if (p) emit('done')
}
</script>

<template>
  <form class="page stack door" @submit.prevent="enter">
    <h1>Sign in</h1>
    <ProblemNote :problem="problem" />
    <div class="field">
      <label for="sign-in">Sign-in name</label>
      <InputText id="sign-in" v-model="name" data-field="sign_in" autocomplete="username" autofocus />
    </div>
    <div class="field">
      <label for="password">Password</label>
      <InputText
        id="password"
        v-model="password"
        data-field="password"
        type="password"
        autocomplete="current-password"
      />
    </div>
    <Button type="submit" label="Sign in" :loading="busy" />
    <Button v-if="canPasskey" label="Sign in by a passkey" outlined data-testid="by-passkey" @click="byKey" />
    <p class="soot small">
      Forgot it? A pitmaster makes you a link on the Crew page; on the machine,
      <b class="num">whitebarn user link NAME</b>.
    </p>
    <p class="soot small">Tasters need no account: they scan the code on their place card.</p>
  </form>
</template>

<style scoped>
.door {
  max-width: 380px;
  margin-top: 8vh;
}
</style>
