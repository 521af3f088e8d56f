<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { Flight } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'

const props = defineProps<{ flight: Flight; struck: (code: string) => boolean }>()
const { trial, armOf, shut } = useThisTrial()
const open = computed(() => shut.value || props.flight.opened)
const { data: key } = useQuery({
  queryKey: ['key', props.flight.id],
  queryFn: () => ok(api.GET('/api/flights/{id}/key', { params: { path: { id: props.flight.id } } })),
})
const dressed = computed(() => key.value?.some((k) => k.carving) ?? false)
const cut = (id: number) => trial.value.cuts.find((c) => c.id === id)
const arm = (id: number) => (cut(id) ? armOf(cut(id)!) : -1)
</script>

<template>
  <details class="key" :open="open">
    <summary>
      <b>{{ open ? 'The key' : "The carver's key: yours alone" }}</b>
    </summary>
    <table>
      <thead>
        <tr>
          <th>Code</th>
          <th>Cut</th>
          <th>From</th>
          <th v-if="dressed">Cut and dressed</th>
          <th v-if="open">Arm</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="k in key" :key="k.code">
          <td class="big">
            <template v-if="struck(k.code)"
              ><s class="bad">{{ k.code }}</s> <b class="triangle bad small">do not eat</b></template
            >
            <template v-else>{{ k.code }}</template>
          </td>
          <td class="big">{{ k.cut }}</td>
          <td>
            {{ k.place }} <small v-if="k.warm_up" class="soot">warm-up</small>
            <small v-if="k.by_sight" class="triangle">told by sight</small>
          </td>
          <td v-if="dressed">{{ k.carving }}</td>
          <td v-if="open">
            <ArmName v-if="arm(k.cut_id) >= 0" :place="arm(k.cut_id)" :tag="trial.ask.arms[arm(k.cut_id)]!.tag" />
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.key {
  margin-top: 8px;
  padding: 8px 12px;
  background: var(--trough);
}
table {
  max-width: 640px;
}
.bad {
  color: var(--alarm);
}
</style>
