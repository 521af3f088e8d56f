<script setup lang="ts">
import { defineAsyncComponent } from 'vue'
import Button from 'primevue/button'
import type { CookView } from '../api/schema.gen'
import KeyCap from '../ui/KeyCap.vue'
import { clock } from '../ui/time'
import { label } from './acts'
import FireSheet from './FireSheet.vue'
import type { Press } from './presses'

const DetailForm = defineAsyncComponent(() => import('./DetailForm.vue'))

/** The last press of this device: undone, set back, or told what it was done with, in a sheet over the lanes. */
defineProps<{ last: Press; undoes: number; cook: CookView; waits: boolean }>()
const details = defineModel<boolean>('details', { required: true })
const emit = defineEmits<{
  undo: []
  earlier: [number]
  amend: [Partial<Pick<Press, 'at' | 'note' | 'detail'>>]
}>()
</script>

<template>
  <div class="last" data-testid="last-entry">
    <b class="num words" role="status" :title="`${label(last.act)} ${last.on}`"
      >{{ clock(last.at) }} {{ label(last.act) }} {{ last.on }}</b
    >
    <span class="small" :class="{ sent: !waits }" data-testid="not-yet">not yet handed in</span>
    <Button outlined @click="emit('undo')"><KeyCap>U</KeyCap> {{ undoes > 1 ? `Undo all ${undoes}` : 'Undo' }}</Button>
    <Button class="set-back" outlined data-testid="earlier" label="5 min earlier" @click="emit('earlier', 5)" />
    <Button outlined label="Details" :aria-expanded="details" data-testid="details" @click="details = !details" />
    <FireSheet v-if="details" class="board" :aria-label="`Details of ${label(last.act)}`">
      <div class="row head">
        <b class="num">{{ clock(last.at) }} {{ label(last.act) }} {{ last.on }}</b>
        <Button outlined label="10 min earlier" @click="emit('earlier', 10)" />
        <Button class="push" label="Close" @click="details = false" />
      </div>
      <DetailForm
        :key="`${last.made}`"
        :act="last.act"
        :cook="cook"
        :detail="last.detail"
        :note="last.note"
        @change="(detail, note) => emit('amend', { detail, note })"
      />
    </FireSheet>
  </div>
</template>

<style scoped>
.last {
  flex: 0 1 auto;
  display: flex;
  align-items: center;
  gap: 8px;
  min-width: 0;
}
.last :deep(button) {
  min-height: 48px;
  flex: none;
}
.words {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sent {
  display: none;
}
.small {
  white-space: nowrap;
  color: var(--watch);
}
.head {
  margin-bottom: 8px;
}
@media (max-width: 700px), (max-height: 500px) {
  .set-back {
    display: none;
  }
  .small {
    white-space: normal;
    line-height: 1.1;
  }
}
</style>
