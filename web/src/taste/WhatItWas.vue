<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ok } from '../api/client'
import type { WasSample } from '../api/schema.gen'
import RecordTable from './RecordTable.vue'

/** After the codes are open: what each sample was, and what was given it; and how a guest who is known again tastes. */
const props = defineProps<{ was: WasSample[]; token: string }>()
const { data: record } = useQuery({
  queryKey: ['guest-record', props.token],
  queryFn: () => ok(api.GET('/api/taste/{token}/record', { params: { path: { token: props.token } } })),
})
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
  <template v-if="record?.trials.length">
    <h2>How you taste</h2>
    <RecordTable :trials="record.trials" />
  </template>
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
