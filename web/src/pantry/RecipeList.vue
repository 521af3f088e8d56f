<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import { recipeViewKindValues, type PantryView, type RecipeView } from '../api/schema.gen'
import { useKept } from '../ui/kept'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, ounceG, poundKg, withWeightUnit } from '../ui/units'
import { grams } from '../prep/dose'

/** Rubs, binders, brines and the like, by weight; scaled to what is wanted. */
const { pantry } = defineProps<{ mine: boolean; pantry: PantryView }>()
const emit = defineEmits<{ took: [PantryView | undefined] }>()
const { run, problem } = useAct()
interface Draft {
  id: number
  name: string
  kind: RecipeView['kind']
  lines: { ingredient_id: number; amount: string }[]
}
const open = ref<Draft | null>(null)
const base = ref('')
const { restore, letGo } = useKept('Pantry', () => 'recipe', open, base)
open.value = restore()
const wanted = ref<Record<number, string>>({})
const name = (id: number) => pantry.ingredients.find((i) => i.id === id)?.name ?? 'something no longer kept'
function edit(r: RecipeView | null) {
  open.value = r
    ? {
        id: r.id,
        name: r.name,
        kind: r.kind,
        lines: r.lines.map((l) => ({ ingredient_id: l.ingredient_id, amount: l.typed })),
      }
    : { id: 0, name: '', kind: 'rub', lines: [{ ingredient_id: pantry.ingredients[0]?.id ?? 0, amount: '' }] }
  base.value = JSON.stringify(open.value)
}
async function keep() {
  const d = open.value!
  const body = {
    name: d.name,
    kind: d.kind,
    lines: d.lines.map((l) => ({ ...l, amount: withWeightUnit(l.amount) })),
  }
  const v = await run(() =>
    d.id === 0
      ? ok(api.POST('/api/recipes', { body }))
      : ok(api.PUT('/api/recipes/{id}', { params: { path: { id: d.id } }, body })),
  )
  if (v) close()
  emit('took', v)
}
function close() {
  letGo()
  open.value = null
}
async function retire(id: number) {
  emit('took', await run(() => ok(api.POST('/api/recipes/{id}/retire', { params: { path: { id } } }))))
  close()
}
/** Grams wanted of a recipe; a bare number is grams. */
function scaled(r: RecipeView): number {
  const m = /^([\d.,]+)\s*(g|kg|oz|lb)?$/i.exec((wanted.value[r.id] ?? '').trim())
  if (!m) return r.lines.reduce((s, l) => s + l.g, 0)
  const per = { g: 1, kg: 1000, oz: ounceG, lb: 1000 * poundKg }[(m[2] ?? 'g').toLowerCase()]!
  return Number(m[1]!.replace(',', '.')) * per
}
</script>

<template>
  <section class="stack">
    <h2>Recipes</h2>
    <ProblemNote :problem="problem" />
    <div class="cards">
      <article v-for="r in pantry.recipes" :key="r.id" class="card" :data-testid="`recipe-${r.name}`">
        <div class="row">
          <h3>{{ r.name }}</h3>
          <span class="small soot">{{ r.kind }}</span>
          <Button
            v-if="mine"
            class="push"
            label="Change"
            size="small"
            text
            :aria-label="`Change ${r.name}`"
            @click="edit(r)"
          />
        </div>
        <label class="row small"
          >For
          <InputText
            v-model="wanted[r.id]"
            class="mono-input want"
            :placeholder="grams(scaled(r))"
            :aria-label="`How much ${r.name}`"
        /></label>
        <p v-for="l in r.kilo.lines" :key="l.name" class="line">
          <b class="num">{{ grams((l.g * scaled(r)) / 1000) }}</b> {{ l.name }}
        </p>
        <p class="small soot">
          {{ fixed(100 * r.kilo.salt_fraction, 1) }} % salt, {{ fixed((r.kilo.cost_cents * scaled(r)) / 1e5, 2) }} in
          all{{ r.kilo.without_price.length ? ` without ${r.kilo.without_price.join(', ')}` : ''
          }}{{ r.kilo.allergens.length ? `; ${r.kilo.allergens.join(', ')}` : '' }}
        </p>
      </article>
      <article v-if="open" class="card open">
        <form class="stack" data-testid="recipe-form" @submit.prevent="keep">
          <div class="row">
            <InputText v-model="open.name" placeholder="what you call it" aria-label="Name of the recipe" />
            <Select v-model="open.kind" :options="[...recipeViewKindValues]" aria-label="Kind of recipe" />
          </div>
          <div v-for="(l, i) in open.lines" :key="i" class="row parts">
            <Select
              v-model="l.ingredient_id"
              :options="pantry.ingredients"
              option-label="name"
              option-value="id"
              filter
              :aria-label="`Ingredient ${i + 1}`"
            />
            <InputText
              v-model="l.amount"
              class="mono-input want"
              placeholder="4 oz"
              :aria-label="`Amount of ${name(l.ingredient_id)}`"
            />
            <Button type="button" label="Drop" size="small" text @click="open.lines.splice(i, 1)" />
          </div>
          <div class="row">
            <Button
              type="button"
              label="Another ingredient"
              size="small"
              outlined
              @click="open.lines.push({ ingredient_id: pantry.ingredients[0]!.id, amount: '' })"
            />
          </div>
          <div class="row">
            <Button type="submit" label="Save the recipe" size="small" />
            <Button type="button" label="Leave it" size="small" text @click="close" />
            <Button v-if="open.id" type="button" label="No longer used" size="small" text @click="retire(open.id)" />
          </div>
        </form>
      </article>
    </div>
    <div v-if="!open && mine"><Button label="Another recipe" outlined @click="edit(null)" /></div>
  </section>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 16px 28px;
}
.card {
  border-top: var(--line-strong) solid var(--ink);
  padding-top: 6px;
}
.card.open {
  grid-column: span 2;
}
.want {
  width: 110px;
}
.line .num {
  display: inline-block;
  min-width: 76px;
}
.parts {
  flex-wrap: nowrap;
}
.parts :deep(.p-select) {
  flex: 1;
  min-width: 0;
}
@media (max-width: 900px) {
  .card.open {
    grid-column: auto;
  }
}
</style>
