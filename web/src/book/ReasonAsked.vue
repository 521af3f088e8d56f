<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'

/** Asks why, before something that was signed is opened again. */
defineProps<{ header: string; says: string; action: string }>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ reason: [why: string] }>()
const why = ref('')
watch(shown, () => (why.value = ''))
const enough = computed(() => (why.value.match(/\p{L}/gu) ?? []).length >= 3)
</script>

<template>
  <Dialog v-model:visible="shown" modal :header="header">
    <form class="stack" @submit.prevent="enough && emit('reason', why)">
      <p>{{ says }}</p>
      <div class="field">
        <label for="why-asked">Why</label><InputText id="why-asked" v-model="why" maxlength="200" autofocus />
      </div>
      <Button type="submit" :label="action" :disabled="!enough" data-testid="reason-do" />
    </form>
  </Dialog>
</template>
