<script setup lang="ts">
import type { WasSample } from '../api/schema.gen'

/** After the codes are open: what each sample was, and what was given it. */
defineProps<{ was: WasSample[] }>()
</script>

<template>
  <table data-testid="was">
    <thead>
      <tr>
        <th>Code</th>
        <th>It was</th>
        <th>You gave</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="w in was" :key="`${w.flight} ${w.code}`">
        <td class="num">{{ w.code }}</td>
        <td>
          <b>{{ w.arm }}</b> {{ w.cut }}
        </td>
        <td class="small">
          <span v-for="g in w.gave" :key="g.name" class="gave"
            >{{ g.name }} <b v-if="g.most > 1" class="num">{{ g.value }}</b></span
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
}
td {
  vertical-align: top;
  padding: 6px 8px 6px 0;
}
.gave {
  display: inline-block;
  margin-right: 10px;
}
</style>
