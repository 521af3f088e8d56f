<script setup lang="ts">
import Button from 'primevue/button'
import type { Difference } from './differs'

/** A plan that was made while somebody else kept another: both, where they differ. */
defineProps<{ rows: Difference[] }>()
const emit = defineEmits<{ mine: []; theirs: [] }>()
</script>

<template>
  <section class="both" data-testid="two-plans">
    <table v-if="rows.length">
      <thead>
        <tr>
          <th scope="col">What differs</th>
          <th scope="col">Yours, not saved</th>
          <th scope="col">As it stands</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.what">
          <th scope="row">{{ r.what }}</th>
          <td>{{ r.mine }}</td>
          <td>{{ r.theirs }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else>Both plans are the same.</p>
    <div class="row">
      <Button label="Save mine over it" outlined data-testid="keep-mine" @click="emit('mine')" />
      <Button label="Take what stands" data-testid="take-theirs" @click="emit('theirs')" />
    </div>
  </section>
</template>

<style scoped>
.both {
  margin: 8px 16px;
  padding: 10px 16px 14px;
  background: var(--watch-wash);
  overflow-x: auto;
}
table {
  margin-bottom: 12px;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 6px 16px 6px 0;
}
</style>
