<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { ingredientKindValues, type Ingredient, type PantryView } from '../api/schema.gen'
import { useKept } from '../ui/kept'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, poundKg } from '../ui/units'
import RecipeList from './RecipeList.vue'
import { weights } from '../ui/settings'
import { Numbers } from '../ui/number'

/** What the barn keeps: salts, spices, liquids, woods, fuels and wraps, with price, density and allergens. */
const client = useQueryClient()
const { mayWith } = useSession()
const mine = computed(() => mayWith('pantry'))
const { data: pantry } = useQuery({ queryKey: ['pantry'], queryFn: () => ok(api.GET('/api/pantry')) })
const { run, problem } = useAct()
interface Draft {
  id: number
  name: string
  kind: Ingredient['kind']
  price: string
  pack: string
  density: string
  salt: string
  allergens: string
}
const open = ref<Draft | null>(null)
const empty = (): Draft => ({
  id: 0,
  name: '',
  kind: 'spice',
  price: '',
  pack: '',
  density: '',
  salt: '',
  allergens: '',
})
const edit = (i: Ingredient): Draft => ({
  id: i.id,
  name: i.name,
  kind: i.kind,
  price: i.price_cents === null ? '' : fixed(i.price_cents / 100, 2),
  pack: i.pack_typed,
  density: i.density === null ? '' : String(i.density),
  salt: i.salt_share ? String(Math.round(i.salt_share * 1000) / 10) : '',
  allergens: i.allergens.join(', '),
})
const base = ref('')
const { restore, letGo } = useKept('Pantry', () => 'ingredient', open, base)
open.value = restore()
function begin(d: Draft | null) {
  base.value = JSON.stringify(d)
  open.value = d
}
function leave() {
  letGo()
  open.value = null
}
function took(v: PantryView | undefined) {
  if (!v) return
  client.setQueryData(['pantry'], v)
  void client.invalidateQueries({ queryKey: ['prep'] })
  leave()
}
async function keep() {
  const d = open.value!
  const n = new Numbers()
  const price = n.of('price_cents', d.price, null)
  const body = {
    name: d.name,
    kind: d.kind,
    price_cents: price === null ? null : Math.round(price * 100),
    pack: d.pack,
    density: n.of('density', d.density, null),
    salt_share: n.of('salt_share', d.salt) / 100,
    allergens: d.allergens.split(','),
  }
  if (n.problem) return void (problem.value = n.problem)
  took(
    await run(() =>
      d.id === 0
        ? ok(api.POST('/api/ingredients', { body }))
        : ok(api.PUT('/api/ingredients/{id}', { params: { path: { id: d.id } }, body })),
    ),
  )
}
const retire = async (id: number) =>
  took(await run(() => ok(api.POST('/api/ingredients/{id}/retire', { params: { path: { id } } }))))
const perUnit = (i: Ingredient) => {
  if (i.price_cents === null || !i.pack_g) return ''
  const unit = weights.value === 'lb' ? 1000 * poundKg : 1000
  return `${fixed((i.price_cents / 100 / i.pack_g) * unit, 2)} a ${weights.value === 'lb' ? 'lb' : 'kg'}`
}
</script>

<template>
  <div class="page stack">
    <div class="row">
      <h1>Pantry</h1>
      <span class="soot"
        >Prices count in every cost, densities in every spoon, allergens in what tasters are told.</span
      >
    </div>
    <p v-if="!mine" class="soot small">Changed by the pitmaster, and by whom he trusts with the pantry.</p>
    <ProblemNote :problem="problem" />
    <RecipeList v-if="pantry" :pantry="pantry" :mine="mine" @took="took" />
    <h2>Ingredients</h2>
    <form v-if="open" class="edit board" data-testid="ingredient" @submit.prevent="keep">
      <div class="field">
        <label for="ing-name">Name</label><InputText id="ing-name" v-model="open.name" data-field="name" />
      </div>
      <div class="field">
        <label for="ing-kind">Kind</label
        ><Select v-model="open.kind" label-id="ing-kind" :options="[...ingredientKindValues]" />
      </div>
      <div class="field">
        <label for="ing-pack">Pack</label
        ><InputText id="ing-pack" v-model="open.pack" data-field="pack" class="mono-input" placeholder="2 lb, 500 g" />
      </div>
      <div class="field">
        <label for="ing-price">Its price</label
        ><InputText
          id="ing-price"
          v-model="open.price"
          class="mono-input"
          placeholder="not known"
          inputmode="decimal"
        />
      </div>
      <div class="field">
        <label for="ing-density">g to the ml</label
        ><InputText
          id="ing-density"
          v-model="open.density"
          class="mono-input"
          placeholder="not known"
          inputmode="decimal"
        />
      </div>
      <div class="field">
        <label for="ing-salt">Salt in it, %</label
        ><InputText
          id="ing-salt"
          v-model="open.salt"
          data-field="salt_share"
          class="mono-input"
          placeholder="0"
          inputmode="decimal"
        />
      </div>
      <div class="field wide">
        <label for="ing-all">Allergens</label
        ><InputText id="ing-all" v-model="open.allergens" data-field="allergens" placeholder="mustard, milk" />
      </div>
      <div class="row">
        <Button type="submit" label="Save" />
        <Button type="button" label="Leave it" text @click="leave" />
        <Button v-if="open.id" type="button" label="No longer kept" text @click="retire(open.id)" />
      </div>
    </form>
    <div v-else-if="mine"><Button label="Another ingredient" outlined @click="begin(empty())" /></div>
    <div v-if="pantry" class="scroll-x">
      <table data-testid="ingredients">
        <thead>
          <tr>
            <th>Name</th>
            <th>Kind</th>
            <th class="right">Pack</th>
            <th class="right">Price</th>
            <th class="right">Comes to</th>
            <th class="right">g/ml</th>
            <th class="right">Salt</th>
            <th>Allergens</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in pantry.ingredients" :key="i.id">
            <td>
              <b>{{ i.name }}</b>
            </td>
            <td>{{ i.kind }}</td>
            <td class="num right">{{ i.pack_typed }}</td>
            <td class="num right">{{ i.price_cents === null ? '' : fixed(i.price_cents / 100, 2) }}</td>
            <td class="num right">{{ perUnit(i) }}</td>
            <td class="num right">{{ i.density ?? '' }}</td>
            <td class="num right">{{ i.salt_share ? `${Math.round(i.salt_share * 1000) / 10} %` : '' }}</td>
            <td>{{ i.allergens.join(', ') }}</td>
            <td class="right">
              <Button
                v-if="mine"
                label="Change"
                size="small"
                text
                :aria-label="`Change ${i.name}`"
                @click="begin(edit(i))"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.edit {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px 14px;
  align-items: end;
}
.wide {
  grid-column: span 2;
}
.edit :deep(input),
.edit :deep(.p-select) {
  width: 100%;
}
td {
  padding-top: 2px;
  padding-bottom: 2px;
}
</style>
