<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { NewPerson } from '../api/schema.gen'
import { useSession } from '../session/session'
import { lettersOn } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { hours } from '../ui/time'
import { mark, system } from '../ui/units'
import SafetyLines from './SafetyLines.vue'
import TasterRecord from './TasterRecord.vue'

const client = useQueryClient()
const { session, isPitmaster, person } = useSession()
/** Whose tasting is shown; theirs and the pitmaster's. */
const tasting = ref<number | null>(null)
const { data: people, isFetched: peopleAsked } = useQuery({
  queryKey: ['people'],
  queryFn: () => ok(api.GET('/api/people')),
})
const { data: network, isFetched: networkAsked } = useQuery({
  queryKey: ['lan'],
  queryFn: () => ok(api.GET('/api/lan')),
})
const secure = window.isSecureContext
const hand = reactive<NewPerson>({ name: '', role: 'crew', sign_in: '', password: '' })
const adding = useAct()
const saving = useAct()
const opening = useAct()
const saved = ref(false)
const barn = reactive({ name: '', time_zone: '', elevation_m: 0, guests: false })
watch(
  () => session.value?.barn,
  (b) => b && Object.assign(barn, b),
  { immediate: true },
)

/** Guests are let in or not; what is typed above is not saved with it. */
async function letIn(guests: boolean) {
  const was = session.value!.barn!
  const done = await opening.run(async () => {
    await ok(api.PUT('/api/barn', { body: { ...was, guests } }))
    return true
  })
  if (done) await client.invalidateQueries({ queryKey: ['session'] })
}
const pick = { optionLabel: 'label', optionValue: 'value', allowEmpty: false }
const clocks = [
  { label: '24 h, 18:05', value: '24' },
  { label: '12 h, 6:05 pm', value: '12' },
]
const marks = [
  { label: 'point, 1.5', value: '.' },
  { label: 'comma, 1,5', value: ',' },
]
const systems = [
  { label: 'F lb', value: 'F' },
  { label: 'C kg', value: 'C' },
]

async function add() {
  const p = await adding.run(() =>
    ok(api.POST('/api/people', { body: { ...hand, sign_in: hand.sign_in || hand.name } })),
  )
  if (!p) return
  Object.assign(hand, { name: '', sign_in: '', password: '' })
  await client.invalidateQueries({ queryKey: ['people'] })
}

async function save() {
  saved.value = false
  const done = await saving.run(async () => {
    await ok(api.PUT('/api/barn', { body: { ...barn, elevation_m: Number(barn.elevation_m) } }))
    return true
  })
  if (done) {
    saved.value = true
    await client.invalidateQueries({ queryKey: ['session'] })
  }
}
</script>

