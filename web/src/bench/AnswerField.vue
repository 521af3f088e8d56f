<script setup lang="ts">
import { computed } from 'vue'
import type { Field } from '../api/schema.gen'
import { read, toShown, unitShown, type Value } from './value'

/** One field of an answer: a number large, a list of alike things as a table. */
const { field, value } = defineProps<{ field: Field; value: Value }>()
const inner = computed(() => field.fields[0])
const rows = computed(() => (Array.isArray(value) ? value : []))
const group = computed(() => (value ?? {}) as Record<string, Value>)
function simple(v: Value): string {
  if (Array.isArray(v)) return v.map((x) => (Array.isArray(x) ? x.join(' ') : simple(x))).join(', ')
  if (typeof v === 'object' && v)
    return Object.entries(v)
      .map(([k, x]) => `${k}: ${simple(x)}`)
      .join('; ')
  return read(v)
}
const cell = (r: Value, name: string) => ((r ?? {}) as Record<string, Value>)[name] ?? null
/** A share is easier read in hundredths. */
const hundredths = computed(() =>
  typeof value === 'number' &&
  (/share|yield|loss|dryness|chance|pickup|retained/.test(field.label) || field.unit === 'share') &&
  Math.abs(value) <= 1.5
    ? `${read(Math.round(value * 1e4) / 100)} %`
    : '',
)
</script>

<template>
  <div v-if="field.kind === 'group' && value !== null" class="block">
    <h3>{{ field.label }}</h3>
    <AnswerField v-for="f in field.fields" :key="f.name" :field="f" :value="group[f.name] ?? null" />
  </div>
  <div v-else-if="field.kind === 'list' && inner?.kind === 'group'" class="block">
    <h3>{{ field.label }}</h3>
    <div class="scroll-x">
      <table>
        <thead>
          <tr>
            <th v-for="f in inner.fields" :key="f.name" :class="{ right: f.kind.includes('number') }">
              {{ f.label }} {{ unitShown(f.unit) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in rows" :key="i">
            <td v-for="f in inner.fields" :key="f.name" :class="{ 'num right': f.kind.includes('number') }">
              {{ simple(toShown(f.unit, cell(r, f.name))) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
  <p v-else-if="field.kind === 'list' && inner?.kind === 'list'" class="block">
    <span class="soot">{{ field.label }}</span>
    <span v-for="(r, i) in rows" :key="i" class="num line">{{ simple(r) }}</span>
  </p>
  <p v-else-if="field.kind === 'text'" class="text">{{ value }}</p>
  <p v-else class="answer" :data-answer="field.name">
    <span class="soot">{{ field.label }}</span>
    <b class="num">{{ simple(toShown(field.unit, value)) }}</b>
    <span class="unit">{{ unitShown(field.unit) }}</span>
    <span class="num soot">{{ hundredths }}</span>
  </p>
</template>

<style scoped>
.answer {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 44px 84px;
  gap: 8px;
  align-items: baseline;
  border-top: var(--line) solid var(--grain);
  padding: 4px 0;
}
.answer b {
  font-size: 20px;
  overflow-wrap: anywhere;
}
.block {
  padding: 8px 0;
}
.line {
  display: block;
}
.text:not(:empty) {
  padding: 6px 0;
}
</style>
