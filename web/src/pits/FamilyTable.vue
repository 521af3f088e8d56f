<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Families, Family } from '../api/schema.gen'
import { useSession } from '../session/session'
import { useKept } from '../ui/kept'
import ProblemNote from '../ui/ProblemNote.vue'
import { length, weight } from '../ui/units'
import { Numbers } from '../ui/number'

/** The kinds of cuts the cook model knows, and the barn's own. */
const client = useQueryClient()
const { isPitmaster } = useSession()
const { data } = useQuery({ queryKey: ['families'], queryFn: () => ok(api.GET('/api/families')) })
const rows = computed(() => [
  ...(data.value?.own ?? []).map((f) => ({ f, own: true })),
  ...(data.value?.model ?? []).map((f) => ({ f, own: false })),
])
const { run, busy, problem } = useAct()

const like = ref<Family | null>(null)
const lines = [
  ['mass_kg', 'Usual weight, kg'],
  ['half_thickness_m', 'Half thickness, mm'],
  ['shape', 'Shape: 0 slab, 1 cylinder, 2 ball'],
  ['lean', 'Lean, %'],
  ['fat', 'Fat, %'],
  ['bone', 'Bone, %'],
  ['collagen', 'Toughness, brisket is 1'],
] as const
type Line = (typeof lines)[number][0]
const scale: Partial<Record<Line, number>> = { half_thickness_m: 1000, lean: 100, fat: 100, bone: 100 }
const typed = reactive({ name: '' } as Record<Line | 'name', string>)
const base = ref('')
const written = computed(() => like.value && { like: like.value, typed: { ...typed } })
const { restore, letGo } = useKept('Pits', () => 'family', written, base)
const was = restore()
if (was) {
  like.value = was.like
  Object.assign(typed, was.typed)
}
function leave() {
  letGo()
  like.value = null
}
function open(f: Family, own: boolean) {
  like.value = f
  typed.name = own ? f.name : ''
  for (const [key] of lines) typed[key] = String(Math.round(f[key] * (scale[key] ?? 1) * 1000) / 1000)
  base.value = JSON.stringify(written.value)
}
function set(v: Families | undefined) {
  if (!v) return
  client.setQueryData(['families'], v)
  leave()
}
async function keep() {
  const body = { ...like.value!, name: typed.name }
  const n = new Numbers()
  for (const [key] of lines) body[key] = n.of(key, typed[key]) / (scale[key] ?? 1)
  if (n.problem) return void (problem.value = n.problem)
  set(await run(() => ok(api.POST('/api/families', { body }))))
}
async function retire(f: Family) {
  set(await run(() => ok(api.POST('/api/families/{key}/retire', { params: { path: { key: f.key } } }))))
}
const share = (v: number) => Math.round(v * 100)
const shapeOf = (s: number) => (s < 0.3 ? 'slab' : s < 0.8 ? 'flat' : s < 1.3 ? 'round' : 'ball')
</script>

<template>
  <h2>Families of cuts</h2>
  <p class="small">
    How the cook model sees a kind of cut: forecasts, plans and rehearsals start from these numbers. A trial's Ask says
    which family its product cooks like; the catalogue keeps it for the next trial.
  </p>
  <ProblemNote v-if="!like" :problem="problem" />
  <div class="scroll-x">
    <table v-if="data" data-testid="families">
      <thead>
        <tr>
          <th>Family</th>
          <th class="right">Usual weight</th>
          <th class="right">Thick</th>
          <th>Shape</th>
          <th class="right">Lean, fat, bone %</th>
          <th class="right">Toughness</th>
          <th>Numbers</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ f, own } in rows" :key="f.key">
          <td>
            <b>{{ f.name }}</b>
          </td>
          <td class="num right">{{ weight(f.mass_kg) }}</td>
          <td class="num right">{{ length(2 * f.half_thickness_m) }}</td>
          <td>{{ shapeOf(f.shape) }}</td>
          <td class="num right">{{ share(f.lean) }}, {{ share(f.fat) }}, {{ share(f.bone) }}</td>
          <td class="num right">{{ f.collagen }}</td>
          <td class="soot">{{ own ? 'yours' : f.checked ? 'checked' : 'by analogy' }}</td>
          <td class="row">
            <template v-if="isPitmaster">
              <Button size="small" text :label="own ? 'Change' : 'Add one like it'" @click="open(f, own)" />
              <Button v-if="own" size="small" text label="Retire" :disabled="busy" @click="retire(f)" />
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="data" class="small soot">{{ data.source }}.</p>
  <Dialog
    :visible="like !== null"
    modal
    :header="`A family like ${like?.name}`"
    :style="{ width: 'min(560px, 96vw)' }"
    @update:visible="leave"
  >
    <form class="stack" @submit.prevent="keep">
      <ProblemNote :problem="problem" />
      <div class="field">
        <label for="family-name">Name, as its product is called</label
        ><InputText id="family-name" v-model="typed.name" data-field="name" placeholder="goat shoulder" />
      </div>
      <div class="grid">
        <div v-for="[key, words] in lines" :key="key" class="field">
          <label :for="`family-${key}`">{{ words }}</label><InputText
            :id="`family-${key}`"
            v-model="typed[key]"
            class="mono-input"
            inputmode="decimal"
          />
        </div>
      </div>
      <Button type="submit" label="Save" :loading="busy" />
    </form>
  </Dialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
