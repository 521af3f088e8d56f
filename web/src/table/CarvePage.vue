<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useWakeLock } from '@vueuse/core'
import { computed, onMounted } from 'vue'
import { useRoute } from 'vue-router'
import { api, ok, Refused } from '../api/client'
import { useAct } from '../api/act'
import { useGate } from '../gate/gate'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'

/** For the carver alone, in the hand: code by code, which cut it is, how it is carved, and a tick once it is on its plates. */
const { trial } = useThisTrial()
const { gate } = useGate()
const id = Number(useRoute().params.flight)
const flight = computed(() => trial.value.flights.find((f) => f.id === id))
const client = useQueryClient()
const { data: key, error } = useQuery({
  queryKey: ['key', id],
  queryFn: () => ok(api.GET('/api/flights/{id}/key', { params: { path: { id } } })),
})
const acting = useAct()
const struck = (code: string) => gate.value?.struck.some((s) => s.flight_id === id && s.code === code) ?? false
const plates = computed(() => trial.value.ballots.filter((b) => b.flight_id === id))
const portions = (code: string) => plates.value.filter((b) => b.codes.includes(code)).length
const left = computed(() => key.value?.filter((k) => !k.plated && !struck(k.code)).length ?? 0)
async function tick(code: string, plated: boolean) {
  const v = await acting.run(() =>
    ok(api.POST('/api/flights/{id}/plated', { params: { path: { id } }, body: { code, plated } })),
  )
  if (v) client.setQueryData(['key', id], v)
}
const name = (taster: number) => trial.value.tasters.find((t) => t.id === taster)?.name
// Hands are wet: the screen stays on.
const { request, isSupported } = useWakeLock()
onMounted(() => isSupported.value && void request('screen').catch(() => undefined))
</script>

<template>
  <div v-if="key || error" class="page stack carve">
    <div class="row">
      <h1>Carve flight {{ flight?.number }}</h1>
      <b class="num lead" data-testid="carve-left">{{ left ? `${left} to plate` : 'All plated' }}</b>
      <RouterLink class="push" :to="`/trials/${trial.id}/table`">Back to Table</RouterLink>
    </div>
    <p class="triangle small">Yours alone: turn the screen away, and say no code with a cut.</p>
    <ProblemNote v-if="error instanceof Refused" :problem="error.problem" />
    <ProblemNote :problem="acting.problem.value" />
    <ol v-if="key" class="cups">
      <li
        v-for="k in key"
        :key="k.code"
        :class="{ done: k.plated, off: struck(k.code) }"
        :data-testid="`cup-${k.code}`"
      >
        <b class="num code">{{ k.code }}</b>
        <div>
          <b class="cut num">{{ k.cut }}</b> <span>{{ k.place }}</span>
          <small v-if="k.warm_up" class="soot">, to warm up</small>
          <p v-if="k.carving">{{ k.carving }}</p>
          <p v-if="struck(k.code)" class="bad"><b class="triangle">Do not serve it</b></p>
          <p v-else class="soot small">{{ portions(k.code) }} portions</p>
        </div>
        <button
          v-if="!struck(k.code)"
          type="button"
          :aria-pressed="k.plated"
          :data-testid="`plated-${k.code}`"
          :aria-label="`${k.code} is plated`"
          @click="tick(k.code, !k.plated)"
        >
          {{ k.plated ? 'Plated' : 'Plate' }}
        </button>
      </li>
    </ol>
    <h2>Plate by plate</h2>
    <table>
      <tbody>
        <tr v-for="b in plates" :key="b.taster_id">
          <td>{{ name(b.taster_id) }}</td>
          <td class="num big">
            <template v-for="c in b.codes" :key="c"
              ><s v-if="struck(c)" class="bad">{{ c }}</s
              ><template v-else>{{ c }}</template
              >{{ ' ' }}</template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.lead {
  font-size: var(--n-md);
}
.cups {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(340px, 100%), 1fr));
  gap: 8px;
}
.cups li {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 8px 12px;
  background: var(--board);
  border: var(--line-strong) solid var(--ink);
}
.cups li div {
  flex: 1;
  min-width: 0;
}
.cups p {
  margin: 0;
}
.cups .done {
  border-color: var(--edge);
  background: var(--trough);
}
.code {
  font-size: 52px;
  line-height: 1;
}
.cut {
  font-size: 24px;
}
.cups button {
  min-width: 84px;
  min-height: 64px;
  font: inherit;
  font-weight: 700;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--ink);
  color: var(--board);
}
.cups button[aria-pressed='true'] {
  background: var(--board);
  color: var(--ink);
}
.off .code {
  text-decoration: line-through;
  color: var(--alarm);
}
.bad {
  color: var(--alarm);
}
.big {
  font-size: 20px;
}
td {
  padding: 6px 16px 6px 0;
}
</style>
