<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { shallowRef } from 'vue'
import { drawings, savePng, saveSvg, type Drawing } from './picture'

/** The pictures of the page, to take out as files. */
const shown = defineModel<boolean>({ required: true })
const all = shallowRef<Drawing[]>([])
</script>

<template>
  <Dialog
    v-model:visible="shown"
    modal
    header="Pictures of this page"
    :style="{ width: 'min(40rem, 96vw)' }"
    @show="all = drawings()"
  >
    <p v-if="all.length === 0" class="soot">This page draws nothing that would be a picture by itself.</p>
    <ul data-testid="pictures">
      <li v-for="(d, i) in all" :key="i">
        <span>{{ d.name }}</span>
        <Button label="SVG" outlined size="small" :aria-label="`${d.name} as SVG`" @click="saveSvg(d)" />
        <Button label="PNG" outlined size="small" :aria-label="`${d.name} as PNG`" @click="savePng(d)" />
      </li>
    </ul>
    <p class="soot small">As they stand now: in this light, these units and this stretch of time.</p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 6px 0;
  border-top: var(--line) solid var(--grain);
}
span {
  flex: 1;
}
</style>
