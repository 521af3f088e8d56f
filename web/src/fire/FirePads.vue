<script setup lang="ts">
import Button from 'primevue/button'
import { refDebounced, useMediaQuery } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok, upload } from '../api/client'
import type { CookView, Detail, Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, fromLocal, toLocal } from '../ui/time'
import { actRow, label, letterOf, more, pads } from './acts'
import DetailForm from './DetailForm.vue'
import { smaller } from './photo'
import type { Turned } from './outbox'
import { usePresses, type Pressed } from './presses'
import TurnedAway from './TurnedAway.vue'

/** Who, then what: one pad or key logs an act now, or at the time that is set. */
const props = defineProps<{ cook: CookView }>()
/** Local time of the act; empty is now, by the cook's clock. */
const when = defineModel<string>({ required: true })
const { trial, armOf } = useThisTrial()
const { run, problem } = useAct()
const moreShown = ref(false)

// Who is pressed: an arm, all, or one cut of them; and when.
const pressed = ref<number | 'all' | `pit ${number}`>('all')
const onlyCut = ref<number | null>(null)
const cuts = computed(() => trial.value.cuts.filter((c) => c.placement?.cook_id === props.cook.id))
const ofArm = computed(() =>
  cuts.value.filter(
    (c) =>
      pressed.value === 'all' || armOf(c) === pressed.value || pressed.value === `pit ${c.placement!.pit_run_id ?? 0}`,
  ),
)
const targets = computed(() => (onlyCut.value ? ofArm.value.filter((c) => c.id === onlyCut.value) : ofArm.value))
const runsOfTargets = computed(() => [...new Set(targets.value.map((c) => c.placement!.pit_run_id!))])
watch(pressed, () => (onlyCut.value = null))
const marked = computed(() => (when.value ? Date.parse(fromLocal(when.value)) : null))
function shift(minutes: number) {
  const base = marked.value ?? Date.parse(props.cook.now)
  when.value = toLocal(base + minutes * 60_000)
}

/** The cook's own clock, from what the server last said. */
const seenAt = ref(Date.now())
watch(
  () => props.cook.now,
  () => (seenAt.value = Date.now()),
)
const cookNow = () => Date.parse(props.cook.now) + (Date.now() - seenAt.value) * props.cook.rate

const { last, log: press, amend, undo, outbox, problem: refused } = usePresses(() => props.cook, cookNow)
const waits = computed(() => outbox.waiting.value.length > 0)
// What goes through at once would only push the pads down and up again under a thumb.
const waitsLong = refDebounced(waits, 1500)
// On a phone what was used is asked for only on a tap, or where the act says nothing without it.
const small = useMediaQuery('(max-width: 900px)')
const saying = ref(false)

async function log(act: Event['act'], detail: Detail = {}) {
  if (act === 'photo' && !detail.photo_id) return camera.value?.click()
  const pit = actRow(act).of_pit
  const at = marked.value === null ? null : new Date(marked.value).toISOString()
  const cut_ids = pit ? [] : targets.value.map((c) => c.id)
  moreShown.value = false
  when.value = '' // it was for this press alone
  if (!(await press({ act, at, detail, cut_ids, pit_run_ids: pit ? runsOfTargets.value : [] }))) return
  saying.value = actRow(act).asks_first
}
/** Sends what was turned away once more, as it was mended. */
async function again(e: Turned, p: Pressed) {
  outbox.forget(e)
  await press(p)
}
const earlier = (minutes: number) =>
  amend((was) => ({ at: new Date(Math.min(Date.parse(was.at) - minutes * 60_000, cookNow())).toISOString() }))

// A photo is made small here, which also leaves out where it was taken.
const camera = ref<HTMLInputElement | null>(null)
async function photo(e: globalThis.Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  ;(e.target as HTMLInputElement).value = ''
  if (!file) return
  const kept = await run(async () =>
    ok(
      api.POST('/api/cooks/{id}/photos', {
        params: { path: { id: props.cook.id } },
        body: upload(await smaller(file), {}),
      }),
    ),
  )
  if (kept) await log('photo', { photo_id: kept.id })
}

useKeys((key) => {
  if (key === '0') return ((pressed.value = 'all'), true)
  if (/^[1-6]$/.test(key) && Number(key) <= trial.value.ask.arms.length)
    return ((pressed.value = Number(key) - 1), true)
  if (key === 'u' && last.value) return (void undo(), true)
  if (key === '[' || key === ']') return (shift(key === '[' ? -5 : 5), true)
  const act = [...pads, ...more].find((a) => letterOf(a).toLowerCase() === key)
  if (act) return (void log(act), true)
})
</script>

