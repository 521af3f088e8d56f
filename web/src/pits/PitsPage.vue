<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Device, Holder, NewToken } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import { typedTemperature, withTemperatureUnit } from '../ui/units'
import FamilyTable from './FamilyTable.vue'
import PitCard from './PitCard.vue'
import { usePits } from './pits'

/** The barn's pits, and the devices that report on them. */
const client = useQueryClient()
const { isPitmaster, mayWith } = useSession()
const mine = computed(() => mayWith('pits'))
const { pits, isFetched: pitsAsked } = usePits()
const { data: devices, isFetched: devicesAsked } = useQuery({
  queryKey: ['devices'],
  queryFn: () => ok(api.GET('/api/devices')),
})
const { data: burns, isFetched: burnsAsked } = useQuery({
  queryKey: ['burns'],
  queryFn: () => ok(api.GET('/api/burns')),
})
const { run, busy, problem } = useAct()
const { data: holders, isFetched: holdersAsked } = useQuery({
  queryKey: ['holders'],
  queryFn: () => ok(api.GET('/api/holders')),
})
const pit = ref('')
async function addPit() {
  const p = await run(() => ok(api.POST('/api/pits', { body: { name: pit.value } })))
  if (!p) return
  pit.value = ''
  await client.invalidateQueries({ queryKey: ['pits'] })
}
const holder = ref('')
async function addHolder() {
  const h = await run(() => ok(api.POST('/api/holders', { body: { name: holder.value } })))
  if (!h) return
  holder.value = ''
  await client.invalidateQueries({ queryKey: ['holders'] })
}
async function setHolder(h: Holder, places: string, lowest: string) {
  const v = await run(() =>
    ok(
      api.PUT('/api/holders/{id}', {
        params: { path: { id: h.id } },
        body: { capacity: places.trim() ? Number(places) : null, lowest: withTemperatureUnit(lowest) },
      }),
    ),
  )
  if (v) client.setQueryData(['holders'], v)
}
const inUse = computed(() => devices.value?.filter((d) => !d.retired) ?? [])
const name = ref('')
const token = ref<NewToken | null>(null)
const refusalsOf = ref<Device | null>(null)
const { data: refusals } = useQuery({
  queryKey: computed(() => ['refusals', refusalsOf.value?.id]),
  queryFn: () => ok(api.GET('/api/devices/{id}/refusals', { params: { path: { id: refusalsOf.value!.id } } })),
  enabled: computed(() => refusalsOf.value !== null),
})
const again = () => client.invalidateQueries({ queryKey: ['devices'] })

async function add() {
  const t = await run(() => ok(api.POST('/api/devices', { body: { name: name.value, cook_id: null } })))
  if (!t) return
  token.value = t
  name.value = ''
  await again()
}
async function renew(d: Device) {
  const t = await run(() => ok(api.POST('/api/devices/{id}/token', { params: { path: { id: d.id } } })))
  if (t) token.value = { ...t, device: d }
  await again()
}
async function retire(d: Device) {
  await run(() => ok(api.POST('/api/devices/{id}/retire', { params: { path: { id: d.id } } })))
  await again()
}
const example = computed(
  () => `curl -X POST ${location.origin}/api/devices/readings \\
  -H 'Authorization: Bearer ${token.value?.token}' \\
  -H 'Content-Type: text/csv' \\
  --data '1,pit,,250,F'`,
)
/** A clock that is off by less than this is right enough. */
const skewed = (d: Device) => d.skew_s !== null && Math.abs(d.skew_s) > 30
const off = (s: number) => {
  const a = Math.abs(Math.round(s))
  const n = a < 120 ? `${a} s` : a < 7200 ? `${Math.round(a / 60)} min` : `${Math.round(a / 3600)} h`
  return `${n} ${s > 0 ? 'ahead' : 'behind'}`
}
</script>