<template>
  <div v-if="peopleAsked && networkAsked" class="page stack">
    <h1>Crew</h1>
    <table>
      <thead>
        <tr>
          <th>Name</th>
          <th>Role</th>
          <th>Signs in as</th>
          <th>Tasting</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in people" :key="p.id">
          <td>
            <b>{{ p.name }}</b>
          </td>
          <td>{{ p.role }}</td>
          <td class="num">{{ p.sign_in }}</td>
          <td>
            <Button
              v-if="isPitmaster || person?.id === p.id"
              size="small"
              text
              :label="tasting === p.id ? 'Close' : 'Record'"
              :aria-label="`${tasting === p.id ? 'Close' : 'Record'}: how ${p.name} tastes`"
              :data-testid="`record-${p.name}`"
              @click="tasting = tasting === p.id ? null : p.id"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <TasterRecord v-if="tasting !== null" :key="tasting" :person="tasting" />
    <form v-if="isPitmaster" class="stack" @submit.prevent="add">
      <h2>Add a person</h2>
      <ProblemNote :problem="adding.problem.value" />
      <div class="row">
        <div class="field">
          <label for="hand-name">Name</label><InputText id="hand-name" v-model="hand.name" data-field="name" />
        </div>
        <div class="field">
          <label for="hand-role">Role</label
          ><Select v-model="hand.role" label-id="hand-role" :options="['crew', 'pitmaster']" />
        </div>
        <div class="field">
          <label for="hand-sign">Sign-in name</label
          ><InputText
            id="hand-sign"
            v-model="hand.sign_in"
            data-field="sign_in"
            :placeholder="hand.name"
            autocomplete="off"
          />
        </div>
        <div class="field">
          <label for="hand-pass">Password, 10 or more</label
          ><InputText
            id="hand-pass"
            v-model="hand.password"
            data-field="password"
            type="password"
            autocomplete="new-password"
          />
        </div>
        <Button type="submit" label="Add" :loading="adding.busy.value" />
      </div>
    </form>
    <form v-if="isPitmaster" class="stack" @submit.prevent="save">
      <h2>The barn</h2>
      <ProblemNote :problem="saving.problem.value" />
      <div class="row">
        <div class="field"><label for="barn-name">Name</label><InputText id="barn-name" v-model="barn.name" /></div>
        <div class="field">
          <label for="barn-zone">Time zone</label
          ><InputText id="barn-zone" v-model="barn.time_zone" data-field="time_zone" />
        </div>
        <div class="field">
          <label for="barn-high">Metres above the sea</label
          ><InputText
            id="barn-high"
            v-model="barn.elevation_m as unknown as string"
            inputmode="numeric"
            class="mono-input"
          />
        </div>
        <Button type="submit" label="Save" outlined :loading="saving.busy.value" />
        <span v-if="saved" class="check" role="status">saved</span>
      </div>
    </form>
    <SafetyLines />
    <section v-if="network" class="stack" data-testid="lan">
      <h2>Phones and tablets</h2>
      <template v-if="network.on">
        <div class="row wide">
          <img :src="`/api/lan/qr.png`" width="160" height="160" :alt="`Code of ${network.trust[0]}`" />
          <div class="stack">
            <p>
              A phone learns to trust this barn at <b class="num">{{ network.trust[0] }}</b>; then it opens
              <b class="num">{{ network.sites[0] }}</b>, keeps its screen awake, tells of alarms and works while the
              barn is out of reach.
            </p>
            <p class="small">
              Compare the fingerprint on both screens:<br /><span class="num print">{{ network.fingerprint }}</span>
            </p>
          </div>
        </div>
        <div v-if="isPitmaster" class="stack tight">
          <ProblemNote :problem="opening.problem.value" />
          <label class="row"
            ><Checkbox :model-value="session?.barn?.guests" binary data-testid="guests" @update:model-value="letIn" />
            Guests open their ballots without a certificate</label
          >
          <p class="small">
            Their codes then lead to <b class="num">{{ network.guests[0] }}</b>, which answers ballots alone. It is not
            encrypted: somebody on this network could read or change a ballot on its way. A ballot that is open keeps
            and resends what is tapped; it cannot be opened while the barn is out of reach. All else stays behind HTTPS.
          </p>
        </div>
      </template>
      <p v-else>
        White Barn answers on this machine alone. Start it with <b class="num">make run LAN=1</b> to let the phones and
        tablets of the local network in, over HTTPS with a certificate of its own.
      </p>
      <p v-if="!secure" class="warn">
        Off on this address, since it is not a secure one: keeping the screen awake, notices of alarms, and opening
        White Barn while it is out of reach.
      </p>
    </section>
    <section class="stack" aria-labelledby="mine">
      <h2 id="mine">For you, on this device</h2>
      <div class="row">
        <SelectButton v-model="hours" :options="clocks" v-bind="pick" aria-label="Clock" data-testid="hours" />
        <SelectButton v-model="mark" :options="marks" v-bind="pick" aria-label="Decimal mark" data-testid="mark" />
        <SelectButton v-model="system" :options="systems" v-bind="pick" aria-label="Units" />
      </div>
      <label class="row"><Checkbox v-model="lettersOn" binary /> Single letters act as keys</label>
    </section>
  </div>
</template>

<style scoped>
.wide {
  align-items: flex-start;
  flex-wrap: nowrap;
}
.print {
  overflow-wrap: anywhere;
}
@media (max-width: 900px) {
  .wide {
    flex-wrap: wrap;
  }
}
</style>
