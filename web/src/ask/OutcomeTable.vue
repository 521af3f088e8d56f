<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'
import type { Ask, Chosen } from '../api/schema.gen'
import { useAskForm } from './ask'
import NumberInput from '../ui/NumberInput.vue'
import RemoveButton from '../ui/RemoveButton.vue'

/** What decides: the gate of each outcome, where it comes from, and its weight for each who it is for. */
const { ask, catalogue, shut } = useAskForm()

/** Where an outcome stands among those that are sent, which follow the catalogue. */
const placeOf = (key: string) => {
  const all = catalogue.value?.outcomes.map((o) => o.key) ?? []
  const at = (k: string) => (all.includes(k) ? all.indexOf(k) : all.length)
  return ask.outcomes.filter((o) => at(o.key) < at(key)).length
}
const chosen = (key: string) => ask.outcomes.find((o) => o.key === key)
/** What is offered: the usual, and of the others what is chosen. */
const offered = computed(() => catalogue.value?.outcomes.filter((o) => !o.more || chosen(o.key)) ?? [])
const others = computed(() => catalogue.value?.outcomes.filter((o) => o.more && !chosen(o.key)) ?? [])
const own = computed(() => ask.outcomes.filter((o) => o.own))
const earlier = computed(() => catalogue.value?.own.filter((o) => !chosen(o.key)) ?? [])
function toggle(key: string, smallest: number) {
  const at = ask.outcomes.findIndex((o) => o.key === key)
  if (at >= 0) ask.outcomes.splice(at, 1)
  else
    ask.outcomes.push({
      key,
      smallest_difference: smallest,
      source: "the barn's usual",
      exact: false,
      own: null,
    })
}
function measure(o?: Chosen) {
  const n = own.value.length
  ask.outcomes.push(
    o
      ? JSON.parse(JSON.stringify(o))
      : {
          key: `own new ${n}`,
          smallest_difference: 1,
          source: '',
          exact: false,
          own: { name: '', unit: '', better: 'up', sd: 1, tasted: false, low: '', high: '', look: false },
        },
  )
}
const drop = (o: Chosen) => ask.outcomes.splice(ask.outcomes.indexOf(o), 1)
const weight = (c: Ask['contexts'][number], key: string) => c.weights[key] ?? 0
function weigh(c: Ask['contexts'][number], key: string, v: number) {
  if (v) c.weights[key] = v
  else delete c.weights[key]
}
const unit = (u: string) => (u === '1 to 9' ? 'pts' : u.split(' ')[0])
const ways = (o: Chosen) => [
  { label: 'more is better', value: 'up' },
  { label: 'less is better', value: 'down' },
  ...(o.own!.tasted ? [{ label: 'described only', value: 'description' }] : []),
]
const ownKey = (o: Chosen) => `own ${o.own!.tasted ? 'tasted ' : ''}${o.own!.name.trim().toLowerCase()}`
</script>

