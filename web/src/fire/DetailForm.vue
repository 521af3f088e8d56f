<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
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
import { gratePlaces } from '../ui/grate'
import { withTemperatureUnit } from '../ui/units'
import { asks, asksFirst, cutPlaces } from './acts'

/** What an act was done with: chips to tap, a few fields to type; each change counts at once. */
const { act, cook, detail, note } = defineProps<{ act: Event['act']; cook: CookView; detail: Detail; note: string }>()
const emit = defineEmits<{ change: [Detail, string] }>()

const own = ref<Detail>({ ...detail })
const text = ref(note)
watch(
  () => [detail, note] as const,
  ([d, n]) => {
    own.value = { ...d }
    text.value = n
  },
)
const fields = computed(() => asks[act] ?? [])
function say(change: Partial<Detail>) {
  own.value = { ...own.value, ...change }
  emit('change', own.value, text.value)
}
function type<K extends keyof Detail>(key: K, value: string) {
  const v = value.trim()
  if (v === ((own.value[key] as string | undefined) ?? '')) return
  say({ [key]: v || undefined })
}
function typeNote() {
  if (text.value.trim() !== note) emit('change', own.value, text.value.trim())
}
function number(value: string): number | undefined {
  const v = Number(value.replace(',', '.'))
  return value.trim() !== '' && Number.isFinite(v) ? v : undefined
}
type Chips = 'feel' | 'look' | 'of' | 'turn' | 'wind' | 'place' | 'damper'
const said = (words: readonly (string | undefined)[]) => words.filter((w): w is string => !!w)
const chips: Record<Chips, readonly string[]> = {
  feel: said(detailFeelValues),
  look: said(detailLookValues),
  of: said(detailOfValues),
  turn: said(detailTurnValues),
  wind: said(detailWindValues),
  place: cutPlaces,
  damper: ['intake', 'chimney'],
}
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
const places = computed(() => cook.runs.flatMap((r) => gratePlaces(r)))
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
    <template v-for="f in fields" :key="f">
      <label v-if="f === 'pieces'" class="ask">
        <span>{{ names[f] }}</span>
        <span class="chips">
          <button
            v-for="n in [1, 2, 3, 4, 6, 8, 12]"
            :key="n"
            type="button"
            class="num"
            :aria-pressed="own.pieces === n"
            @click="say({ pieces: own.pieces === n ? undefined : n })"
          >
            {{ n }}
          </button>
        </span>
      </label>
      <div v-else-if="f === 'out_min'" class="ask">
        <span>Out of the fridge for, min</span>
        <span class="chips">
          <button
            v-for="n in [15, 30, 45, 60, 90]"
            :key="n"
            type="button"
            class="num"
            :aria-pressed="own.out_min === n"
            @click="say({ out_min: own.out_min === n ? undefined : n })"
          >
            {{ n }}
          </button>
        </span>
      </div>
      <div v-else-if="f === 'open'" class="ask">
        <span>{{ names[f] }}</span>
        <span class="chips">
          <button
            v-for="n in [0, 25, 50, 75, 100]"
            :key="n"
            type="button"
            class="num"
            :aria-pressed="own.open === n"
            @click="say({ open: own.open === n ? undefined : n })"
          >
            {{ n }}
          </button>
        </span>
      </div>
      <div v-else-if="f === 'sun' || f === 'rain'" class="ask">
        <span class="chips">
          <button type="button" :aria-pressed="!!own[f]" @click="say({ [f]: own[f] ? undefined : true })">
            {{ f === 'sun' ? 'sun on the lid' : 'rain' }}
          </button>
        </span>
      </div>
      <div v-else-if="f in chips" class="ask">
        <span>{{ names[f] }}</span>
        <span class="chips">
          <button
            v-for="w in chips[f as Chips]"
            :key="w"
            type="button"
            :aria-pressed="own[f] === w"
            @click="say({ [f]: own[f] === w ? undefined : w })"
          >
            {{ w }}
          </button>
        </span>
      </div>
      <label v-else class="ask">
        <span>{{ names[f] }}</span>
        <span class="chips">
          <template v-if="f === 'with'">
            <button
              v-for="w in withs"
              :key="w"
              type="button"
              :aria-pressed="own.with === w"
              @click="say({ with: own.with === w ? undefined : w })"
            >
              {{ w }}
            </button>
          </template>
          <template v-if="f === 'to'">
            <button
              v-for="w in places"
              :key="w"
              type="button"
              class="num"
              :aria-pressed="own.to === w"
              @click="say({ to: w })"
            >
              {{ w }}
            </button>
          </template>
          <InputText
            :model-value="(own[f] as string | undefined) ?? ''"
            class="field"
            :class="{ 'mono-input': f === 'read' || f === 'air' || f === 'amount' }"
            :data-read="f === 'read' ? '' : null"
            :placeholder="f === 'read' ? '203 F' : f === 'amount' ? '1/2 cup' : f === 'air' ? '50 F' : ''"
            :aria-label="names[f]"
            maxlength="60"
            @keydown.enter="leave"
            @keydown.esc="leave"
            @change="
              (e: globalThis.Event) => {
                const v = (e.target as HTMLInputElement).value
                type(f, f === 'read' || f === 'air' ? withTemperatureUnit(v) : v)
              }
            "
          />
        </span>
      </label>
    </template>
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
.chips button {
  min-width: 44px;
  min-height: 44px;
  padding: 0 10px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  color: var(--ink);
  font-size: 15px;
  cursor: pointer;
}
.chips button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
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
