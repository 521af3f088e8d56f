<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ok } from '../api/client'
import type { TrialLine } from '../api/schema.gen'
import { useSession } from '../session/session'
import VerdictBeam from '../settle/VerdictBeam.vue'
import ArmName from '../ui/ArmName.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import { clock, date, dateTime, toLocal } from '../ui/time'
import { sentence, temperature } from '../ui/units'
import BurningBand from './BurningBand.vue'
import WaysIn from './WaysIn.vue'

const router = useRouter()
const { session, isPitmaster } = useSession()
const now = useNow({ interval: 10_000 })
const { data: trials } = useQuery({ queryKey: ['trials'], queryFn: () => ok(api.GET('/api/trials')) })
const { data: home } = useQuery({
  queryKey: ['home'],
  queryFn: () => ok(api.GET('/api/home')),
})
// What burns stands above the rest: with it, so that nothing jumps under a thumb.
const { isFetched: burningAsked } = useQuery({ queryKey: ['burning'], queryFn: () => ok(api.GET('/api/burning')) })
const nextTable = computed(() => home.value?.coming[0])
const daysTo = (t: string) => {
  const day = (d: number | Date) => Date.parse(toLocal(d).slice(0, 10))
  const n = Math.round((day(new Date(t)) - day(now.value)) / 86_400_000)
  return n === 0 ? 'today' : n === 1 ? 'tomorrow' : `in ${n} days`
}
/** Of a long list of hands, any will do. */
function waitsOn(t: TrialLine): string {
  const on = home.value?.waits.find((w) => w.trial_id === t.id)?.on ?? []
  return on.length > 3 ? `any of ${on.length} hands` : on.join(', ')
}
const open = computed(() => trials.value?.filter((t) => !t.settled) ?? [])
const settled = computed(() => trials.value?.filter((t) => t.settled) ?? [])

const name = (s: string) => s[0]!.toUpperCase() + s.slice(1)
const next = (t: TrialLine) => t.steps.find((s) => s.step === t.here)!
const go = (t: TrialLine) => router.push(`/trials/${t.id}/${t.here}`)

useKeys((key) => {
  const t = open.value[Number(key) - 1]
  if (t) return (void go(t), true)
})
</script>

