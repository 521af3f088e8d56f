<script setup lang="ts">
import Popover from 'primevue/popover'
import { computed, ref } from 'vue'
import { words } from './pages'

/** A word of the barn's own: a tap says what it means. The slot is how it is written here. */
const props = defineProps<{ word: string }>()
const known = computed(() => words.find((w) => w.word.toLowerCase() === props.word.toLowerCase()))
const panel = ref<InstanceType<typeof Popover> | null>(null)
</script>

<template>
  <button
    v-if="known"
    type="button"
    class="word"
    aria-haspopup="dialog"
    :data-word="word"
    @click.stop="(e) => panel?.toggle(e)"
  >
    <slot>{{ word }}</slot>
  </button>
  <span v-else
    ><slot>{{ word }}</slot></span
  >
  <Popover ref="panel"
    ><p v-if="known" class="means">
      <b>{{ known.word }}</b>: {{ known.means }}
    </p></Popover
  >
</template>

<style scoped>
.word {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  padding: 0;
  text-align: inherit;
  cursor: help;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
.means {
  max-width: 340px;
}
</style>
