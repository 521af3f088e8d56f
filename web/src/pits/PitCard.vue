<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { BurnView, Pit } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import LastBurn from './LastBurn.vue'
import { useKept } from '../ui/kept'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { weightHint, weightKeys, withWeightUnit } from '../ui/units'
import { Numbers } from '../ui/number'

/** A pit: what it is, its grate, and what it burns; empty is the usual of its kind or what its log shows. */
const { mayWith } = useSession()
const { pit, burn = undefined } = defineProps<{ pit: Pit; burn?: BurnView | undefined }>()
const client = useQueryClient()
const { run, problem } = useAct()
const kindWords = (key: string) => vocabulary.pit_kinds.find((k) => k.key === key)?.words ?? key
const open = ref(false)
const shown = (v: number) => (v ? String(Math.round(v / 60)) : '')
const asKept = () => ({
  kind: pit.kind,
  warm: shown(pit.burn.warm_s),
  fuel: pit.burn.fuel,
  fuel_hour: pit.burn.fuel_typed,
  lighting: pit.burn.lighting_typed,
  wood: shown(pit.burn.wood_every_s),
  water_hour: pit.burn.water_typed,
  piece: pit.burn.piece_typed,
  vents: pit.vents.join(', '),
  capacity: [...pit.capacity.map((l) => ({ ...l, number: String(l.number) })), { piece: '', way: '', number: '' }],
})
const draft = ref(asKept())
const base = ref(JSON.stringify(draft.value))
const { restore, letGo } = useKept('Pits', () => `pit ${pit.id}`, draft, base)
const was = restore()
if (was) {
  draft.value = was
  open.value = true
}
function edit() {
  draft.value = asKept()
  base.value = JSON.stringify(draft.value)
  open.value = true
}
function shutForm() {
  letGo()
  draft.value = JSON.parse(base.value) as ReturnType<typeof asKept>
  open.value = false
}
/** A last empty line waits for the next piece. */
function more() {
  const all = draft.value.capacity
  if (all[all.length - 1]!.piece.trim()) all.push({ piece: '', way: '', number: '' })
}
async function keep() {
  const d = draft.value
  const n = new Numbers()
  const numbers = {
    warm_min: n.of('warm_min', d.warm),
    wood_min: n.of('wood_min', d.wood),
    capacity: d.capacity.map((l, i) => ({ ...l, number: Math.round(n.of(`capacity[${i}].number`, l.number)) })),
  }
  if (n.problem) return void (problem.value = n.problem)
  const v = await run(() =>
    ok(
      api.PUT('/api/pits/{id}/burn', {
        params: { path: { id: pit.id } },
        body: {
          ...numbers,
          kind: d.kind,
          fuel: d.fuel,
          fuel_hour: withWeightUnit(d.fuel_hour),
          lighting: withWeightUnit(d.lighting),
          water_hour: withWeightUnit(d.water_hour),
          piece: withWeightUnit(d.piece),
          vents: d.vents.split(','),
        },
      }),
    ),
  )
  if (!v) return
  client.setQueryData(['pits'], v)
  base.value = JSON.stringify(draft.value)
  shutForm()
}
</script>

