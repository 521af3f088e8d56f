<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, nextTick, onMounted, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, ok } from '../api/client'
import {
  detailFeelValues,
  detailLookValues,
  detailOfValues,
  detailTurnValues,
  detailWindValues,
  type CookView,
  type Detail,
  type Event,
} from '../api/schema.gen'
import { gratePositions } from '../ui/grate'
import { withTemperatureUnit } from '../ui/units'
import { asks, asksFirst, cutPlaces } from './acts'
import ChipRow from './ChipRow.vue'

/** What an act was done with: chips to tap, a few fields to type; each change counts at once. */
const { act, cook, detail, note } = defineProps<{ act: Event['act']; cook: CookView; detail: Detail; note: string }>()
const emit = defineEmits<{ change: [Detail, string] }>()

const own = ref<Detail>({ ...detail })
const text = ref(note)
const fields = computed(() => asks[act] ?? [])
function say(change: Partial<Detail>) {
  own.value = { ...own.value, ...change }
  emit('change', own.value, text.value)
}
function typed(key: keyof Detail, text: string) {
  const v = (key === 'read' || key === 'air' ? withTemperatureUnit(text) : text).trim()
  if (v !== ((own.value[key] as string | undefined) ?? '')) say({ [key]: v || undefined })
}
function typeNote() {
  if (text.value.trim() !== note) emit('change', own.value, text.value.trim())
}
function number(value: string): number | undefined {
  const v = Number(value.replace(',', '.'))
  return value.trim() !== '' && Number.isFinite(v) ? v : undefined
}
const said = (of: readonly (string | undefined)[]) => of.filter((w): w is string => !!w)
const words: Record<string, readonly string[]> = {
  feel: said(detailFeelValues),
  look: said(detailLookValues),
  of: said(detailOfValues),
  turn: said(detailTurnValues),
  wind: said(detailWindValues),
  place: cutPlaces,
  damper: ['intake', 'chimney'],
  sun: [],
  rain: [],
}
const counts: Record<string, readonly number[]> = {
  pieces: [1, 2, 3, 4, 6, 8, 12],
  open: [0, 25, 50, 75, 100],
  out_min: [15, 30, 45, 60, 90],
}
const skies = { sun: 'sun on the lid', rain: 'rain' }
const hints: Record<string, string> = { read: '203 F', amount: '1/2 cup', air: '50 F' }
const names: Record<string, string> = {
  with: 'With what',
  liquid: 'Liquid in it',
  amount: 'How much',
  pieces: 'How many',
  damper: 'Damper',
  open: 'Open, %',
  read: 'Reads',
  place: 'Where',
  feel: 'Feels',
  of: 'Of',
  look: 'Bark is',
  turn: 'How',
  to: 'To place',
  air: 'Air',
  wind: 'Wind',
  out_min: 'Out of the fridge for, min',
}
// What the pantry has of the kind, and the usual.
const { data: pantry } = useQuery({ queryKey: ['pantry'], queryFn: () => ok(api.GET('/api/pantry')) })
const usual: Partial<Record<Event['act'], string[]>> = {
  wrap: ['paper', 'foil', 'covered pan'],
  water: ['water', 'sand'],
}
const kinds: Partial<Record<Event['act'], string>> = { wood: 'wood', fuel: 'fuel', lit: 'fuel' }
const withs = computed(() => {
  const kind = kinds[act]
  const had = (pantry.value?.ingredients ?? []).filter((i) => i.kind === kind).map((i) => i.name)
  return [...(usual[act] ?? []), ...had].slice(0, 6)
})
const places = computed(() => cook.runs.flatMap((r) => gratePositions(r)))
const box = ref<HTMLElement | null>(null)
onMounted(async () => {
  if (!asksFirst.includes(act)) return
  await nextTick()
  box.value?.querySelector<HTMLInputElement>(act === 'note' ? 'input[data-note]' : 'input[data-read]')?.focus()
})
const leave = (e: KeyboardEvent) => (e.target as HTMLElement).blur()
</script>

<template>
  <div ref="box" class="detail" data-testid="detail">
    <div v-for="f in fields" :key="f" class="ask">
      <span v-if="names[f]">{{ names[f] }}</span>
      <span class="chips">
        <ChipRow
          v-if="f in counts"
          :model-value="(own[f] as number | null | undefined) ?? undefined"
          :options="counts[f]!"
          @update:model-value="(v) => say({ [f]: v })"
        />
        <ChipRow
          v-else-if="f === 'sun' || f === 'rain'"
          :model-value="own[f] ? skies[f] : undefined"
          :options="[skies[f]]"
          @update:model-value="(v) => say({ [f]: v ? true : undefined })"
        />
        <ChipRow
          v-else-if="f in words"
          :model-value="(own[f] as string | undefined) || undefined"
          :options="words[f]!"
          @update:model-value="(v) => say({ [f]: v })"
        />
        <template v-else>
          <ChipRow
            v-if="f === 'with' || f === 'to'"
            :model-value="own[f] || undefined"
            :options="f === 'with' ? withs : places"
            @update:model-value="(v) => say({ [f]: v })"
          />
          <InputText
            :model-value="(own[f] as string | undefined) ?? ''"
            class="field"
            :class="{ 'mono-input': f === 'read' || f === 'air' || f === 'amount' }"
            :data-read="f === 'read' ? '' : null"
            :placeholder="hints[f] ?? ''"
            :aria-label="names[f]"
            maxlength="60"
            @keydown.enter="leave"
            @keydown.esc="leave"
            @change="(e: globalThis.Event) => typed(f, (e.target as HTMLInputElement).value)"
          />
        </template>
      </span>
    </div>
    <label class="ask wide">
      <span>Note</span>
      <InputText
        v-model="text"
        class="field"
        data-note
        aria-label="Note"
        maxlength="400"
        @keydown.enter="leave"
        @keydown.esc="leave"
        @change="typeNote"
      />
    </label>
    <label class="ask">
      <span>Hands, min</span>
      <InputText
        :model-value="own.minutes === undefined || own.minutes === null ? '' : String(own.minutes)"
        class="field short mono-input"
        inputmode="decimal"
        placeholder="usual"
        aria-label="Hands-on minutes"
        @keydown.enter="leave"
        @keydown.esc="leave"
        @change="(e: globalThis.Event) => say({ minutes: number((e.target as HTMLInputElement).value) })"
      />
    </label>
  </div>
</template>

<style scoped>
.detail {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
}
.ask {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  font-size: var(--t-sm);
  color: var(--soot);
}
.chips {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px;
}
.field {
  width: 150px;
  min-height: 44px;
}
.wide .field {
  width: 240px;
}
.short {
  width: 72px;
}
</style>
