<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutView } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import CellProblem from '../ui/CellProblem.vue'
import { clock } from '../ui/time'
import { temperatureHint, withTemperatureUnit } from '../ui/units'
import { uuid } from '../ui/uuid'

/** One more reading by hand; what was read at the fire stands already. Enter logs it and goes on to the next cut. */
const props = defineProps<{ cut: CutView }>()
const { trial, set } = useThisTrial()
const { run, problem } = useAct()
const text = ref('')
/** Typed here and not with the barn yet. */
const going = ref<{ typed: string; refused: boolean }[]>([])
const place = ref('coldest found')
const places = vocabulary.fields.find((f) => f.name === 'place')?.words ?? []
const reads = computed(() =>
  trial.value.events.filter((e) => e.cut_id === props.cut.id && e.act === 'probe' && e.detail.read),
)
const cook = computed(() => props.cut.placement?.cook_id)

/** What is typed is taken at once, so that the next can be; what is refused comes back to be
 * mended, or stands beside what was typed since. */
async function keep() {
  const typed = text.value.trim()
  if (!typed || !cook.value) return
  text.value = ''
  going.value.push({ typed, refused: false })
  const mine = going.value[going.value.length - 1]!
  let v
  try {
    v = await run(() =>
      ok(
        api.POST('/api/cooks/{id}/events', {
          params: { path: { id: cook.value! } },
          body: {
            act: 'probe',
            at: null,
            note: '',
            detail: { read: withTemperatureUnit(typed), place: place.value },
            cut_ids: [props.cut.id],
            pit_run_ids: [],
            press: uuid(),
          },
        }),
      ),
    )
    set(v)
  } finally {
    mine.refused = !v && text.value !== ''
    if (!v && !text.value) text.value = typed
    if (!mine.refused) going.value = going.value.filter((g) => g !== mine)
  }
}
function next(e: Event) {
  const cells = [...document.querySelectorAll<HTMLInputElement>('input[data-read]')]
  const at = cells.indexOf(e.target as HTMLInputElement)
  void keep()
  cells[at + 1]?.focus()
}
</script>

<template>
  <span class="cell">
    <span class="row tight no-print">
      <InputText
        v-model="text"
        class="mono-input"
        inputmode="decimal"
        :placeholder="temperatureHint()"
        :aria-label="`Reads, ${cut.name}`"
        data-read
        :disabled="!cook"
        @keydown.enter.prevent="next"
      />
      <Select v-model="place" :options="places" :aria-label="`Where in ${cut.name}`" :disabled="!cook" />
    </span>
    <span v-for="e in reads.slice(-2)" :key="e.id" class="small soot"
      >{{ e.detail.read }} {{ e.detail.place }}, {{ clock(e.at) }}, {{ e.by }}</span
    >
    <span v-for="(g, n) in going" :key="`going${n}`" class="small" :class="{ watch: g.refused }"
      >{{ g.typed }} {{ g.refused ? 'was not taken' : 'not yet handed in' }}</span
    >
    <CellProblem :problem="problem" />
  </span>
</template>

<style scoped>
.cell {
  display: flex;
  flex-direction: column;
}
.watch {
  color: var(--watch);
}
.tight {
  gap: 4px;
  flex-wrap: nowrap;
}
.cell :deep(input) {
  width: 84px;
  min-height: 48px;
}
.cell :deep(.p-select) {
  min-height: 48px;
  width: 178px;
}
</style>
