<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, CutView, Detail } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import NumberPad from '../ui/NumberPad.vue'
import { clock } from '../ui/time'
import { degrees, temperature, withTemperatureUnit } from '../ui/units'
import { uuid } from '../ui/uuid'
import ChipRow from './ChipRow.vue'
import DoubtAnswer from './DoubtAnswer.vue'
import type { Pressed } from './presses'
import { Round } from './round'

/** All pieces are read one after the other: a field each, Enter goes to the next. Each reading is the piece's own. */
const {
  cook,
  cuts,
  press,
  when = null,
} = defineProps<{
  cook: CookView
  cuts: CutView[]
  /** When they were read; null is as each is typed. */
  when?: string | null
  press: (p: Pressed, round: string) => Promise<boolean>
}>()
const emit = defineEmits<{ close: [] }>()
const { trial, armOf } = useThisTrial()
const ordered = [...cuts].sort((a, b) => armOf(a) - armOf(b) || a.name.localeCompare(b.name))
const mark = uuid() // all of the round are taken back at once
const drawn = ref(0)
const round = new Round<Detail>(
  ordered.map((c) => c.id),
  (id, detail) => press({ act: 'probe', at: when, detail, cut_ids: [id], pit_run_ids: [] }, mark),
  () => drawn.value++,
)
const at = computed(() => (void drawn.value, round.at))
const said = (id: number) => (void drawn.value, round.of(id))
const over = computed(() => (void drawn.value, round.over))
const text = ref('')
const place = ref<string | undefined>('coldest found')
/** The places are shown to choose from; they hold for the pieces that follow too. */
const placing = ref(false)
function readAt(p: string | undefined) {
  place.value = p
  placing.value = false
}
const feel = ref<string | undefined>()
const signs = ref<string[]>([])
const field = (name: string) => vocabulary.fields.find((f) => f.name === name)!
const cut = computed(() => ordered[at.value])

const { data: probes } = useQuery({
  queryKey: ['probes', cook.id],
  queryFn: () => ok(api.GET('/api/cooks/{id}/probes', { params: { path: { id: cook.id } } })),
  refetchInterval: 15_000,
})
/** What the probe of a piece shows; older than five minutes it says nothing. */
const says = (c: CutView) => {
  const p = probes.value?.find((p) => p.cut_id === c.id && p.cook_id === cook.id)
  const fresh = p?.at && Date.parse(cook.now) - Date.parse(p.at) < 300_000
  return fresh && typeof p?.c === 'number' ? { channel: p.channel, c: p.c } : null
}
const last = (c: CutView) => {
  const e = trial.value.events.filter((e) => e.act === 'probe' && e.cut_id === c.id && e.detail.read).at(-1)
  return e ? `${e.detail.read} at ${clock(e.at)}` : 'not read yet'
}
/** A reading of it that somebody has to answer for. */
const doubted = (c: CutView) => trial.value.events.find((e) => e.cut_id === c.id && e.detail.doubt)
const read = computed(() => (void drawn.value, round.read))

const card = ref<HTMLElement | null>(null)
const focus = () =>
  nextTick(() => card.value?.querySelector<HTMLInputElement>('input[data-now]')?.focus({ preventScroll: true }))
onMounted(focus)
watch(at, focus)

/** What is in doubt is asked about in its row, so that the round stays open for it. */
const asks = computed(() => ordered.some(doubted))
watch([over, asks], () => over.value && !asks.value && emit('close'))

/** Takes what was typed at once; on an empty field Enter does nothing. */
function keep(value = text.value.trim()) {
  if (!value && !feel.value && !signs.value.length) return
  const detail: Detail = { place: place.value, signs: signs.value as Detail['signs'] }
  if (value) detail.read = withTemperatureUnit(value)
  if (feel.value) detail.feel = feel.value as Detail['feel']
  if (!signs.value.length) delete detail.signs
  if (!place.value) delete detail.place
  clear()
  round.take(detail.read ?? detail.feel ?? 'read', detail)
}
/** The piece that is read once more, though it has a value. */
const again = ref<number | null>(null)
function clear() {
  again.value = null
  text.value = ''
  feel.value = undefined
  signs.value = []
}
function skip() {
  clear()
  round.next()
}
function go(i: number) {
  clear()
  again.value = ordered[i]!.id
  round.go(i)
  void focus()
}
const toggle = (s: string) =>
  (signs.value = signs.value.includes(s) ? signs.value.filter((x) => x !== s) : [...signs.value, s])
