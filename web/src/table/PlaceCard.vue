<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import type { BallotState, TasterView } from '../api/schema.gen'

const props = defineProps<{ taster: TasterView; ballots: BallotState[] }>()
defineEmits<{ leave: [] }>()
const link = computed(() => location.origin + props.taster.path)
</script>

<template>
  <article class="card board">
    <img :src="`/api/tasters/${taster.id}/qr.png`" width="92" height="92" :alt="`Code of ${taster.name}'s page`" />
    <div>
      <span class="soot small">Seat {{ taster.seat }}</span>
      <h2>{{ taster.name }}</h2>
      <a :href="link" target="_blank" rel="noopener" class="small" :data-testid="`link-${taster.name}`">their page</a>
      <p v-if="ballots.length" class="small">
        {{ ballots.filter((b) => b.locked).length }} of {{ ballots.length }} ballots locked
      </p>
      <Button
        v-else
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