<template>
  <div v-if="pitsAsked && devicesAsked && holdersAsked && burnsAsked" class="page stack">
    <h1>Pits, holders and devices</h1>
    <p v-if="!mine" class="soot small">Changed by the pitmaster, and by whom he trusts with pits.</p>
    <section class="pits">
      <PitCard v-for="p in pits" :key="p.id" :pit="p" :burn="burns?.find((b) => b.pit_id === p.id)" />
      <form v-if="mine" class="row add" @submit.prevent="addPit">
        <div class="field">
          <label for="pit-name">Name of a new pit</label
          ><InputText id="pit-name" v-model="pit" placeholder="Brick Pit" data-field="name" />
        </div>
        <Button type="submit" label="Add the pit" outlined :disabled="!pit.trim()" />
      </form>
    </section>
    <p class="small soot">
      What a set-up does is asked without meat:
      <RouterLink to="/trials/new?template=set-ups">burn two set-ups beside each other</RouterLink>.
    </p>
    <section class="pits">
      <article v-for="h in holders" :key="h.id" class="board pit">
        <h2>{{ h.name }}</h2>
        <RouterLink :to="`/pits/holders/${h.id}`" :aria-label="`What it really holds: ${h.name}`"
          >What it really holds</RouterLink
        >
        <label class="small soot row"
          >holder, takes
          <InputText
            class="mono-input takes"
            :disabled="!mine"
            :model-value="h.capacity === null ? '' : String(h.capacity)"
            placeholder="any"
            :aria-label="`Cuts that ${h.name} takes`"
            @change="setHolder(h, ($event.target as HTMLInputElement).value, h.lowest_typed)"
          />
          cuts</label
        >
        <label class="small soot row"
          >dial goes down to
          <InputText
            class="mono-input lowest"
            :disabled="!mine"
            :model-value="h.lowest_c === null ? '' : typedTemperature({ c: h.lowest_c, typed: h.lowest_typed })"
            placeholder="not said"
            data-field="lowest"
            :aria-label="`Lowest that the dial of ${h.name} goes to`"
            @change="
              setHolder(h, h.capacity === null ? '' : String(h.capacity), ($event.target as HTMLInputElement).value)
            "
          />
        </label>
      </article>
      <form v-if="mine" class="row add" @submit.prevent="addHolder">
        <div class="field">
          <label for="holder-name">Name of a new holder</label
          ><InputText id="holder-name" v-model="holder" placeholder="Dry cooler" />
        </div>
        <Button type="submit" label="Add it" outlined :disabled="!holder.trim()" />
      </form>
    </section>
    <h2>Devices</h2>
    <p class="small">
      A device sends the readings of its probes and scales over the network, each with a number of its own, until the
      barn says it has them. Nothing sent twice counts twice.
    </p>
    <ProblemNote :problem="problem" />
    <div v-if="inUse.length" class="scroll-x">
      <table data-testid="devices">
        <thead>
          <tr>
            <th>Device</th>
            <th class="right">Last minute</th>
            <th class="right">Last number</th>
            <th>Last heard</th>
            <th>Clock</th>
            <th>Refused</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in inUse" :key="d.id">
            <td>
              <b>{{ d.name }}</b>
              <div v-if="d.restarts" class="soot small anew" data-testid="restarts">
                Its numbers began anew {{ d.restarts === 1 ? 'once' : `${d.restarts} times` }}, last on
                {{ dateTime(d.restarted_at!) }}. Nothing is lost.
              </div>
            </td>
            <td class="num right">{{ d.readings }}</td>
            <td class="num right">{{ d.last_sequence }}</td>
            <td class="num">{{ d.last_seen ? dateTime(d.last_seen) : 'not yet' }}</td>
            <td>
              <span v-if="d.cook_id !== null" class="soot">its cook's</span>
              <span v-else-if="skewed(d)" class="warn">{{ off(d.skew_s!) }}</span>
              <span v-else class="soot">{{ d.skew_s === null ? 'not said' : 'right' }}</span>
            </td>
            <td>
              <Button v-if="d.refused" size="small" text :label="`${d.refused}, see why`" @click="refusalsOf = d" />
              <span v-else class="soot">none</span>
            </td>
            <td class="row">
              <template v-if="isPitmaster && d.cook_id === null">
                <Button size="small" outlined label="New token" :disabled="busy" @click="renew(d)" />
                <Button size="small" text label="Retire" :disabled="busy" @click="retire(d)" />
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="devices" class="soot">No device yet.</p>
    <form v-if="isPitmaster" class="row add" @submit.prevent="add">
      <div class="field">
        <label for="device-name">Name of a new device</label
        ><InputText id="device-name" v-model="name" placeholder="Brick Pit gateway" />
      </div>
      <Button type="submit" label="Add it" :loading="busy" :disabled="!name.trim()" />
    </form>
    <FamilyTable />

    <Dialog
      :visible="token !== null"
      modal
      :header="token?.device.name"
      :style="{ width: 'min(680px, 96vw)' }"
      @update:visible="token = null"
    >
      <p>Give the device this token. It is shown only now; a new one can be made at any time.</p>
      <p class="num token" data-testid="token">{{ token?.token }}</p>
      <p class="small">A first reading, from any machine on this network:</p>
      <pre class="num">{{ example }}</pre>
    </Dialog>
    <Dialog
      :visible="refusalsOf !== null"
      modal
      :header="`What ${refusalsOf?.name} sent that could not be used`"
      :style="{ width: 'min(820px, 96vw)' }"
      @update:visible="refusalsOf = null"
    >
      <table>
        <tbody>
          <tr v-for="r in refusals" :key="r.seq">
            <td class="num">{{ r.seq > 0 ? r.seq : '' }}</td>
            <td class="num small">{{ r.text }}</td>
            <td>{{ r.reason }}</td>
          </tr>
        </tbody>
      </table>
    </Dialog>
  </div>
</template>

<style scoped>
.anew {
  max-width: 15em;
  white-space: normal;
}
.lowest {
  width: 116px;
}
.takes {
  width: 64px;
}
.pits {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 380px), 1fr));
  gap: 12px;
}
.pit {
  padding: 12px 16px;
  min-width: 0;
}
.add {
  align-items: end;
  align-content: end;
}
.token {
  font-size: 19px;
  font-weight: 700;
  overflow-wrap: anywhere;
  padding: 8px 0;
}
pre {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  background: var(--trough);
  padding: 12px;
}
.warn {
  padding: 2px 6px;
}
</style>
