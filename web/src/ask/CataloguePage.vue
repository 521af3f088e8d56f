<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Catalogue, CatalogueFactor, Factor } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { newFactor, offered } from './ask'

const client = useQueryClient()
const { isPitmaster } = useSession()
const { data: catalogue } = useQuery({ queryKey: ['catalogue'], queryFn: () => ok(api.GET('/api/catalogue')) })
const { run, problem } = useAct()
const own = reactive<Factor>(newFactor())
const level = reactive<Record<number, string>>({})
const into = reactive<Record<number, number>>({})

async function act(call: () => Promise<Catalogue>) {
  const c = await run(call)
  if (c) client.setQueryData(['catalogue'], c)
  return c !== undefined
}
async function add() {
  if (await act(() => ok(api.POST('/api/catalogue/factors', { body: { ...own } })))) own.name = ''
}
async function addLevel(f: CatalogueFactor) {
  const done = await act(() =>
    ok(
      api.POST('/api/catalogue/factors/{id}/levels', {
        params: { path: { id: f.id } },
        body: { value: level[f.id] ?? '' },
      }),
    ),
  )
  if (done) level[f.id] = ''
}
const retire = (f: CatalogueFactor) =>
  act(() =>
    ok(
      api.POST('/api/catalogue/factors/{id}/retire', {
        params: { path: { id: f.id } },
        body: { retired: !f.retired },
      }),
    ),
  )
const retireLevel = (id: number, retired: boolean) =>
  act(() => ok(api.POST('/api/catalogue/levels/{id}/retire', { params: { path: { id } }, body: { retired } })))
const merge = (f: CatalogueFactor) =>
  act(() =>
    ok(
      api.POST('/api/catalogue/factors/{id}/merge', {
        params: { path: { id: f.id } },
        body: { into: into[f.id] ?? 0 },
      }),
    ),
  )
/** What levels of the team's own may count as, and which do not say it yet. */
const keysOf = (f: CatalogueFactor) => vocabulary.roles.find((r) => r.role === f.role)?.keys ?? []
const ownLevels = (f: CatalogueFactor) => f.levels.filter((l) => l.own && !l.retired)
const isLevel = reactive<Record<number, string>>({})
const choices = (f: CatalogueFactor, id: number) => [
  ...keysOf(f).map((k) => ({ label: `counts as: ${k.words}`, value: `key ${k.key}` })),
  ...f.levels
    .filter((l) => l.id !== id && !l.retired)
    .map((l) => ({ label: `the same as: ${l.value}`, value: `into ${l.id}` })),
]
const countsAs = (f: CatalogueFactor, key: string) => keysOf(f).find((k) => k.key === key)?.words
async function settle(id: number) {
  const [what, to] = (isLevel[id] ?? '').split(' ')
  const path = { params: { path: { id } } }
  const done = await act(() =>
    what === 'into'
      ? ok(api.POST('/api/catalogue/levels/{id}/merge', { ...path, body: { into: Number(to) } }))
      : ok(api.PUT('/api/catalogue/levels/{id}/key', { ...path, body: { key: to ?? '' } })),
  )
  if (done) isLevel[id] = ''
}
const likes = (id: number, family: string) =>
  act(() => ok(api.PUT('/api/catalogue/products/{id}', { params: { path: { id } }, body: { family } })))
const shown = computed(() => catalogue.value?.factors.filter((f) => f.merged_into === null) ?? [])
const others = (f: CatalogueFactor) => offered(catalogue.value).filter((o) => o.id !== f.id)
const merged = (f: CatalogueFactor) =>
  catalogue.value?.factors.filter((o) => o.merged_into === f.id).map((o) => o.name) ?? []
</script>

