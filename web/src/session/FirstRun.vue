<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import ProblemNote from '../ui/ProblemNote.vue'
import PasswordField from './PasswordField.vue'

const emit = defineEmits<{ done: [] }>()
const form = reactive({
  barn: '',
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  name: '',
  sign_in: '',
  password: '',
})
const { run, busy, problem } = useAct()

async function make() {
  if (await run(() => ok(api.POST('/api/first-run', { body: { ...form, sign_in: form.sign_in || form.name } }))))
    emit('done')
}
</script>

<template>
  <form class="page stack door" @submit.prevent="make">
    <h1>Set up White Barn</h1>
    <p>This makes the barn and the account of its pitmaster, who asks the crew to come.</p>
    <ProblemNote :problem="problem" />
    <div class="field">
      <label for="barn">What the barn is called</label>
      <InputText id="barn" v-model="form.barn" data-field="barn" autofocus />
    </div>
    <div class="field">
      <label for="zone">Time zone, for logs and clocks</label>
      <InputText id="zone" v-model="form.time_zone" data-field="time_zone" />
    </div>
    <div class="field">
      <label for="name">Your name</label>
      <InputText id="name" v-model="form.name" data-field="name" autocomplete="name" />
    </div>
    <div class="field">
      <label for="sign-in">Sign-in name</label>
      <InputText
        id="sign-in"
        v-model="form.sign_in"
        data-field="sign_in"
        :placeholder="form.name"
        autocomplete="username"
      />
    </div>
    <PasswordField v-model="form.password" label="Password" />
    <Button type="submit" label="Set up White Barn" :loading="busy" />
  </form>
</template>

<style scoped>
.door {
  max-width: 420px;
  margin-top: 4vh;
}
</style>
