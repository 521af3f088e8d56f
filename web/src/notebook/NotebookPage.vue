<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Page } from '../api/schema.gen'
import MeatFields from '../gate/MeatFields.vue'
import PickOrType from '../ui/PickOrType.vue'
import DayInput from '../ui/DayInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import RemoveButton from '../ui/RemoveButton.vue'
import { blankCut, blankPage, columns, fit, tasted } from './page'

/** A page of an old notebook, written up as a trial. */
const client = useQueryClient()
const router = useRouter()
const { run, busy, problem } = useAct()
const page = reactive<Page>(blankPage())
const { data: catalogue } = useQuery({ queryKey: ['catalogue'], queryFn: () => ok(api.GET('/api/catalogue')) })
const { data: pits } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
const factors = computed(() => (catalogue.value?.factors ?? []).map((f) => f.name))
const levels = computed(
  () => catalogue.value?.factors.find((f) => f.name === page.factor)?.levels.map((l) => l.value) ?? [],
)
const arms = computed(() => page.arms.map((a, i) => ({ label: a.tag || `arm ${i + 1}`, value: i })))
const meat = computed({
  get: () => ({ species: page.species, handling: page.handling, whole_bird: false }),
  set: (m) => {
    page.species = m.species
    page.handling = m.handling
  },
})
// What a product cooks like is known of one that the barn has.
watch(
  () => page.product,
  (name) => {
    const known = catalogue.value?.products.find((p) => p.name.toLowerCase() === name.trim().toLowerCase())
    if (known) page.family = known.family
  },
)
const outcomes = computed(() =>
  (catalogue.value?.outcomes ?? []).filter((o) => (tasted as readonly string[]).includes(o.key)),
)
const filled = computed(() => page.cuts.filter((c) => c.name.trim()).length)
function another() {
  page.cuts.push(blankCut(page.cuts.at(-1), page.arms.length))
}
function setScore(cut: Page['cuts'][number], key: string, text: string | undefined) {
  const n = Number((text ?? '').trim())
  if (!text?.trim() || Number.isNaN(n)) delete cut.scores[key]
  else cut.scores[key] = n
}
async function write() {
  const made = await run(() => ok(api.POST('/api/notebook', { body: fit(page) })))
  if (!made) return
  await client.invalidateQueries()
  await router.push(`/trials/${made.id}/settle`)
}
</script>

