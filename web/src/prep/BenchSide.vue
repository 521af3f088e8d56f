<script setup lang="ts">
import Button from 'primevue/button'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { PrepView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, shortWeight } from '../ui/units'
import { grams } from './dose'

/** Beside the bench: allergens, what the fire takes, what to buy. */
const props = defineProps<{ prep: PrepView }>()
const { trial, set, shut } = useThisTrial()
const { run, problem } = useAct()
async function declare() {
  const ask = { ...trial.value.ask, allergens: [...trial.value.ask.allergens, ...props.prep.undeclared] }
  set(await run(() => ok(api.PUT('/api/trials/{id}/ask', { params: { path: { id: trial.value.id } }, body: ask }))))
}
const print = () => window.print()
</script>

<template>
  <section class="stack">
    <ProblemNote :problem="problem" />
    <h2>Allergens</h2>
    <p v-if="prep.allergens.length">
      In what is used: <b>{{ prep.allergens.join(', ') }}</b>.
    </p>
    <p v-else class="soot">None in what is used, as far as the pantry says.</p>
    <div v-if="prep.undeclared.length && !shut" class="warn row" data-testid="undeclared">
      <span>Tasters are not told of {{ prep.undeclared.join(', ') }}.</span>
      <Button label="Declare for all samples" size="small" outlined @click="declare" />
    </div>
    <template v-if="prep.wood.length">
      <h2>For the fire</h2>
      <p v-for="w in prep.wood" :key="`${w.cook_id}${w.pit}`">
        {{ w.pit }}: <template v-if="w.fuel_kg">{{ shortWeight(w.fuel_kg) }} {{ w.fuel }}, </template
        ><b class="num">{{ w.wood }}</b> of wood<template v-if="w.water_kg"
          >, {{ shortWeight(w.water_kg) }} water</template
        >
      </p>
    </template>
    <template v-if="prep.shopping.lines.length">
      <h2>Shopping list</h2>
      <table data-testid="shopping">
        <tbody>
          <tr v-for="b in prep.shopping.lines" :key="b.name">
            <td>{{ b.name }}</td>
            <td class="num right">{{ grams(b.need_g) }}</td>
            <td class="num right">{{ b.packs ? `${b.packs} ${b.packs === 1 ? 'pack' : 'packs'}` : '' }}</td>
            <td class="num right">{{ b.cost_cents ? fixed(b.cost_cents / 100, 2) : '' }}</td>
          </tr>
          <tr>
            <td><b>Together</b></td>
            <td />
            <td />
            <td class="num right">
              <b>{{ fixed(prep.shopping.cost_cents / 100, 2) }}</b>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <div class="row">
      <Button label="Print the bench list" outlined @click="print" />
      <RouterLink to="/pantry">Pantry</RouterLink>
    </div>
  </section>
</template>
