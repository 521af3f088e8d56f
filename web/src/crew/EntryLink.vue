<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import type { Entry } from '../api/schema.gen'
import { dateTime } from '../ui/time'

/** A link by which somebody sets a password, shown once. */
const { entry } = defineProps<{ entry: Entry }>()
const emit = defineEmits<{ close: [] }>()
const copied = ref(false)
async function copy() {
  await navigator.clipboard.writeText(entry.link)
  copied.value = true
}
/** The barn answers on this machine alone: so does the link. */
const hereAlone = /^(localhost|127\.|\[::1\])/.test(new URL(entry.link).hostname)
const canCopy = 'clipboard' in navigator
</script>

<template>
  <section class="link" data-testid="entry-link" :aria-label="`Link for ${entry.person.name}`">
    <img
      :src="`data:image/png;base64,${entry.code}`"
      width="150"
      height="150"
      :alt="`Code of the link for ${entry.person.name}`"
    />
    <div class="stack tight">
      <h3>
        {{ entry.person.name }} {{ entry.person.came_at ? 'chooses a new password' : 'comes in' }} by this link, once
      </h3>
      <p class="num address" data-testid="entry-address">{{ entry.link }}</p>
      <p>
        It waits until <b>{{ dateTime(entry.ends_at) }}</b> and is shown only now. Give it to
        {{ entry.person.name }} alone: whoever has it comes in as them.
      </p>
      <p v-if="hereAlone" class="warn">
        This barn answers on this machine alone, so the link opens here. For phones start it with
        <b class="num">make run LAN=1</b>.
      </p>
      <div class="row">
        <Button v-if="canCopy" :label="copied ? 'Copied' : 'Copy the link'" size="small" outlined @click="copy" />
        <Button label="Done" size="small" text @click="emit('close')" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.link {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  padding: 14px;
  border: var(--line-strong) solid var(--ink);
  background: var(--board);
}
.link > div {
  flex: 1 1 18rem;
  min-width: 0;
}
.address {
  overflow-wrap: anywhere;
  user-select: all;
}
</style>
