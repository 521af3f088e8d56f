<script setup lang="ts">
import type { CookView, CutView } from '../api/schema.gen'
import type { Turned, useOutbox } from './outbox'
import type { Pressed } from './presses'
import TurnedAway from './TurnedAway.vue'

/** The presses of a cook that the barn would not take: mended and sent again, or let go. */
const { outbox, press } = defineProps<{
  outbox: ReturnType<typeof useOutbox>
  cuts: CutView[]
  cook: CookView
  press: (p: Pressed) => Promise<boolean>
}>()
async function again(e: Turned, p: Pressed) {
  outbox.forget(e)
  await press(p)
}
</script>

<template>
  <TurnedAway
    v-for="e in outbox.turnedAway.value"
    :key="`${e.at}${e.text}`"
    :entry="e"
    :cuts="cuts"
    :cook="cook"
    @again="(p) => again(e, p)"
    @forget="outbox.forget(e)"
  />
</template>
