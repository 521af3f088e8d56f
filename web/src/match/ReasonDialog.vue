<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { asking } from './layout'

/** Asks the pitmaster why cuts change places under the fire. */
const why = ref('')
watch(asking, () => (why.value = ''))
const enough = computed(() => (why.value.match(/\p{L}/gu) ?? []).length >= 3)
function answer(text: string | null) {
  asking.value?.answer(text)
  asking.value = null
}
</script>

<template>
  <Dialog :visible="!!asking" modal header="A cut is on the fire" @update:visible="answer(null)">
    <form class="stack" @submit.prevent="enough && answer(why)">
      <p>{{ asking?.what }} now changes what is compared while it burns. The verdict will name it, with your reason.</p>
      <div class="field">
        <label for="layout-why">Why</label><InputText id="layout-why" v-model="why" maxlength="200" autofocus />
      </div>
      <div class="row">
        <Button type="submit" label="Do it all the same" :disabled="!enough" data-testid="layout-do" />
        <Button label="Leave it" text @click="answer(null)" />
      </div>
    </form>
  </Dialog>
</template>
