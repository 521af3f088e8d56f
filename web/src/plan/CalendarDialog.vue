<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useClipboard } from '@vueuse/core'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import { api, ok } from '../api/client'

/** The cook as a calendar: a file to keep, or an address to subscribe to. */
const shown = defineModel<boolean>({ required: true })
const { cook } = defineProps<{ cook: number }>()
const { data } = useQuery({
  queryKey: computed(() => ['calendar', cook]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/calendar', { params: { path: { id: cook } } })),
  enabled: shown,
})
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <Dialog v-model:visible="shown" modal header="This cook in a calendar" class="calendar">
    <div class="stack">
      <p>
        A calendar that subscribes to this address follows the plan as it moves. Whoever has the address sees the tasks,
        without signing in.
      </p>
      <InputText
        :model-value="data?.url ?? ''"
        readonly
        class="mono-input"
        aria-label="Address of the calendar"
        data-testid="calendar-url"
      />
      <div class="row">
        <Button :label="copied ? 'Copied' : 'Copy the address'" outlined @click="copy(data?.url ?? '')" />
        <a v-if="data" :href="data.url" download="cook.ics">Download the file</a>
      </div>
    </div>
  </Dialog>
</template>

<style scoped>
input {
  width: min(560px, 80vw);
}
</style>