</script>

<template>
  <div ref="card" class="card" role="group" aria-label="Read all" data-testid="group-read">
    <div class="list">
      <p class="head">
        <b>{{ read }} of {{ ordered.length }} read.</b>
        <template v-if="cut"> Now {{ trial.ask.arms[armOf(cut)]?.tag }} {{ cut.name }}.</template>
      </p>
      <ol>
        <li v-for="(c, i) in ordered" :key="c.id" :class="{ now: i === at }" :data-testid="`read-${c.name}`">
          <ArmToken v-if="armOf(c) >= 0" :place="armOf(c)" :size="22" />
          <button type="button" class="name num" @click="go(i)">{{ c.name }}</button>
          <span class="small soot said">{{
            says(c) ? `${says(c)!.channel}: ${temperature(says(c)!.c)}` : last(c)
          }}</span>
          <span v-if="said(c.id)?.state === 'going'" class="small" data-testid="going">not yet handed in</span>
          <b v-if="said(c.id)?.state === 'refused'" class="small bad">{{ said(c.id)!.typed }} was not taken</b>
          <input
            v-if="i === at && (!said(c.id) || said(c.id)!.state === 'refused' || again === c.id)"
            v-model="text"
            class="num value"
            inputmode="none"
            data-now
            :aria-label="`Reads, ${c.name}`"
            @keydown.enter.prevent="keep()"
            @keydown.down.prevent="skip"
            @keydown.esc="emit('close')"
          />
          <b v-else class="num value">{{ said(c.id)?.typed ?? '' }}</b>
          <DoubtAnswer v-if="doubted(c)" :of="doubted(c)!" class="whole" />
        </li>
      </ol>
    </div>
    <div class="keys">
      <div class="row where">
        <button v-if="!placing" type="button" class="tap" data-testid="place" @click="placing = true">
          Where: <b>{{ place ?? 'not said' }}</b>
        </button>
        <ChipRow v-else :model-value="place" :options="field('place').words" @update:model-value="readAt" />
      </div>
      <div v-if="cut && says(cut)" class="probe">
        <span
          >{{ says(cut)!.channel }} says <b class="num">{{ temperature(says(cut)!.c) }}</b></span
        >
        <Button label="Take it" data-testid="take-it" @click="keep(degrees(says(cut)!.c))" />
      </div>
      <NumberPad v-model="text" @next="keep()">
        <button type="button" data-testid="skip" title="Arrow down" @click="skip">Skip</button>
      </NumberPad>
      <div class="row">
        <ChipRow v-model="feel" :options="field('feel').words" />
      </div>
      <div class="row">
        <button
          v-for="s in field('signs').words"
          :key="s"
          type="button"
          class="tap"
          :aria-pressed="signs.includes(s)"
          @click="toggle(s)"
        >
          {{ s }}
        </button>
        <Button class="push" outlined label="Close" @click="emit('close')" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.card {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px 24px;
}
.head {
  margin: 0 0 6px;
  font-size: 17px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: var(--line-strong) solid var(--ink);
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  min-height: 48px;
  padding: 0 6px;
  border-bottom: var(--line) solid var(--edge);
}
li.now {
  background: var(--board);
}
.name {
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  font-weight: 700;
  font-size: 17px;
  cursor: pointer;
}
.said {
  flex: 1;
  min-width: 0;
}
.bad {
  color: var(--alarm);
}
.whole {
  flex: 1 0 100%;
  padding-bottom: 6px;
}
.value {
  width: 96px;
  text-align: right;
  font-size: 22px;
}
input.value {
  height: 42px;
  border: 2px solid var(--focus);
  border-radius: var(--r-2);
  background: var(--board);
  color: var(--ink);
  padding: 0 8px;
}
.keys {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.row {
  gap: 6px;
}
.probe {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  padding: 6px 12px;
  background: var(--ember-wash);
  border: 2px solid var(--ember);
  border-radius: var(--r-2);
}
@media (max-width: 820px) {
  .card {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