<template>
  <section class="stack tight">
    <div>
      <h2>What decides</h2>
      <p class="soot small">
        Set the smallest difference that would change what you do: within it two arms are the same for your purposes.
        The weights, 0 to 10, say what counts for whom.
      </p>
    </div>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>Outcome</th>
            <th>matters from</th>
            <th>which comes from</th>
            <th title="Ranks or badly skewed values: judge by the small-sample method, exact sign flips">
              small-sample method
            </th>
            <th v-for="(c, i) in ask.contexts" :key="i" class="context">
              <InputText
                v-model="c.name"
                size="small"
                :data-field="`contexts[${i}].name`"
                :aria-label="`Who it is for, ${i + 1}`"
              />
              <RemoveButton :what="`Drop ${c.name}`" @click="ask.contexts.splice(i, 1)" />
              <InputText
                v-model="c.condition"
                size="small"
                placeholder="when, if not always"
                :data-field="`contexts[${i}].condition`"
                :aria-label="`When it is so, ${i + 1}`"
              />
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="o in offered" :key="o.key" :class="{ off: !chosen(o.key) }">
            <td>
              <label class="row nowrap">
                <Checkbox
                  :model-value="!!chosen(o.key)"
                  binary
                  :input-id="`o-${o.key}`"
                  :disabled="shut"
                  @update:model-value="toggle(o.key, o.smallest_difference)"
                />
                <span
                  >{{ o.name }}
                  <span class="soot small">{{
                    o.better === 'description' ? 'described only' : o.better === 'down' ? 'less is better' : ''
                  }}</span></span
                >
              </label>
            </td>
            <template v-if="chosen(o.key) && o.better !== 'description'">
              <td>
                <span class="row nowrap">
                  <NumberInput
                    v-model="chosen(o.key)!.smallest_difference"
                    live
                    zero="0"
                    :data-field="`outcomes[${placeOf(o.key)}].smallest_difference`"
                    class="mono-input number"
                    :aria-label="`Smallest difference that matters, ${o.name}`"
                  />
                  <span class="soot small">{{ unit(o.unit) }}</span>
                </span>
              </td>
              <td>
                <InputText
                  v-model="chosen(o.key)!.source"
                  size="small"
                  class="source"
                  :aria-label="`Where the difference of ${o.name} comes from`"
                />
              </td>
              <td>
                <Checkbox
                  v-model="chosen(o.key)!.exact"
                  binary
                  :disabled="shut"
                  :aria-label="`${o.name}: small-sample method, for ranks or skewed values`"
                />
              </td>
              <td v-for="(c, i) in ask.contexts" :key="i">
                <NumberInput
                  :model-value="weight(c, o.key)"
                  live
                  class="mono-input weight"
                  :aria-label="`Weight of ${o.name} for ${c.name}`"
                  @update:model-value="weigh(c, o.key, $event)"
                />
              </td>
            </template>
            <td v-else :colspan="3 + ask.contexts.length" />
          </tr>
          <tr v-for="(o, n) in own" :key="`own${n}`" :data-testid="`own-${n}`">
            <td>
              <div class="row nowrap">
                <InputText
                  v-model="o.own!.name"
                  size="small"
                  class="own"
                  placeholder="bone pull"
                  aria-label="Own measure"
                />
                <template v-if="o.own!.tasted">
                  <InputText
                    v-model="o.own!.low"
                    size="small"
                    class="end"
                    placeholder="1 is"
                    aria-label="What 1 stands for"
                    data-testid="own-low"
                  />
                  <InputText
                    v-model="o.own!.high"
                    size="small"
                    class="end"
                    placeholder="9 is"
                    aria-label="What 9 stands for"
                    data-testid="own-high"
                  />
                </template>
                <InputText
                  v-else
                  v-model="o.own!.unit"
                  size="small"
                  class="number"
                  placeholder="mm"
                  aria-label="Its unit"
                />
                <Select
                  v-model="o.own!.better"
                  size="small"
                  :options="ways(o)"
                  option-label="label"
                  option-value="value"
                  aria-label="Which way is better"
                  :disabled="shut"
                />
                <RemoveButton what="Measure it no longer" @click="drop(o)" />
              </div>
              <div class="row small">
                <label class="row nowrap"
                  ><Checkbox v-model="o.own!.tasted" binary :disabled="shut" :input-id="`tasted-${n}`" /> scored by
                  tasters, 1 to 9</label
                >
                <label v-if="o.own!.tasted" class="row nowrap"
                  ><Checkbox v-model="o.own!.look" binary :disabled="shut" :input-id="`look-${n}`" /> by eye, before
                  biting</label
                >
              </div>
            </td>
            <td>
              <NumberInput
                v-model="o.smallest_difference"
                live
                zero="0"
                class="mono-input number"
                aria-label="Smallest difference of the own measure"
              />
            </td>
            <td>
              <label class="row nowrap small"
                >cuts differ by
                <NumberInput
                  v-model="o.own!.sd"
                  live
                  zero="0"
                  class="mono-input number"
                  size="small"
                  aria-label="Spread of the own measure"
              /></label>
            </td>
            <td>
              <Checkbox v-model="o.exact" binary :disabled="shut" aria-label="Own measure: small-sample method" />
            </td>
            <td v-for="(c, i) in ask.contexts" :key="i">
              <NumberInput
                :model-value="weight(c, ownKey(o))"
                live
                class="mono-input weight"
                :aria-label="`Weight of ${o.own!.name} for ${c.name}`"
                @update:model-value="weigh(c, ownKey(o), $event)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row">
      <Button label="Measure something of your own" size="small" outlined data-testid="add-own" @click="measure()" />
      <Select
        v-if="others.length"
        :model-value="null"
        size="small"
        :options="others"
        option-label="name"
        placeholder="Taste something more"
        aria-label="Taste something more"
        data-testid="more-tasted"
        @update:model-value="(o) => o && toggle(o.key, o.smallest_difference)"
      />
      <Button
        v-for="o in earlier"
        :key="o.key"
        :label="`Measure ${o.own!.name} again`"
        size="small"
        outlined
        @click="measure(o)"
      />
      <Button
        label="Add who it is for"
        size="small"
        outlined
        data-testid="add-context"
        @click="ask.contexts.push({ name: '', condition: '', weights: {} })"
      />
    </div>
  </section>
</template>

<style scoped>
.tight {
  gap: 8px;
}
.scroll {
  overflow-x: auto;
}
.nowrap {
  flex-wrap: nowrap;
  gap: 8px;
}
td,
th {
  padding: 3px 8px 3px 0;
}
td:first-child {
  min-width: 158px;
}
.off {
  color: var(--soot);
}
:deep(.number) {
  width: 64px;
  text-align: right;
}
:deep(.weight) {
  width: 52px;
  text-align: right;
}
.end {
  width: 96px;
}
.source {
  width: 118px;
}
.own {
  width: 120px;
}
.context {
  white-space: nowrap;
}
.context :deep(input) {
  width: 100px;
}
</style>
