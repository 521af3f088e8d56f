<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import PasswordField from '../session/PasswordField.vue'
import ProblemNote from '../ui/ProblemNote.vue'

/** Changes one's own password. */
const { person } = useSession()
const client = useQueryClient()
const form = reactive({ old: '', password: '' })
const changed = ref(false)
const { run, busy, problem } = useAct()

async function change() {
  changed.value = false
  if (!(await run(() => ok(api.PUT('/api/me/password', { body: form }))))) return
  changed.value = true
  Object.assign(form, { old: '', password: '' })
  await client.invalidateQueries({ queryKey: ['own-devices'] })
}
</script>

<template>
  <form class="stack" data-testid="password-form" @submit.prevent="change">
    <h2>Password</h2>
    <ProblemNote :problem="problem" />
    <input type="text" :value="person?.sign_in" autocomplete="username" readonly hidden />
    <div class="field">
      <label for="old">The one you have</label>
      <InputText id="old" v-model="form.old" data-field="old" type="password" autocomplete="current-password" />
    </div>
    <PasswordField v-model="form.password" label="A new one" />
    <div class="row">
      <Button type="submit" label="Change the password" :loading="busy" />
      <span v-if="changed" class="check" role="status">Changed. All other devices are signed out.</span>
    </div>
  </form>
</template>
