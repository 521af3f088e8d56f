<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, nextTick, onMounted, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, ok } from '../api/client'
import type { CookView, Detail, Event, FieldRow, PutIn } from '../api/schema.gen'
import { usePits } from '../pits/pits'
import { gratePositions } from '../ui/grate'
import { weightKeys, withTemperatureUnit, withWeightUnit } from '../ui/units'
import { actRow, fieldsOf } from './acts'
import ChipRow from './ChipRow.vue'
import CookerChips from './CookerChips.vue'
import ParcelRows from './ParcelRows.vue'
import NumberInput from '../ui/NumberInput.vue'

/** What an act was done with: chips to tap, a few fields to type; each change counts at once. */
const { act, cook, detail, note } = defineProps<{ act: Event['act']; cook: CookView; detail: Detail; note: string }>()
const emit = defineEmits<{ change: [Detail, string] }>()

const own = ref<Detail>({ ...detail })
const text = ref(note)
const fields = computed(() => fieldsOf(act))
function say(change: Partial<Detail>) {
  own.value = { ...own.value, ...change }
  emit('change', own.value, text.value)
}
function typed(f: FieldRow, text: string) {
  const key = f.name as keyof Detail
  const v = (f.heat ? withTemperatureUnit(text) : f.mass ? withWeightUnit(text) : text).trim()
  if (v !== ((own.value[key] as string | undefined) ?? '')) say({ [key]: v || undefined })
}
function typeNote() {
  if (text.value.trim() !== note) emit('change', own.value, text.value.trim())
}
const several = (f: FieldRow) => (own.value[f.name as 'lies'] ?? []) as string[]
function toggle(f: FieldRow, key: string) {
  const was = several(f)
  say({ [f.name]: was.includes(key) ? was.filter((k) => k !== key) : [...was, key] })
}
// A thing that has no name yet is not sent.
const parcel = ref<PutIn[]>(detail.parcel ?? [])
function putIn(of: PutIn[]) {
  parcel.value = of
  if (of.every((p) => p.what)) say({ parcel: of })
}
// What the pantry has of the kind, and the usual.
const { data: pantry } = useQuery({ queryKey: ['pantry'], queryFn: () => ok(api.GET('/api/pantry')) })
const usual: Partial<Record<Event['act'], string[]>> = { water: ['water', 'sand'] }
const kinds: Partial<Record<Event['act'], string>> = { wood: 'wood', fuel: 'fuel', lit: 'fuel' }
const withs = computed(() => {
  const kind = kinds[act]
  const had = (pantry.value?.ingredients ?? []).filter((i) => i.kind === kind).map((i) => i.name)
  return [...(usual[act] ?? []), ...had].slice(0, 6)
})
/** The vents of its pits by their names; where none is named, the usual two. */
const { pits } = usePits()
const vents = computed(() => {
  const own = cook.runs.flatMap((r) => pits.value?.find((p) => p.id === r.pit_id)?.vents ?? [])
  return own.length ? [...new Set(own)] : ['intake', 'chimney']
})
const offered: Partial<Record<keyof Detail, () => string[]>> = {
  with: () => withs.value,
  damper: () => vents.value,
  to: () => [...new Set(cook.runs.flatMap((r) => gratePositions(r)))],
}
/** A word that is tapped stands for its key; sun and rain are there or not. */
const picked = (f: FieldRow) => f.words[f.keys.indexOf(String(own.value[f.name as keyof Detail] ?? ''))]
function pick(f: FieldRow, word: string | undefined) {
  const key = word === undefined ? undefined : f.keys[f.words.indexOf(word)]
  say({ [f.name]: key === 'true' ? true : key })
}
const box = ref<HTMLElement | null>(null)
onMounted(async () => {
  if (!actRow(act).asks_first) return
  await nextTick()
  box.value?.querySelector<HTMLInputElement>(act === 'note' ? 'input[data-note]' : 'input[data-read]')?.focus()
})
const leave = (e: KeyboardEvent) => (e.target as HTMLElement).blur()
</script>

<template>
  <div ref="box" class="detail" data-testid="detail">
    <template v-for="f in fields" :key="f.name">
      <div v-if="act !== 'wrap' || f.name !== 'with' || own.wrap === 'other'" class="ask">
        <span v-if="f.label">{{ f.label }}</span>
        <span class="chips">
          <ChipRow
            v-if="f.numbers.length"
            :model-value="(own[f.name] as number | null | undefined) ?? undefined"
            :options="f.numbers"
            @update:model-value="(v) => say({ [f.name]: v })"
          />
          <template v-else-if="f.several">
            <button
              v-for="(w, i) in f.words"
              :key="w"
              type="button"
              class="tap"
              :aria-pressed="several(f).includes(f.keys[i]!)"
              @click="toggle(f, f.keys[i]!)"
            >
              {{ w }}
            </button>
          </template>
          <ParcelRows v-else-if="f.name === 'parcel'" :model-value="parcel" @update:model-value="putIn" />
          <CookerChips
            v-else-if="f.name === 'run_id' || f.name === 'holder_id'"
            :model-value="own[f.name] || undefined"
            :cook="cook"
            :holders="f.name === 'holder_id'"
            @update:model-value="(v) => say({ [f.name]: v })"
          />
          <ChipRow
            v-else-if="f.words.length"
            :model-value="picked(f)"
            :options="f.words"
            @update:model-value="(v) => pick(f, v)"
          />
          <ChipRow
            v-else-if="offered[f.name]"
            :model-value="(own[f.name] as string | undefined) || undefined"
            :options="offered[f.name]!()"
            @update:model-value="(v) => say({ [f.name]: v })"
          />
          <InputText
            v-if="f.typed"
            :model-value="(own[f.name] as string | undefined) ?? ''"
            class="field"
            :class="{ 'mono-input': f.heat || f.hint }"
            :data-read="f.name === 'read' ? '' : null"
            :inputmode="f.heat ? 'decimal' : f.mass ? weightKeys() : undefined"
            :placeholder="f.hint"
            :aria-label="f.label"
            maxlength="60"
            @keydown.enter="leave"
            @keydown.esc="leave"
            @change="(e: globalThis.Event) => typed(f, (e.target as HTMLInputElement).value)"
          />
        </span>
      </div>
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
      <span>Minutes of work</span>
      <NumberInput
        :model-value="own.minutes ?? 0"
        class="field short mono-input"
        placeholder="usual"
        aria-label="Minutes of work"
        @keydown.enter="leave"
        @keydown.esc="leave"
        @update:model-value="(v: number) => say({ minutes: v || undefined })"
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
:deep(.field) {
  width: 150px;
  min-height: 44px;
}
.wide :deep(.field) {
  width: 240px;
}
:deep(.short) {
  width: 72px;
}
</style>
