<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { BallotState, Taster } from '../api/schema.gen'

const props = defineProps<{
  taster: Taster
  ballots: BallotState[]
  link?: string
  pitmaster: boolean
  shut: boolean
}>()
defineEmits<{ leave: []; free: [] }>()
const href = computed(() => (props.link ? location.origin + props.link : ''))
</script>

<template>
  <article class="card board" :data-testid="`seat-${taster.name}`">
    <img
      v-if="href"
      :src="`/api/tasters/${taster.id}/qr.png`"
      width="92"
      height="92"
      :alt="`Code of ${taster.name}'s page`"
    />
    <div>
      <span class="soot small">Seat {{ taster.seat }}{{ taster.person_id === null ? '' : ', of the crew' }}</span>
      <h2>{{ taster.name }}</h2>
      <a v-if="href" :href="href" target="_blank" rel="noopener" class="small" :data-testid="`link-${taster.name}`"
        >their page</a
      >
      <p v-if="taster.bound" class="small check">open on their phone</p>
      <p v-if="ballots.length" class="small">
        {{ ballots.filter((b) => b.locked).length }} of {{ ballots.length }} ballots locked
      </p>
      <Button
        v-if="taster.bound && pitmaster && !shut"
        class="no-print"
        size="small"
        text
        label="Another phone"
        :aria-label="`Let ${taster.name} open it on another phone`"
        :data-testid="`free-${taster.name}`"
        @click="$emit('free')"
      />
      <Button
        v-if="!ballots.length && !shut"
        class="no-print"
        size="small"
        text
        label="Remove"
        :aria-label="`Remove ${taster.name} from the table`"
        @click="$emit('leave')"
      />
    </div>
  </article>
</template>

<style scoped>
.card {
  display: flex;
  gap: 12px;
  padding: 12px;
  border: var(--line) solid var(--edge);
}
img {
  image-rendering: pixelated;
}
</style>