<template>
  <section class="trough pads no-print">
    <ProblemNote :problem="outbox.problem.value ?? refused ?? problem" />
    <TurnedAway
      v-for="e in outbox.turnedAway.value"
      :key="`${e.at}${e.text}`"
      :entry="e"
      :cuts="cuts"
      :cook="cook"
      @again="(p) => again(e, p)"
      @forget="outbox.forget(e)"
    />
    <p v-if="waits && waitsLong" class="kept" role="status" data-testid="outbox">
      Kept on this device, <b class="num">{{ outbox.waiting.value.length }}</b>
      {{ outbox.waiting.value.length === 1 ? 'entry' : 'entries' }} to hand in. They go by themselves.
    </p>
    <div class="row top">
      <div class="who" role="group" aria-label="Who">
        <button
          v-for="(a, i) in trial.ask.arms"
          :key="a.id"
          type="button"
          :aria-pressed="pressed === i"
          @click="pressed = i"
        >
          <span class="key num">{{ i + 1 }}</span><ArmToken :place="i" :size="24" /><b class="num">{{ a.tag }}</b>
        </button>
        <template v-if="cook.runs.length > 1">
          <button
            v-for="r in cook.runs"
            :key="`pit${r.id}`"
            type="button"
            :aria-pressed="pressed === `pit ${r.id}`"
            @click="pressed = `pit ${r.id}`"
          >
            <b class="pitname">{{ r.pit }}</b>
          </button>
        </template>
        <button type="button" :aria-pressed="pressed === 'all'" @click="pressed = 'all'">
          <span class="key num">0</span><b class="num all">All</b><b class="num">{{ cuts.length }} cuts</b>
        </button>
      </div>
      <div class="picks" :class="{ shown: moreShown }">
        <div class="row cutrow" role="group" aria-label="One cut only">
          <button
            v-for="c in ofArm"
            :key="c.id"
            type="button"
            class="one num"
            :aria-pressed="onlyCut === c.id"
            @click="onlyCut = onlyCut === c.id ? null : c.id"
          >
            {{ c.name }}
          </button>
        </div>
      </div>
    </div>
    <div class="row at" :class="{ set: when !== '', shown: moreShown }" data-testid="when">
      <b>{{ when === '' ? 'At: now' : `At: ${clock(marked!)}, for one press` }}</b>
      <span class="row pick">
        <MomentInput v-model="when" label="Time of the act" :day="toLocal(cook.now).slice(0, 10)" />
      </span>
      <Button size="small" outlined @click="shift(-5)"><KeyCap>[</KeyCap> 5 min earlier</Button>
      <Button v-if="when !== ''" size="small" label="Now" data-testid="at-now" @click="when = ''" />
    </div>
    <div class="verbs">
      <button v-for="a in pads" :key="a" type="button" class="pad" :data-testid="`pad-${a}`" @click="log(a)">
        <KeyCap>{{ letterOf(a) }}</KeyCap> {{ label(a) }}
      </button>
      <button type="button" class="pad" :aria-expanded="moreShown" @click="moreShown = !moreShown">More</button>
      <template v-if="moreShown">
        <button v-for="a in more" :key="a" type="button" class="pad" @click="log(a)">
          <KeyCap>{{ letterOf(a) }}</KeyCap> {{ label(a) }}
        </button>
      </template>
    </div>
    <input
      ref="camera"
      type="file"
      accept="image/*"
      capture="environment"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Take a photo"
      @change="photo"
    />
    <div v-if="last" class="last" role="status" data-testid="last-entry">
      <div class="row">
        <b class="num">{{ clock(last.at) }} {{ label(last.act) }} {{ last.on }}</b>
        <Button size="small" outlined @click="undo"><KeyCap>U</KeyCap> Undo</Button>
        <Button size="small" outlined data-testid="earlier" label="5 min earlier" @click="earlier(5)" />
        <Button size="small" outlined label="10 min earlier" @click="earlier(10)" />
        <Button
          v-if="small"
          size="small"
          outlined
          :label="saying ? 'Say no more' : 'Say more'"
          :aria-expanded="saying"
          @click="saying = !saying"
        />
        <span class="small" :class="{ sent: !waits }" data-testid="not-yet">not yet handed in</span>
      </div>
      <DetailForm
        v-if="!small || saying"
        :key="`${last.made}`"
        :act="last.act"
        :cook="cook"
        :detail="last.detail"
        :note="last.note"
        @change="(detail, note) => amend(() => ({ detail, note }))"
      />
    </div>
  </section>
</template>

<style scoped>
.sent {
  visibility: hidden;
}
.kept {
  background: var(--watch-wash);
  color: var(--watch);
  padding: 8px 12px;
  font-weight: 700;
}
.at {
  gap: 10px;
  align-items: center;
}
.at.set > b {
  padding: 4px 10px;
  background: var(--ember-wash);
  color: var(--ember);
}
.pads {
  border-top: var(--line-strong) solid var(--ink);
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.top {
  align-items: stretch;
}
.who {
  display: flex;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  overflow: hidden;
  background: var(--board);
}
.who button {
  position: relative;
  border: 0;
  border-right: var(--line) solid var(--edge);
  background: none;
  min-width: 88px;
  min-height: 64px;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 2px;
  cursor: pointer;
}
.who button:last-child {
  border-right: 0;
}
.who button[aria-pressed='true'],
.one[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
.key {
  position: absolute;
  top: 4px;
  left: 6px;
  font-size: 13px;
}
.all {
  font-size: 20px;
}
.picks {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-width: 0;
}
.cutrow {
  gap: 6px;
}
.one {
  min-width: 48px;
  min-height: 40px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
  cursor: pointer;
  font-weight: 700;
}
.pitname {
  font-size: 15px;
}
.last {
  display: flex;
  flex-direction: column;
  gap: 8px;
  border-top: var(--line) solid var(--edge);
  padding-top: 10px;
}
.verbs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(112px, 1fr));
  gap: var(--gap-fire);
}
.pad {
  min-height: var(--touch-fire);
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  font-weight: 700;
  font-size: 17px;
  cursor: pointer;
}
.pad:active {
  background: var(--ink);
  color: var(--board);
}
@media (max-width: 900px) {
  .pads {
    padding: 8px;
    gap: 8px;
    max-height: 72vh;
    overflow-y: auto;
  }
  .verbs {
    grid-template-columns: repeat(5, 1fr);
  }
  .pad {
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    gap: 2px;
    font-size: 15px;
    padding: 0;
  }
  .who {
    width: 100%;
  }
  .who button {
    flex: 1;
    min-width: 0;
  }
  /* One cut, and the fields of another time: behind More. */
  .picks:not(.shown),
  .at:not(.shown) .pick {
    display: none;
  }
  .last {
    padding-top: 6px;
  }
  .last > .row {
    gap: 6px;
  }
}
</style>
