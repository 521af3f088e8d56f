<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import type { Field } from '../api/schema.gen'
import { emptyOf, fromShown, toShown, unitShown, type Value } from './value'
import { system } from '../ui/settings'

/** One field of a calculation, whatever its kind; lists and groups hold fields of their own. */
const { field, path } = defineProps<{ field: Field; path: string }>()
const value = defineModel<Value>({ required: true })
const id = computed(() => `f-${path.replaceAll('.', '-')}`)
const inner = computed(() => field.fields[0]!)
/** A list of plain numbers or words is typed in one line. */
const plain = computed(() => field.kind === 'list' && ['number', 'whole number', 'text'].includes(inner.value.kind))
const rows = computed(() => (Array.isArray(value.value) ? value.value : []))
const group = computed(() => (value.value ?? {}) as Record<string, Value>)
const flat = computed(
  () =>
    inner.value?.kind === 'group' &&
    inner.value.fields.every((f) => !['list', 'group', 'table'].includes(f.kind) || f.fields[0]?.kind === 'text'),
)

const shown = (v: Value) => (v === null || v === undefined ? '' : Array.isArray(v) ? v.join(', ') : String(v))
// What is typed stays as it is typed; only another's change is written over it.
const text = ref('')
const typing = ref(false)
watch([value, system], () => typing.value || (text.value = shown(toShown(field.unit, value.value))), {
  immediate: true,
})
function put(text: string) {
  if (field.kind === 'text') value.value = text
  else if (text.trim() === '') value.value = field.optional ? null : ''
  else value.value = fromShown(field.unit, Number(text.replace(',', '.')))
}
function putList(text: string) {
  const parts = text.split(/[,;\s]+/).filter(Boolean)
  value.value =
    inner.value.kind === 'text'
      ? text
          .split(',')
          .map((t) => t.trim())
          .filter(Boolean)
      : parts.map(Number)
}
const set = (name: string, v: Value) => (value.value = { ...group.value, [name]: v })
const setRow = (i: number, v: Value) => (value.value = rows.value.map((r, j) => (j === i ? v : r)))
const setCell = (i: number, name: string, v: Value) => setRow(i, { ...(rows.value[i] as object), [name]: v })
const cell = (i: number, name: string) => ((rows.value[i] ?? {}) as Record<string, Value>)[name] ?? null
const entries = computed(() => Object.entries(group.value))
function rename(from: string, to: string) {
  value.value = Object.fromEntries(entries.value.map(([k, v]) => [k === from ? to : k, v]))
}
</script>

<template>
  <div v-if="field.kind === 'group'" class="group">
    <h2 v-if="field.label">{{ field.label }}</h2>
    <div class="fields">
      <FieldInput
        v-for="f in field.fields"
        :key="f.name"
        :field="f"
        :path="`${path}.${f.name}`"
        :model-value="group[f.name] ?? null"
        @update:model-value="(v: Value) => set(f.name, v)"
      />
    </div>
  </div>
  <div v-else-if="field.kind === 'list' && !plain" class="list">
    <h2>{{ field.label }}</h2>
    <div v-if="flat" class="scroll-x">
      <table>
        <thead>
          <tr>
            <th v-for="f in inner.fields" :key="f.name">{{ f.label }} {{ unitShown(f.unit) }}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(_, i) in rows" :key="i">
            <td v-for="f in inner.fields" :key="f.name">
              <FieldInput
                class="bare"
                :field="{ ...f, label: '' }"
                :path="`${path}.${i}.${f.name}`"
                :model-value="cell(i, f.name)"
                :aria-label="`${f.label} ${i + 1}`"
                @update:model-value="(v: Value) => setCell(i, f.name, v)"
              />
            </td>
            <td><Button label="Drop" size="small" text @click="value = rows.filter((_, j) => j !== i)" /></td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-for="(r, i) in rows" v-else :key="i" class="item">
      <FieldInput
        :field="{ ...inner, label: inner.kind === 'group' ? `${i + 1}` : '' }"
        :path="`${path}.${i}`"
        :model-value="r"
        @update:model-value="(v: Value) => setRow(i, v)"
      />
      <Button label="Drop" size="small" text @click="value = rows.filter((_, j) => j !== i)" />
    </div>
    <div><Button label="Another" size="small" outlined @click="value = [...rows, emptyOf(inner)]" /></div>
  </div>
  <div v-else-if="field.kind === 'table'" class="list">
    <h2>{{ field.label }} {{ field.unit }}</h2>
    <div v-for="[k, v] in entries" :key="k" class="row">
      <InputText :model-value="k" aria-label="Name" @change="rename(k, ($event.target as HTMLInputElement).value)" />
      <InputText
        class="mono-input narrow"
        :model-value="shown(v)"
        :aria-label="k"
        @change="set(k, Number(($event.target as HTMLInputElement).value))"
      />
    </div>
    <div><Button label="Another" size="small" outlined @click="set(`item ${entries.length + 1}`, 0)" /></div>
  </div>
  <label v-else-if="field.kind === 'yes or no'" class="yes"
    ><Checkbox :model-value="!!value" binary :input-id="id" @update:model-value="(v: boolean) => (value = v)" />
    {{ field.label }}</label
  >
  <div v-else class="field">
    <label v-if="field.label" :for="id"
      >{{ field.label }}{{ unitShown(field.unit) ? `, ${unitShown(field.unit)}` : '' }}</label
    >
    <Select
      v-if="field.kind === 'choice'"
      :model-value="value as string"
      :label-id="id"
      :options="field.choices"
      :aria-label="field.label || field.name"
      @update:model-value="(v: string) => (value = v)"
    />
    <InputText
      v-else-if="plain"
      :id="id"
      class="mono-input"
      :model-value="shown(value)"
      :aria-label="field.label || field.name"
      @change="putList(($event.target as HTMLInputElement).value)"
    />
    <InputText
      v-else
      :id="id"
      v-model="text"
      :class="{ 'mono-input': field.kind !== 'text' }"
      :inputmode="field.kind === 'text' ? 'text' : 'decimal'"
      :placeholder="field.optional ? 'not known' : ''"
      :aria-label="field.label || field.name"
      @focus="typing = true"
      @blur="typing = false"
      @update:model-value="(t) => put(t ?? '')"
    />
  </div>
</template>

<style scoped>
h2 {
  font-size: 17px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 10px 14px;
  align-items: end;
}
.group,
.list {
  display: flex;
  flex-direction: column;
  gap: 8px;
  grid-column: 1 / -1;
}
.item {
  display: flex;
  gap: 8px;
  align-items: end;
}
.item > :first-child {
  flex: 1;
}
.field :deep(input),
.field :deep(.p-select) {
  width: 100%;
  min-width: 0;
}
.narrow {
  width: 120px;
}
td .field {
  min-width: 84px;
}
td:first-child .field {
  min-width: 150px;
}
.yes {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
}
</style>