<template>
  <article class="board pit" :class="{ open }">
    <div class="row">
      <h2>{{ pit.name }}</h2>
      <Button
        v-if="!open && mayWith('pits')"
        class="push"
        label="What it burns"
        size="small"
        text
        :aria-label="`What it burns: ${pit.name}`"
        @click="edit"
      />
    </div>
    <p class="small soot">
      {{ kindWords(pit.kind) }}, grate <b class="num">{{ pit.grate_columns }}</b> across,
      <b class="num">{{ pit.grate_rows }}</b> deep
    </p>
    <p v-if="!open" class="small">
      {{ pit.burn.fuel || 'usual fuel'
      }}{{ pit.burn.fuel_typed ? `, ${pit.burn.fuel_typed} an hour at 250 F` : ', usual rate' }}
    </p>
    <p v-if="!open && pit.capacity.length" class="small">
      Takes
      <template v-for="(l, i) in pit.capacity" :key="i"
        >{{ i ? ', ' : '' }}<b class="num">{{ l.number }}</b> {{ l.piece }}{{ l.way ? ` ${l.way}` : '' }}</template
      >
    </p>
    <p v-if="!open && pit.used" class="small" data-testid="used-as">
      Used as <RouterLink :to="`/trials/${pit.used.trial_id}/settle`">{{ pit.used.tag }}</RouterLink>: lit
      <b class="num">{{ pit.used.lead_min }} min</b> before, refuel every
      <b class="num">{{ pit.used.refuel_min === null ? '–' : Math.round(pit.used.refuel_min) }} min</b>,
      <b class="num">{{ pit.used.places.filter((s) => s.within_5_f).length }}</b> of {{ pit.used.places.length }} places
      near set
    </p>
    <LastBurn v-if="burn && !open" :burn="burn" :columns="pit.grate_columns" />
    <p v-else-if="!open" class="small soot">Never lit by the log yet.</p>
    <form v-if="open" class="edit" @submit.prevent="keep">
      <ProblemNote :problem="problem" />
      <div class="field">
        <label :for="`kind${pit.id}`">What it is</label
        ><Select
          v-model="draft.kind"
          :label-id="`kind${pit.id}`"
          :options="vocabulary.pit_kinds"
          option-label="words"
          option-value="key"
        />
      </div>
      <div class="field">
        <label :for="`fuel${pit.id}`">Fuel</label
        ><InputText :id="`fuel${pit.id}`" v-model="draft.fuel" placeholder="hornbeam splits" />
      </div>
      <div class="field">
        <label :for="`hour${pit.id}`">An hour at 250 F</label
        ><InputText
          :id="`hour${pit.id}`"
          v-model="draft.fuel_hour"
          class="mono-input"
          :inputmode="weightKeys()"
          :placeholder="weightHint()"
        />
      </div>
      <div class="field">
        <label :for="`light${pit.id}`">To light it</label
        ><InputText
          :id="`light${pit.id}`"
          v-model="draft.lighting"
          class="mono-input"
          :inputmode="weightKeys()"
          :placeholder="weightHint()"
        />
      </div>
      <div class="field">
        <label :for="`warm${pit.id}`">Stands after, min</label
        ><InputText :id="`warm${pit.id}`" v-model="draft.warm" class="mono-input" placeholder="from its log" />
      </div>
      <div class="field">
        <label :for="`wood${pit.id}`">Wood every, min</label
        ><InputText :id="`wood${pit.id}`" v-model="draft.wood" class="mono-input" placeholder="from its log" />
      </div>
      <div class="field">
        <label :for="`water${pit.id}`">Water an hour</label
        ><InputText
          :id="`water${pit.id}`"
          v-model="draft.water_hour"
          class="mono-input"
          :inputmode="weightKeys()"
          :placeholder="weightHint()"
        />
      </div>
      <div class="field">
        <label :for="`piece${pit.id}`">One piece of fuel weighs</label
        ><InputText
          :id="`piece${pit.id}`"
          v-model="draft.piece"
          class="mono-input"
          data-field="piece"
          :inputmode="weightKeys()"
          :placeholder="weightHint()"
        />
      </div>
      <div class="field">
        <label :for="`vents${pit.id}`">Its vents (comma between)</label
        ><InputText :id="`vents${pit.id}`" v-model="draft.vents" placeholder="intake left, intake right, chimney" />
      </div>
      <fieldset class="loads">
        <legend>What it takes at once</legend>
        <div v-for="(l, i) in draft.capacity" :key="i" class="row nowrap load">
          <InputText
            v-model="l.piece"
            placeholder="lamb shoulder"
            :data-field="`capacity[${i}].piece`"
            :aria-label="`Piece ${i + 1}`"
            @change="more"
          />
          <InputText v-model="l.way" placeholder="flat" :aria-label="`How piece ${i + 1} is loaded`" />
          <InputText
            v-model="l.number"
            class="mono-input number"
            inputmode="numeric"
            placeholder="12"
            :data-field="`capacity[${i}].number`"
            :aria-label="`How many of piece ${i + 1}`"
          />
        </div>
      </fieldset>
      <div class="row">
        <Button type="submit" label="Save" size="small" /><Button
          type="button"
          label="Leave it"
          size="small"
          text
          @click="shutForm"
        />
      </div>
    </form>
  </article>
</template>

<style scoped>
.pit.open {
  flex: 1 0 100%;
}
.edit {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px;
  align-items: end;
  padding-top: 10px;
}
.loads {
  border: 0;
  padding: 0;
  margin: 0;
  grid-column: 1 / -1;
  max-width: 560px;
}
.load {
  flex-wrap: nowrap;
  margin-top: 6px;
}
.load :deep(.number) {
  width: 72px;
  flex: none;
}
.edit :deep(input),
.edit :deep(.p-select) {
  width: 100%;
}
</style>
