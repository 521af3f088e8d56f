<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Entering } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import PasswordField from './PasswordField.vue'
import { useSession } from './session'

/** Where a link of a pitmaster leads: one chooses a password, and is in. */
const router = useRouter()
const { person, renew } = useSession()
const token = location.hash.slice(1)
const who = ref<Entering | null>(null)
const signIn = ref('')
const password = ref('')
const { run, busy, problem } = useAct()

onMounted(async () => {
  who.value = (await run(() => ok(api.POST('/api/enter/look', { body: { token: token || '-' } })))) ?? null
  signIn.value = who.value?.sign_in || (who.value?.name.toLowerCase() ?? '')
})
async function enter() {
  const body = { token, sign_in: signIn.value, password: password.value }
  if (!(await run(() => ok(api.POST('/api/enter', { body }))))) return
  await router.replace('/')
  await renew()
}
</script>

<template>
  <form class="page stack door" data-testid="enter" @submit.prevent="enter">
    <template v-if="who">
      <h1>{{ who.new ? `Welcome to ${who.barn}, ${who.name}` : `${who.name}, choose a new password` }}</h1>
      <p v-if="person && person.name !== who.name" class="warn">
        {{ person.name }} is signed in here; going on signs {{ who.name }} in instead.
      </p>
      <p class="soot small">This link works once, until {{ dateTime(who.ends_at) }}.</p>
      <ProblemNote :problem="problem" />
      <div class="field">
        <label for="sign-in">Sign-in name</label>
        <InputText
          id="sign-in"
          v-model="signIn"
          data-field="sign_in"
          autocomplete="username"
          autocapitalize="none"
          :readonly="!who.new"
        />
      </div>
      <PasswordField v-model="password" label="Password" />
      <Button type="submit" label="Come in" :loading="busy" />
    </template>
    <template v-else-if="problem">
      <h1>This link opens nothing</h1>
      <ProblemNote :problem="problem" />
      <RouterLink to="/">To the barn</RouterLink>
    </template>
  </form>
</template>

<style scoped>
.door {
  max-width: 420px;
  margin-top: 4vh;
}
</style>
