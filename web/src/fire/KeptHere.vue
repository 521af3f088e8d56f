<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import type { useOutbox } from './outbox'

/** What was done on this device and is not with the barn yet, and whose it is. */
const { outbox } = defineProps<{ outbox: ReturnType<typeof useOutbox> }>()
const n = computed(() => outbox.waiting.value.length)
// What goes through at once would only push what is below down and up again under a thumb.
const long = refDebounced(
  computed(() => n.value > 0),
  1500,
)
</script>

<template>
  <p v-if="n && long" class="kept" role="status" data-testid="outbox">
    Kept on this device, <b class="num">{{ n }}</b> {{ n === 1 ? 'entry' : 'entries' }} to hand in. They go by
    themselves; until then the gate judges without them.
  </p>
  <p v-if="outbox.full.value" class="kept" role="alert" data-testid="device-full">
    This device has no room left: what waits is in this page alone. Leave it open until it is handed in.
  </p>
  <p v-if="outbox.waitsFor.value.length" class="kept" role="status" data-testid="outbox-of-others">
    What {{ outbox.waitsFor.value.join(', ') }} did waits on this device until they sign in here.
  </p>
</template>

<style scoped>
.kept {
  margin: 0;
  padding: 6px 12px;
  background: var(--watch-wash);
  color: var(--watch);
  font-weight: 700;
}
</style>