<template>
  <form class="page stack" @submit.prevent="write">
    <div class="row head">
      <h1>Write up an old cook</h1>
      <Button type="submit" class="push" :loading="busy" data-testid="write-up"
        >Write up {{ filled }} {{ filled === 1 ? 'cut' : 'cuts' }}</Button
      >
    </div>
    <p class="soot">
      It becomes a trial whose codes are open, marked as written up later. It teaches the house how much cuts differ; it
      never says more than leaning, and never what another day would show. Leave empty what was not noted.
    </p>
    <ProblemNote :problem="problem" />
    <div class="field wide">
      <label for="nb-question">What was asked</label
      ><InputText
        id="nb-question"
        v-model="page.question"
        data-field="question"
        placeholder="Foil or bare, in the old drum?"
      />
    </div>
    <div class="row">
      <div class="field">
        <label for="nb-product">Product</label
        ><InputText id="nb-product" v-model="page.product" data-field="product" placeholder="lamb shoulder" />
      </div>
      <div class="field">
        <label for="nb-family">Cooks like</label
        ><Select
          v-model="page.family"
          label-id="nb-family"
          :options="catalogue?.families ?? []"
          option-label="name"
          option-value="key"
          placeholder="not said"
        />
      </div>
      <div class="field">
        <label for="nb-cut">One piece is a</label
        ><InputText id="nb-cut" v-model="page.cut" data-field="cut" placeholder="shoulder" class="short" />
      </div>
      <div class="field">
        <span class="label">of</span><span class="meat"><MeatFields v-model="meat" /></span>
      </div>
    </div>
    <div class="row">
      <div class="field">
        <label for="nb-day">Day of the table</label><DayInput v-model="page.day" input-id="nb-day" field="day" />
      </div>
      <div class="field">
        <label for="nb-serve">Served at</label
        ><InputText id="nb-serve" v-model="page.serve" data-field="serve" placeholder="18:00" class="clock" />
      </div>
      <div class="field">
        <label for="nb-pit">Pit</label
        ><PickOrType
          v-model="page.pit"
          input-id="nb-pit"
          label="Pit"
          :options="(pits ?? []).map((p) => p.name)"
          data-field="pit"
        />
      </div>
      <div class="field">
        <label for="nb-set">Set to</label
        ><InputText id="nb-set" v-model="page.set_point" data-field="set_point" placeholder="250 F" class="clock" />
      </div>
    </div>
    <h2>What was varied</h2>
    <div class="row">
      <div class="field">
        <label for="nb-factor">Factor</label
        ><PickOrType v-model="page.factor" input-id="nb-factor" label="Factor" :options="factors" data-field="factor" />
      </div>
      <div v-for="(a, i) in page.arms" :key="i" class="arm" :data-field="`arms[${i}]`">
        <div class="field">
          <label :for="`nb-tag-${i}`">Arm {{ i + 1 }}, tag</label
          ><InputText :id="`nb-tag-${i}`" v-model="a.tag" class="clock" :data-field="`arms[${i}].tag`" />
        </div>
        <div class="field">
          <label :for="`nb-level-${i}`">Level</label
          ><PickOrType
            v-model="a.level"
            :input-id="`nb-level-${i}`"
            :label="`Level of arm ${i + 1}`"
            :options="levels"
            :data-field="`arms[${i}].level`"
          />
        </div>
        <RemoveButton v-if="page.arms.length > 2" :what="`Take arm ${i + 1} out`" @click="page.arms.splice(i, 1)" />
      </div>
      <Button
        v-if="page.arms.length < 6"
        type="button"
        label="Another arm"
        outlined
        size="small"
        @click="page.arms.push({ tag: '', level: '', control: false })"
      />
    </div>
    <h2>Cuts</h2>
    <div class="scroll" tabindex="0" role="region" aria-label="Cuts">
      <table>
        <thead>
          <tr>
            <th>Cut</th>
            <th>Arm</th>
            <th>Pair</th>
            <th v-for="col in columns" :key="col.field">{{ col.head }}</th>
            <th v-for="o in outcomes" :key="o.key">{{ o.name }}, 1 to 9</th>
            <th><span class="sr">Take out</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(c, i) in page.cuts" :key="i">
            <td>
              <InputText
                v-model="c.name"
                :aria-label="`Cut ${i + 1}, name`"
                :data-field="`cuts[${i}].name`"
                class="tiny"
              />
            </td>
            <td>
              <Select
                v-model="c.arm"
                :options="arms"
                option-label="label"
                option-value="value"
                :aria-label="`Cut ${i + 1}, arm`"
                :data-field="`cuts[${i}].arm`"
              />
            </td>
            <td><InputText v-model="c.pair" :aria-label="`Cut ${i + 1}, pair`" class="tiny" /></td>
            <td v-for="col in columns" :key="col.field">
              <InputText
                v-model="c[col.field]"
                :aria-label="`Cut ${i + 1}, ${col.said}`"
                :data-field="`cuts[${i}].${col.field}`"
                :class="col.size"
                :placeholder="i === 0 ? col.hint : ''"
              />
            </td>
            <td v-for="o in outcomes" :key="o.key">
              <InputText
                :model-value="String(c.scores[o.key] ?? '')"
                :aria-label="`Cut ${i + 1}, ${o.name}`"
                :data-field="`cuts[${i}].scores.${o.key}`"
                inputmode="numeric"
                class="tiny"
                @update:model-value="(v) => setScore(c, o.key, v)"
              />
            </td>
            <td>
              <RemoveButton
                v-if="page.cuts.length > 2"
                :what="`Take cut ${i + 1} out`"
                @click="page.cuts.splice(i, 1)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p><Button type="button" label="Another cut" outlined data-testid="another-cut" @click="another" /></p>
    <p class="soot small">
      A time is the last one of that clock before what followed it; with its day, write 2024-08-16 22:00.
    </p>
    <div class="field wide">
      <label for="nb-notes">What else stands there</label
      ><textarea id="nb-notes" v-model="page.notes" rows="3" class="notes" />
    </div>
  </form>
</template>

<style scoped>
.head {
  align-items: baseline;
}
.wide {
  max-width: 44rem;
}
.arm {
  display: flex;
  gap: 8px;
  align-items: end;
}
.row {
  align-items: end;
}
.meat {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.notes {
  padding: 10px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
}
.scroll {
  overflow-x: auto;
}
td,
th {
  padding: 3px 6px 3px 0;
}
.tiny {
  width: 4.2rem;
}
.clock {
  width: 5.6rem;
}
.weight {
  width: 7rem;
}
.short {
  width: 11rem;
}
.sr {
  position: absolute;
  left: -999px;
}
</style>
