<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { Event } from '../api/schema.gen'
import { actRow, label } from './acts'
import FireSheet from './FireSheet.vue'

/** What is read before the first of an act that can hurt somebody. */
const { act } = defineProps<{ act: Event['act'] }>()
const emit = defineEmits<{ read: []; close: [] }>()
const caution = computed(() => actRow(act).caution)
</script>

<template>
  <FireSheet :aria-label="`Before the first: ${label(act)}`" data-testid="caution">
    <h2>Before the first: {{ label(act) }}</h2>
    <ul>
      <li v-for="w in caution.words" :key="w">{{ w }}</li>
    </ul>
    <p class="small">{{ caution.source }}</p>
    <div class="row">
      <Button :label="`Read it: ${label(act)}`" data-testid="caution-read" @click="emit('read')" />
      <Button outlined label="Not now" @click="emit('close')" />
    </div>
  </FireSheet>
</template>

<style scoped>
ul {
  margin: 6px 0;
  padding-left: 20px;
  line-height: 1.45;
}
.row {
  margin-top: 8px;
}
</style>
