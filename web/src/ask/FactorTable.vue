<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import RadioButton from 'primevue/radiobutton'
import Select from 'primevue/select'
import type { Ask } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import PickOrType from '../ui/PickOrType.vue'
import { vocabulary } from '../api/vocabulary.gen'
import { known, newFactor, newLevel, offered, useAskForm } from './ask'
import RemoveButton from '../ui/RemoveButton.vue'

/** Arms as rows, what is varied as columns. */
const { ask, catalogue, shut } = useAskForm()

/** What another factor does not vary already. */
const names = (n: number) =>
  offered(catalogue.value)
    .filter((f) => !ask.kind || f.set_on === 'pit run')
    .map((f) => f.name)
    .filter((name) => ask.factors.every((f, i) => i === n || f.name !== name))
const levelsOf = (f: number) =>
  known(catalogue.value, ask.factors[f]!.name)
    ?.levels.filter((l) => !l.retired)
    .map((l) => l.value) ?? []

/** A factor of the catalogue brings its role, kind, unit and what it is set on. */
function named(f: number) {
  const factor = ask.factors[f]!
  const k = known(catalogue.value, factor.name ?? '')
  Object.assign(
    factor,
    k ? { id: k.id, role: k.role, kind: k.kind, unit: k.unit, set_on: k.set_on } : { id: 0, role: '' },
  )
}
/** A level that is typed over is another: what the one before counted as goes with it. */
function setLevel(arm: Ask['arms'][number], f: number, value: string) {
  if (arm.levels[f]!.value !== value) arm.levels[f] = newLevel(value)
}
function addFactor() {
  ask.factors.push(newFactor(ask.kind))
  ask.arms.forEach((a) => a.levels.push(newLevel()))
}
function dropFactor(f: number) {
  ask.factors.splice(f, 1)
  ask.arms.forEach((a) => a.levels.splice(f, 1))
}
function addArm() {
  ask.arms.push({ id: 0, tag: '', levels: ask.factors.map(() => newLevel()), control: false })
}
function control(i: number) {
  ask.arms.forEach((a, n) => (a.control = n === i))
}
</script>

<template>
  <section>
    <div class="row">
      <h2>What is varied</h2>
      <RouterLink to="/catalogue" class="small push">The catalogue of what can vary</RouterLink>
    </div>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th class="who">Arm, and its tag</th>
            <th v-for="(f, n) in ask.factors" :key="n" class="factor">
              <div class="row nowrap">
                <PickOrType
                  v-model="f.name"
                  :options="names(n)"
                  :input-id="`factor${n}`"
                  :data-field="`factors[${n}].name`"
                  :label="`What is varied, ${n + 1}`"
                  placeholder="wrap"
                  class="name"
                  :disabled="shut"
                  @change="named(n)"
                />
                <RemoveButton
                  v-if="ask.factors.length > 1"
                  :what="`Vary ${f.name || 'it'} no longer`"
                  @click="dropFactor(n)"
                />
              </div>
              <div class="row nowrap set">
                <Select
                  v-model="f.set_on"
                  :options="vocabulary.set_on"
                  option-label="words"
                  option-value="key"
                  size="small"
                  :aria-label="`${f.name} is set on`"
                  :disabled="shut"
                />
                <Select
                  v-model="f.kind"
                  :options="vocabulary.factor_kinds"
                  option-label="words"
                  option-value="key"
                  size="small"
                  :aria-label="`${f.name} is told`"
                  :disabled="shut"
                />
                <InputText
                  v-if="f.kind === 'numeric'"
                  v-model="f.unit"
                  :data-field="`factors[${n}].unit`"
                  size="small"
                  class="unit"
                  placeholder="F"
                  :aria-label="`Unit of ${f.name}`"
                />
              </div>
            </th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(a, i) in ask.arms" :key="i" :data-testid="`arm-${i}`">
            <td>
              <div class="row nowrap">
                <ArmToken :place="i" />
                <InputText
                  :id="`tag${i}`"
                  v-model="a.tag"
                  :data-field="`arms[${i}].tag`"
                  class="mono-input tag"
                  maxlength="7"
                  :placeholder="['BARE', 'PAPER', 'PAN', 'FOIL', 'LOW', 'HIGH'][i]"
                  :aria-label="`Tag of arm ${i + 1}, 2 to 7 letters`"
                />
              </div>
            </td>
            <td v-for="(f, n) in ask.factors" :key="n">
              <div class="row nowrap">
                <PickOrType
                  :model-value="a.levels[n]!.value"
                  :options="levelsOf(n)"
                  :input-id="`level${i}-${n}`"
                  :label="`${f.name || 'Level'} in arm ${i + 1}`"
                  class="level"
                  :disabled="shut"
                  @update:model-value="(v: string) => setLevel(a, n, v)"
                />
                <span v-if="f.kind === 'numeric'" class="soot">{{ f.unit }}</span>
              </div>
            </td>
            <td>
              <div class="row nowrap">
                <label class="row nowrap control"
                  ><RadioButton
                    :model-value="a.control"
                    :value="true"
                    :disabled="shut"
                    :input-id="`control${i}`"
                    @click="control(i)"
                  />
                  <span>today's practice</span></label
                >
                <RemoveButton
                  v-if="ask.arms.length > 1"
                  :what="`Take ${a.tag || 'this arm'} out`"
                  @click="ask.arms.splice(i, 1)"
                />
              </div>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row">
      <Button
        v-if="ask.arms.length < 6"
        label="Add an arm"
        size="small"
        outlined
        data-testid="add-arm"
        @click="addArm"
      />
      <Button
        v-if="ask.factors.length < 5"
        label="Vary another thing"
        size="small"
        outlined
        data-testid="add-factor"
        @click="addFactor"
      />
    </div>
  </section>
</template>

<style scoped>
section {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.scroll {
  overflow-x: auto;
}
.nowrap {
  flex-wrap: nowrap;
  gap: 8px;
}
.who {
  width: 150px;
}
.factor {
  min-width: 232px;
  vertical-align: top;
}
.factor .row:first-child {
  color: var(--ink);
  font-size: var(--t-md);
}
.name :deep(input) {
  font-weight: 700;
}
.set {
  gap: 4px;
  padding: 4px 0;
}
.unit {
  width: 52px;
}
.level {
  width: 100%;
  min-width: 150px;
}
.tag {
  text-transform: uppercase;
  font-weight: 700;
  width: 108px;
}
.control {
  font-size: var(--t-sm);
  white-space: nowrap;
}
@media (max-width: 900px) {
  table,
  thead,
  tbody,
  tr,
  th,
  td {
    display: block;
  }
  .who {
    display: none;
  }
  td {
    padding: 4px 0;
  }
  .factor {
    padding-bottom: 8px;
  }
}
</style>
