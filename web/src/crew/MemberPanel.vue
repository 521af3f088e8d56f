<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive, ref, useId } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Entry, Member } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import EntryLink from './EntryLink.vue'
import TrustBoxes from './TrustBoxes.vue'

/** What a pitmaster does about somebody of the crew. */
const { member } = defineProps<{ member: Member }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const place = reactive({ name: member.name, role: member.role, trusts: [...member.trusts] })
const why = ref('')
const link = ref<Entry | null>(null)
const told = ref('')
const leaving = ref(false)
const { run, busy, problem } = useAct()
const id = useId()
const path = { params: { path: { id: member.id } } }
const renew = () => client.invalidateQueries({ queryKey: ['people'] })

async function save() {
  const done = await run(async () => (await ok(api.PUT('/api/people/{id}', { ...path, body: place })), true))
  if (done) await renew().then(() => emit('close'))
}
async function makeLink() {
  link.value = (await run(() => ok(api.POST('/api/people/{id}/link', path)))) ?? null
  await renew()
}
async function signOut() {
  if (await run(async () => (await ok(api.POST('/api/people/{id}/sign-out', path)), true)))
    told.value = `${member.name} is signed out on all devices.`
}
async function leave() {
  const body = { why: why.value }
  if (await run(async () => (await ok(api.POST('/api/people/{id}/leave', { ...path, body })), true)))
    await renew().then(() => emit('close'))
}
</script>

<template>
  <div class="stack panel" :data-testid="`member-${member.name}`">
    <ProblemNote :problem="problem" />
    <form v-if="!member.left_at" class="row fields" @submit.prevent="save">
      <div class="field">
        <label :for="`${id}-name`">Name</label>
        <InputText :id="`${id}-name`" v-model="place.name" data-field="name" autocomplete="off" />
      </div>
      <TrustBoxes v-model:role="place.role" v-model:trusts="place.trusts" />
      <Button type="submit" label="Save" outlined :loading="busy" data-testid="member-save" />
    </form>
    <p v-else>What {{ member.name }} did stays under their name. By a link they are of the crew again.</p>
    <div class="row">
      <Button
        :label="
          member.left_at
            ? 'Ask them back, by a link'
            : member.came_at
              ? 'Forgot the password: make a link'
              : 'Make the link anew'
        "
        size="small"
        outlined
        data-testid="member-link"
        @click="makeLink"
      />
      <template v-if="!member.left_at">
        <Button
          v-if="member.came_at"
          label="Sign them out everywhere"
          size="small"
          outlined
          data-testid="member-sign-out"
          @click="signOut"
        />
        <Button v-if="!leaving" label="Has left" size="small" text data-testid="member-left" @click="leaving = true" />
      </template>
    </div>
    <p v-if="told" role="status">{{ told }}</p>
    <form v-if="leaving" class="row" @submit.prevent="leave">
      <div class="field grow">
        <label :for="`${id}-why`">Why, if it is to be kept</label>
        <InputText :id="`${id}-why`" v-model="why" data-field="why" />
      </div>
      <Button type="submit" :label="`${member.name} has left`" severity="danger" data-testid="member-leave" />
      <p class="small">
        Ends their sessions, passkeys, links and scripts now. Their name stays in the record; a link brings them back.
      </p>
    </form>
    <EntryLink v-if="link" :entry="link" @close="link = null" />
  </div>
</template>

<style scoped>
.fields {
  align-items: flex-end;
}
.panel {
  padding: 12px 0 16px;
}
.grow {
  flex: 1 1 16rem;
}
</style>
