<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Catalogue, CatalogueFactor, Factor } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { offered } from './ask'

const client = useQueryClient()
const { isPitmaster } = useSession()
const { data: catalogue } = useQuery({ queryKey: ['catalogue'], queryFn: () => ok(api.GET('/api/catalogue')) })
const { run, problem } = useAct()
const own = reactive<Factor>({ name: '', kind: 'categorical', unit: '', set_on: 'cut' })
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
        :options="['cut', 'pit run', 'holder run', 'batch']"
        aria-label="It is set on"
        data-testid="own-set-on"
      />
      <Select v-model="own.kind" :options="['categorical', 'ordered', 'numeric']" aria-label="Its levels are" />
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
  </div>
</template>

<style scoped>
.right {
  text-align: right;
}
.unit {
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
