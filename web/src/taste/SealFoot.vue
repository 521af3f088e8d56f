<script setup lang="ts">
import { ref } from 'vue'

/** The foot of a plate: seal, asked once more, or leave it out. */
defineProps<{ label: string; question: string; ready: boolean; name: string; otherwise: string }>()
const emit = defineEmits<{ seal: []; otherwise: [] }>()
const sealing = ref(false)
function seal() {
  sealing.value = false
  emit('seal')
}
</script>

<template>
  <footer>
    <slot />
    <div v-if="sealing" class="stack" :data-testid="`${name}-question`">
      <b>{{ question }}</b>
      <div class="row nowrap">
        <button type="button" class="seal" :data-testid="`${name}-sure`" @click="seal">Yes, seal it</button>
        <button type="button" class="excuse" @click="sealing = false">Not yet</button>
      </div>
    </div>
    <div v-else class="row nowrap">
      <button
        type="button"
        class="seal"
        :class="{ open: !ready }"
        :disabled="!ready"
        :data-testid="name"
        @click="sealing = true"
      >
        {{ label }}
      </button>
      <button v-if="otherwise" type="button" class="excuse" @click="emit('otherwise')">{{ otherwise }}</button>
    </div>
  </footer>
</template>