<template>
  <div class="page stack">
    <div>
      <h1>What can vary</h1>
      <p class="soot">
        What is asked with is kept here for the next trial. Retired ones are no longer offered; trials keep the words
        they were asked with.
      </p>
    </div>
    <ProblemNote :problem="problem" />
    <form v-if="isPitmaster" class="row" @submit.prevent="add">
      <InputText v-model="own.name" placeholder="a thing of your own" aria-label="New factor" />
      <Select
        v-model="own.set_on"
        :options="vocabulary.set_on"
        option-label="words"
        option-value="key"
        aria-label="It is set on"
        data-testid="own-set-on"
      />
      <Select
        v-model="own.kind"
        :options="vocabulary.factor_kinds"
        option-label="words"
        option-value="key"
        aria-label="Its levels are"
      />
      <InputText v-if="own.kind === 'numeric'" v-model="own.unit" placeholder="unit" aria-label="Unit" class="unit" />
      <Button type="submit" label="Add it" data-testid="add-own-factor" />
    </form>
    <table>
      <thead>
        <tr>
          <th>Factor</th>
          <th>set on</th>
          <th class="right">trials</th>
          <th>Levels, tap to retire or bring back</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in shown" :key="f.id" :class="{ retired: f.retired }" :data-testid="`factor-${f.name}`">
          <td>
            <b>{{ f.name }}</b><span v-if="f.unit" class="soot small"> in {{ f.unit }}</span>
            <p v-if="merged(f).length" class="small soot">also {{ merged(f).join(', ') }}</p>
          </td>
          <td class="small">{{ f.set_on }}</td>
          <td class="right num">{{ f.used }}</td>
          <td>
            <details :open="f.levels.length < 4">
              <summary>
                {{ f.levels.filter((l) => !l.retired).length }}
                {{ f.levels.length === 1 ? 'level' : 'levels' }}
              </summary>
              <div class="levels">
                <button
                  v-for="l in f.levels"
                  :key="l.id"
                  type="button"
                  :class="{ gone: l.retired }"
                  :disabled="!isPitmaster"
                  :title="l.used ? `in ${l.used} arms` : 'not used yet'"
                  @click="retireLevel(l.id, !l.retired)"
                >
                  {{ l.value }}
                </button>
                <form v-if="isPitmaster && !f.retired" class="row tight" @submit.prevent="addLevel(f)">
                  <InputText
                    v-model="level[f.id]"
                    size="small"
                    class="new"
                    placeholder="another"
                    :aria-label="`New level of ${f.name}`"
                  />
                  <Button type="submit" label="Add" size="small" text :aria-label="`Add the level to ${f.name}`" />
                </form>
              </div>
            </details>
            <div v-if="isPitmaster && ownLevels(f).length" class="own">
              <form v-for="l in ownLevels(f)" :key="l.id" class="row tight" @submit.prevent="settle(l.id)">
                <span class="small"
                  >“{{ l.value }}”<template v-if="countsAs(f, l.key)">
                    counts as {{ countsAs(f, l.key) }}</template
                  ></span
                >
                <Select
                  v-model="isLevel[l.id]"
                  :options="choices(f, l.id)"
                  option-label="label"
                  option-value="value"
                  size="small"
                  placeholder="your own word"
                  :aria-label="`What “${l.value}” of ${f.name} is`"
                  :data-testid="`level-${l.value}`"
                />
                <Button v-if="isLevel[l.id]" type="submit" label="Save" size="small" outlined />
              </form>
            </div>
          </td>
          <td>
            <div v-if="isPitmaster" class="row tight">
              <Button :label="f.retired ? 'Bring back' : 'Retire'" size="small" text @click="retire(f)" />
              <template v-if="f.own && !f.retired">
                <Select
                  v-model="into[f.id]"
                  :options="others(f)"
                  option-label="name"
                  option-value="id"
                  size="small"
                  placeholder="is the same as"
                  :aria-label="`${f.name} is the same as`"
                  :data-testid="`into-${f.name}`"
                />
                <Button v-if="into[f.id]" label="Merge" size="small" outlined @click="merge(f)" />
              </template>
            </div>
          </td>
        </tr>
      </tbody>
    </table>
    <section v-if="catalogue?.products.length" class="stack tight" data-testid="products">
      <h2>What is cooked</h2>
      <p class="soot">
        What a product cooks like is said once: plans, forecasts and rehearsals of all its trials go by it.
      </p>
      <div v-for="p in catalogue.products" :key="p.id" class="row">
        <b class="product">{{ p.name }}</b>
        <span class="soot small num trials">{{ p.used }} {{ p.used === 1 ? 'trial' : 'trials' }}</span>
        <Select
          :model-value="p.family"
          :options="catalogue.families"
          option-label="name"
          option-value="key"
          size="small"
          placeholder="not said: taken for a shoulder"
          :aria-label="`What ${p.name} cooks like`"
          :disabled="!isPitmaster"
          @update:model-value="(v: string) => likes(p.id, v)"
        />
      </div>
    </section>
  </div>
</template>

<style scoped>
.right {
  text-align: right;
}
.unit {
  width: 80px;
}
.product {
  width: 180px;
}
.trials {
  width: 80px;
}
.levels {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.levels button:not(.p-button) {
  border: var(--line) solid var(--edge);
  border-radius: var(--r-1);
  background: var(--board);
  padding: 4px 8px;
  min-height: 32px;
  cursor: pointer;
}
.own {
  display: flex;
  flex-direction: column;
  gap: 4px;
  padding-top: 6px;
}
.gone,
.retired {
  color: var(--soot);
  text-decoration: line-through;
}
.retired .p-button {
  text-decoration: none;
}
.tight {
  gap: 4px;
  flex-wrap: nowrap;
}
.new {
  width: 110px;
}
@media (max-width: 900px) {
  table,
  tbody,
  tr,
  td {
    display: block;
  }
  thead {
    display: none;
  }
}
</style>
