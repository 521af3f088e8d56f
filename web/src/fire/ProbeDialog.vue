<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import Select from 'primevue/select'
import { computed } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, ProbeNow } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock } from '../ui/time'
import { temperature, weight } from '../ui/units'
import { targetOf, useTargets, valueOf } from './targets'

/** Says what each live probe measures: a cut, a pit, or nothing. */
const shown = defineModel<boolean>({ required: true })
const { cook } = defineProps<{ cook: CookView }>()
const emit = defineEmits<{ changed: [] }>()
const { shut } = useThisTrial()
const { run, problem } = useAct()

const { data: probes, refetch } = useQuery({
  queryKey: computed(() => ['probes', cook.id]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/probes', { params: { path: { id: cook.id } } })),
  enabled: shown,
})
const targets = useTargets(
  computed(() => cook),
  'nothing',
  shown,
)
const target = (p: ProbeNow) => (p.cook_id === cook.id ? valueOf(p) : '')
async function assign(p: ProbeNow, to: string) {
  const done = await run(() =>
    ok(
      api.PUT('/api/cooks/{id}/probes/{probe}', {
        params: { path: { id: cook.id, probe: p.id } },
        body: { ...targetOf(to), from: null },
      }),
    ),
  )
  if (!done) return
  await refetch()
  emit('changed')
}
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Probes" class="probes" :style="{ width: 'min(720px, 96vw)' }">
    <ProblemNote :problem="problem" />
    <table v-if="probes?.length">
      <thead>
        <tr>
          <th>Device and channel</th>
          <th class="right">Last</th>
          <th class="right">At</th>
          <th>Measures</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in probes" :key="p.id">
          <td>
            <b>{{ p.channel }}</b> <span class="small soot">{{ p.device }}</span>
          </td>
          <td class="num right">
            {{ p.c !== null ? temperature(p.c) : p.kg !== null ? weight(p.kg) : 'nothing yet' }}
          </td>
          <td class="num right">{{ p.at ? clock(p.at) : '' }}</td>
          <td>
            <Select
              v-if="p.measures === 'temperature'"
              :model-value="target(p)"
              :options="targets"
              option-label="label"
              option-value="value"
              :disabled="shut"
              :aria-label="`What ${p.channel} measures`"
              @update:model-value="(v: string) => assign(p, v)"
            />
            <span v-if="p.since && target(p)" class="small soot"
              >since <b class="num">{{ clock(p.since) }}</b></span
            >
            <span v-else class="soot">a scale: its weights are offered in Match</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="probes" class="soot">
      No device has sent anything for this cook. A pitmaster adds devices under Pits; the readings of a logger's file
      come in by <b>Import a log</b>.
    </p>
  </Dialog>
</template>

<style scoped>
table {
  width: 100%;
}
</style>
