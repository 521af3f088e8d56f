<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, fromLocal, toLocal } from '../ui/time'
import { label, letters, more, ofPit, pads } from './acts'
import { useOutbox } from './outbox'

/** Who, then what: one pad or key logs an act now, or at the time that is set. */
const props = defineProps<{ cook: CookView }>()
/** Local time of the act; empty is now, by the cook's clock. */
const when = defineModel<string>({ required: true })
const { trial, set, armOf } = useThisTrial()
const { run, problem } = useAct()
const moreShown = ref(false)

// Who is pressed: an arm, all, or one cut of them; and when.
const pressed = ref<number | 'all'>('all')
const onlyCut = ref<number | null>(null)
const note = ref('')
const cuts = computed(() => trial.value.cuts.filter((c) => c.placement?.cook_id === props.cook.id))
const ofArm = computed(() => cuts.value.filter((c) => pressed.value === 'all' || armOf(c) === pressed.value))
const targets = computed(() => (onlyCut.value ? ofArm.value.filter((c) => c.id === onlyCut.value) : ofArm.value))
const runsOfTargets = computed(() => [...new Set(targets.value.map((c) => c.placement!.pit_run_id!))])
watch(pressed, () => (onlyCut.value = null))
const marked = computed(() => (when.value ? Date.parse(fromLocal(when.value)) : null))
function shift(minutes: number) {
  const base = marked.value ?? Date.parse(props.cook.now)
  when.value = toLocal(base + minutes * 60_000)
}

const last = ref<{ press: string; text: string } | null>(null)
const outbox = useOutbox(() => props.cook.id, set)
/** The cook's own clock, from what the server last said. */
const seenAt = ref(Date.now())
watch(
  () => props.cook.now,
  () => (seenAt.value = Date.now()),
)
const cookNow = () => Date.parse(props.cook.now) + (Date.now() - seenAt.value) * props.cook.rate
async function log(act: Event['act']) {
  const press = crypto.randomUUID()
  const pit = ofPit.includes(act)
  const cutIds = pit ? [] : targets.value.map((c) => c.id)
  const at = marked.value ?? cookNow()
  const text = `${label(act)} ${pit ? '' : targets.value.map((c) => c.name).join(', ')}`
  const body = {
    act,
    at: marked.value === null ? null : new Date(at).toISOString(),
    note: note.value,
    cut_ids: cutIds,
    pit_run_ids: pit ? runsOfTargets.value : [],
    press,
  }
  const sent = note.value
  note.value = ''
  moreShown.value = false
  const v = await outbox.log(body, new Date(at).toISOString())
  if (outbox.problem.value) note.value = sent
  if (!v && !outbox.isWaiting(press)) return
  if (v) set(v)
  last.value = { press, text: `${clock(v?.events.find((e) => e.press === press)?.at ?? at)} ${text}` }
}
async function undo(press: string) {
  if (outbox.drop(press)) return (last.value = null)
  const v = await run(() =>
    ok(api.POST('/api/presses/{press}/void', { params: { path: { press } }, body: { why: 'undo' } })),
  )
  if (!v) return
  set(v)
  last.value = null
}

useKeys((key) => {
  if (key === '0') return ((pressed.value = 'all'), true)
  if (/^[1-6]$/.test(key) && Number(key) <= trial.value.ask.arms.length)
    return ((pressed.value = Number(key) - 1), true)
  if (key === 'u' && last.value) return (void undo(last.value.press), true)
  if (key === '[' || key === ']') return (shift(key === '[' ? -5 : 5), true)
  const act = [...pads, ...more].find((a) => letters[a].toLowerCase() === key)
  if (act) return (void log(act), true)
})
</script>

<template>
  <section class="trough pads no-print">
    <ProblemNote :problem="outbox.problem.value ?? problem" />
    <p v-if="outbox.waiting.value.length" class="kept" role="status" data-testid="outbox">
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
        <button type="button" :aria-pressed="pressed === 'all'" @click="pressed = 'all'">
          <span class="key num">0</span><b class="num all">All</b><b class="num">{{ cuts.length }} cuts</b>
        </button>
      </div>
      <div class="picks">
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
        <div class="row">
          <span class="row small" data-testid="when"
            >At <MomentInput v-model="when" label="Time of the act" :day="toLocal(cook.now).slice(0, 10)"
          /></span>
          <Button size="small" outlined @click="shift(-5)"><KeyCap>[</KeyCap> 5 min earlier</Button>
          <Button size="small" :outlined="when !== ''" label="Now" @click="when = ''" />
          <InputText v-model="note" class="note" placeholder="with what, how much" aria-label="Note" maxlength="400" />
        </div>
      </div>
    </div>
    <div class="verbs">
      <button v-for="a in pads" :key="a" type="button" class="pad" :data-testid="`pad-${a}`" @click="log(a)">
        <KeyCap>{{ letters[a] }}</KeyCap> {{ label(a) }}
      </button>
      <button type="button" class="pad" :aria-expanded="moreShown" @click="moreShown = !moreShown">More</button>
      <template v-if="moreShown">
        <button v-for="a in more" :key="a" type="button" class="pad" @click="log(a)">
          <KeyCap>{{ letters[a] }}</KeyCap> {{ label(a) }}
        </button>
      </template>
    </div>
    <div v-if="last" class="row last" role="status" data-testid="last-entry">
      <b>{{ last.text }}</b> <Button size="small" outlined @click="undo(last.press)"><KeyCap>U</KeyCap> Undo</Button>
    </div>
  </section>
</template>

<style scoped>
.kept {
  background: var(--watch-wash);
  color: var(--watch);
  padding: 8px 12px;
  font-weight: 700;
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
.note {
  flex: 1;
  min-width: 160px;
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
  .verbs {
    grid-template-columns: repeat(3, 1fr);
  }
  .who {
    width: 100%;
  }
  .who button {
    flex: 1;
  }
}
</style>