<template>
  <div class="sky">
    <div>
      <div class="num time">{{ clock(now) }}</div>
      <div>{{ date(now) }}</div>
      <div v-if="home?.air" class="small" data-testid="air">
        air <b class="num">{{ temperature(home.air.c) }}</b> {{ home.air.wind }}, noted {{ clock(home.air.at) }} by
        {{ home.air.by }}
      </div>
    </div>
    <div class="gable">
      <svg viewBox="0 0 640 128" preserveAspectRatio="xMidYMax slice" aria-hidden="true">
        <path d="M-20 140 320 9 660 140z" fill="var(--lime)" />
        <path d="M-20 140 320 9 660 140" fill="none" stroke="var(--board)" stroke-width="12" />
      </svg>
      <h1>{{ session?.barn?.name }}</h1>
      <p v-if="nextTable" data-testid="next-table">
        Next table <b class="num">{{ dateTime(nextTable.serve_at) }}</b>, {{ daysTo(nextTable.serve_at) }}
      </p>
      <p v-else-if="trials">{{ settled.length }} settled, {{ open.length }} open</p>
    </div>
    <div class="right">
      <div class="num time">{{ open.length }}</div>
      <div>{{ open.length === 1 ? 'question' : 'questions' }} open</div>
    </div>
  </div>
  <BurningBand v-if="trials" :trials="trials" />
  <div v-if="trials && home && burningAsked" class="two">
    <section class="page stack wide">
      <div class="row">
        <h2>Open questions</h2>
        <Button v-if="isPitmaster" class="push" label="Ask a new question" @click="router.push('/trials/new')" />
      </div>
      <article v-for="(t, i) in open" :key="t.id" class="question rule">
        <div>
          <h3>{{ t.question }}</h3>
          <div class="row small arms">
            <ArmName v-for="(a, n) in t.arms" :key="a.id" :place="n" :tag="a.tag" />
            <span class="soot">{{ t.product }}</span>
          </div>
        </div>
        <div>
          <div class="stick" aria-hidden="true">
            <i v-for="s in t.steps" :key="s.step" :class="{ done: s.done, here: s.step === t.here }" />
          </div>
          <p class="small">
            <b>{{ name(t.here) }}:</b> {{ next(t).missing[0] ? 'still needs ' + next(t).missing[0] : next(t).fact }}
          </p>
          <p v-if="waitsOn(t)" class="small soot" data-testid="waits">waits on {{ waitsOn(t) }}</p>
        </div>
        <Button outlined @click="go(t)"
          >Go to {{ t.here }} <KeyCap v-if="i < 9">{{ i + 1 }}</KeyCap></Button
        >
      </article>
      <div v-if="trials && open.length === 0 && settled.length" class="empty">
        <p>No question is open. {{ isPitmaster ? 'Ask the next one.' : 'A pitmaster asks the next one.' }}</p>
      </div>
      <WaysIn v-else-if="trials && open.length === 0" />
    </section>
    <aside class="settled">
      <template v-if="home?.coming.length">
        <h2>Tables to come</h2>
        <RouterLink
          v-for="k in home.coming"
          :key="`${k.trial_id}${k.serve_at}`"
          class="rule table"
          :to="`/trials/${k.trial_id}/plan`"
          data-testid="coming"
        >
          <b class="num">{{ dateTime(k.serve_at) }}</b>
          <span>{{ k.question }}</span>
          <span class="small soot"
            ><span class="num">{{ k.cuts }}</span> {{ k.cuts === 1 ? 'cut' : 'cuts' }} in {{ k.pits.join(', ') }}</span
          >
          <span v-if="k.shares.length" class="triangle small"
            >{{ k.shares.join(', ') }} is wanted at two heats that day</span
          >
        </RouterLink>
      </template>
      <h2>Settled</h2>
      <p v-if="settled.length === 0" class="soot">Nothing is settled yet.</p>
      <RouterLink v-for="t in settled" :key="t.id" class="rule line" :to="`/trials/${t.id}/settle`">
        <VerdictBeam :word="t.settled!.word" />
        <span>
          <b class="head">{{ t.question }}</b>
          <span>{{ sentence(t.settled!.headline) }}</span>
        </span>
      </RouterLink>
    </aside>
  </div>
</template>

<style scoped>
.sky {
  background: var(--iron);
  color: var(--on-iron);
  display: grid;
  grid-template-columns: 1fr minmax(280px, 640px) 1fr;
  min-height: 120px;
}
.sky > div {
  padding: 14px 16px;
}
.time {
  font-size: 31px;
  font-weight: 700;
  line-height: 1.1;
}
.right {
  text-align: right;
}
.gable {
  position: relative;
  color: var(--ink);
  text-align: center;
  display: flex;
  flex-direction: column;
  justify-content: flex-end;
}
.gable svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.gable h1,
.gable p {
  position: relative;
  width: fit-content;
  margin-inline: auto;
  background: var(--lime);
}
.wide {
  width: 100%;
}
.question {
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr) 160px;
  gap: 16px;
  align-items: center;
  padding-top: 12px;
}
.arms {
  margin-top: 6px;
}
.stick {
  display: flex;
  margin-bottom: 4px;
}
.stick i {
  flex: 1;
  height: 12px;
  border: var(--line) solid var(--grain);
  background: var(--trough);
}
.stick i.here {
  border: 2px solid var(--ink);
  background: var(--board);
}
.stick i.done {
  background: var(--ink);
  border-color: var(--ink);
  clip-path: polygon(0 0, calc(100% - 6px) 0, 100% 100%, 0 100%);
}
.settled {
  padding: 16px;
}
.settled h2 {
  margin-bottom: 12px;
}
.table {
  display: flex;
  flex-direction: column;
  padding: 8px 0;
  text-decoration: none;
}
.table + h2 {
  margin-top: 20px;
}
.line {
  display: grid;
  grid-template-columns: 52px 1fr;
  gap: 10px;
  padding: 12px 0;
  text-decoration: none;
}
.head {
  display: block;
  font: 700 17px var(--font-head);
}
.empty {
  text-align: center;
  padding: 32px;
  color: var(--soot);
}
@media (max-width: 900px) {
  .question {
    grid-template-columns: 1fr;
  }
  .sky {
    grid-template-columns: 1fr 1fr;
  }
  .gable {
    grid-row: 2;
    grid-column: 1 / -1;
    min-height: 110px;
  }
}
</style>
