<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { BurnLine, SetUpView } from '../api/schema.gen'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { date, dateTime } from '../ui/time'
import { degrees, sentence } from '../ui/units'
import BurnChart from './BurnChart.vue'
import HeatMap from './HeatMap.vue'
import PitTabs from './PitTabs.vue'
import SetUpNumbers from './SetUpNumbers.vue'
import { system } from '../ui/settings'

/** Two set-ups of a pit beside each other: what each does, and what it is good for. */
const { trial, set, shut } = useThisTrial()
const { isPitmaster, mayWith } = useSession()
const { run, busy, problem } = useAct()
const router = useRouter()
const client = useQueryClient()
/** To either side of the set point, C; 0 is the usual. What is settled is settled by the usual. */
const band = ref(0)
const { data: view } = useQuery({
  queryKey: computed(() => ['set-ups', trial.value.id, band.value]),
  queryFn: () =>
    ok(
      api.GET('/api/trials/{id}/set-ups', {
        params: { path: { id: trial.value.id }, query: { band_c: band.value } },
      }),
    ),
  placeholderData: (was) => was,
  refetchInterval: computed(() => (shut.value ? false : 20_000)),
})
const { data: kept } = useQuery({
  queryKey: computed(() => ['settle', trial.value.id, trial.value.revealed_at]),
  queryFn: () => ok(api.GET('/api/trials/{id}/settle', { params: { path: { id: trial.value.id } } })),
  enabled: shut,
})
/** Of more than two, the one that is laid beside the first. */
const other = ref(0)
const pair = computed(() => view.value?.pairs[other.value])
const shown = computed<SetUpView[]>(() => {
  const all = view.value?.set_ups ?? []
  if (!pair.value) return all.filter((s) => s.burns.length).slice(0, 2)
  return [pair.value.a.tag, pair.value.b.tag].map((tag) => all.find((s) => s.tag === tag)!)
})
const place = (s: SetUpView) => trial.value.ask.arms.findIndex((a) => a.id === s.arm_id)
const whatItIs = (s: SetUpView) =>
  trial.value.ask.factors.map((f, i) => `${f.name}: ${trial.value.ask.arms[place(s)]!.levels[i]!.value}`).join(', ')
const others = computed(() => view.value?.pairs.map((p, i) => ({ label: p.b.tag, value: i })) ?? [])

const picked = ref<Record<number, number>>({}) // burn of each set-up
const told = (s: SetUpView) => s.burns.filter((b) => b.told)
function burnOf(s: SetUpView): BurnLine | undefined {
  return s.burns.find((b) => b.cook_id === picked.value[s.arm_id]) ?? told(s)[0] ?? s.burns[0]
}
const minutes = computed(() => {
  if (pair.value) return pair.value.span_min
  return Math.max(30, ...shown.value.map((s) => burnOf(s)?.told?.to_min ?? 0))
})
const high = computed(() =>
  Math.max(
    0,
    ...shown.value.flatMap((s) =>
      (burnOf(s)?.traces ?? []).flatMap((t) => t.readings.filter((r) => r.s / 60 <= minutes.value).map((r) => r.c)),
    ),
  ),
)
const good = (s: SetUpView) => (pair.value?.a.tag === s.tag ? pair.value.a : (pair.value?.b ?? s.judged))
const airs = computed(() => shown.value.flatMap((s) => s.burns.map((b) => b.air_c).filter((c) => c !== null)))
const weather = computed(() => {
  if (airs.value.length < 2) return ''
  const low = degrees(Math.min(...airs.value))
  const top = degrees(Math.max(...airs.value))
  return `The days: ${low === top ? low : `${low} to ${top}`} ${system.value}.`
})
const settable = computed(() => (view.value?.pairs.length ?? 0) > 0)

async function use(s: SetUpView) {
  const to = view.value?.in_use === s.arm_id ? 0 : s.arm_id
  const done = await run(() =>
    ok(api.PUT('/api/pits/{id}/set-up', { params: { path: { id: view.value!.pit!.id } }, body: { arm_id: to } })),
  )
  if (!done) return
  client.setQueryData(['pits'], done)
  await client.invalidateQueries({ queryKey: ['set-ups'] })
}
async function end() {
  set(
    await run(() =>
      ok(
        api.POST('/api/trials/{id}/end', {
          params: { path: { id: trial.value.id } },
          body: { why: 'its burns were read' },
        }),
      ),
    ),
  )
}
const again = () => router.push(`/trials/${trial.value.id}/plan`)
useKeys((k) => {
  if (k === 'b' && isPitmaster.value && !shut.value) return (void again(), true)
})
</script>

<template>
  <div v-if="view" class="set-ups">
    <PitTabs :here="view.pit ? `pit ${view.pit.id}` : ''" />
    <h1 class="visually-hidden">Set-ups beside each other</h1>
    <header class="first">
      <div>
        <p v-if="shown.length === 0" class="say">No burn is planned yet.</p>
        <p v-for="s in shown" :key="s.arm_id" class="row nowrap say" data-testid="set-up-sentence">
          <ArmToken :place="place(s)" /><b>{{
            s.sentence ? sentence(s.sentence) : `${s.tag}: ${burnOf(s)?.missing || 'not burned yet'}`
          }}</b>
        </p>
        <p v-if="kept" class="small" data-testid="read-at">
          Settled {{ dateTime(kept.read_at) }}: {{ kept.rests_on }}
          <template v-if="kept.since"
            >Since then {{ kept.since.because }}: “{{ sentence(kept.since.result.headline) }}”</template
          >
        </p>
        <ProblemNote :problem="problem" />
      </div>
      <div class="row acts no-print">
        <Button v-if="isPitmaster && !shut" outlined :loading="busy" @click="again"
          >{{ settable ? 'Burn again' : 'Plan the burns' }} <KeyCap>B</KeyCap></Button
        >
        <template v-if="mayWith('pits') && settable">
          <Button
            v-for="s in shown"
            :key="s.arm_id"
            :outlined="view.in_use !== s.arm_id"
            :aria-pressed="view.in_use === s.arm_id"
            :loading="busy"
            @click="use(s)"
            >{{ view.in_use === s.arm_id ? `Used: ${s.tag}` : `Use ${s.tag}` }}</Button
          >
          <Button
            v-if="isPitmaster && !shut"
            label="Settle it"
            :loading="busy"
            data-testid="settle-set-ups"
            @click="end"
          />
        </template>
      </div>
    </header>
    <div v-if="others.length > 1" class="row beside">
      <span class="small">Beside {{ pair!.a.tag }}</span>
      <SelectButton
        v-model="other"
        :options="others"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="The other set-up"
      />
    </div>
    <div class="desk">
      <section class="board charts">
        <article v-for="(s, i) in shown" :key="s.arm_id" :data-testid="`burn-${s.tag}`">
          <div class="row head">
            <ArmToken :place="place(s)" :size="22" /><b>{{ s.tag }}</b>
            <span class="small soot">{{ whatItIs(s) }}</span>
            <SelectButton
              v-if="told(s).length > 1"
              :model-value="burnOf(s)?.cook_id"
              :options="told(s).map((b) => ({ label: date(b.lit!), value: b.cook_id }))"
              option-label="label"
              option-value="value"
              :allow-empty="false"
              :aria-label="`Burn of ${s.tag}`"
              size="small"
              class="push"
              @update:model-value="(v: number) => (picked[s.arm_id] = v)"
            />
            <span v-else-if="burnOf(s)?.lit" class="small soot push">{{ date(burnOf(s)!.lit!) }}</span>
          </div>
          <BurnChart
            v-if="burnOf(s)?.traces.length"
            :traces="burnOf(s)!.traces"
            :told="burnOf(s)!.told"
            :set-c="burnOf(s)!.set_point_c"
            :band-c="band || 15 / 1.8"
            :minutes="minutes"
            :high="high"
            :place="place(s)"
            :axis="i === shown.length - 1"
            :height="i === shown.length - 1 ? 238 : 216"
          />
          <p v-else class="soot small none">{{ burnOf(s)?.missing ?? 'No burn is planned.' }}</p>
        </article>
      </section>
      <section class="board maps">
        <article v-for="s in shown" :key="s.arm_id" class="map">
          <div>
            <div class="row head">
              <ArmToken :place="place(s)" :size="22" /><b>{{ s.tag }}</b>
              <span class="small soot">grate from above, {{ system }} from set</span>
            </div>
            <HeatMap v-if="s.map.length && view.pit" :spots="s.map" :columns="view.pit.grate_columns" />
          </div>
          <dl v-if="s.judged">
            <div v-if="s.lead_min !== null">
              <dt>Plan lights before</dt>
              <dd>
                <b class="num">{{ s.lead_min }}</b> min
              </dd>
            </div>
            <div v-if="s.refuel_min !== null">
              <dt>Refuel about every</dt>
              <dd>
                <b class="num">{{ Math.round(s.refuel_min) }}</b> min
              </dd>
            </div>
            <div>
              <dt>Match places</dt>
              <dd>
                <b class="num">{{ s.places_within_5_f }}</b> of {{ s.map.length }}
              </dd>
            </div>
          </dl>
        </article>
      </section>
    </div>
    <div class="desk lower">
      <section class="board numbers">
        <SetUpNumbers v-if="pair" v-model="band" :pair="pair" :places="shown.map(place)" />
        <p v-else class="soot">Two set-ups stand side by side once each has a burn with a probe on the grate.</p>
      </section>
      <section class="good">
        <h2>What each is good for</h2>
        <p v-for="s in shown.filter((x) => x.judged)" :key="s.arm_id" class="row nowrap use">
          <ArmToken :place="place(s)" :size="22" />
          <span
            ><b>{{ good(s)!.good_for }}.</b> {{ sentence(good(s)!.why) }}</span
          >
        </p>
        <p v-for="l in pair?.limits ?? []" :key="l" class="warn triangle">{{ sentence(l) }} {{ weather }}</p>
        <p class="small soot">
          Not covered: other set points, other weather, and a pit full of meat. Intervals hold 9 times in 10. Numbers in
          bold on the grate were read there; the others are told from the places beside them.
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.first {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 8px 24px;
  padding: 10px 16px;
  background: var(--lime);
  border-bottom: var(--line-strong) solid var(--ink);
}
.first > div:first-child {
  flex: 1 1 420px;
  min-width: 0;
}
.say {
  font: 700 22px/1.25 var(--font-head);
  gap: 10px;
  align-items: start;
}
.acts {
  align-items: center;
}
.nowrap {
  flex-wrap: nowrap;
}
.nowrap > .token {
  flex: none;
}
.beside {
  padding: 6px 16px;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 476px;
}
.board {
  background: var(--board);
  min-width: 0;
}
.charts {
  padding: 6px 0 4px 8px;
}
.charts article + article,
.map + .map {
  border-top: var(--line) solid var(--edge);
}
.head {
  gap: 8px;
  padding: 4px 8px 0;
}
.none {
  padding: 12px;
}
.maps,
.good {
  border-left: var(--line-strong) solid var(--ink);
}
.map {
  display: grid;
  grid-template-columns: 330px minmax(0, 1fr);
  gap: 14px;
  padding: 6px 12px;
}
dl {
  margin: 22px 0 0;
  font-size: 14px;
}
dl div {
  margin-bottom: 6px;
}
dd {
  margin: 0;
}
dd b {
  font-size: 26px;
}
.lower {
  border-top: var(--line-strong) solid var(--ink);
}
.numbers {
  padding: 8px 16px;
}
.good {
  background: var(--trough);
  padding: 10px 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.use {
  gap: 8px;
  align-items: start;
}
@media (max-width: 1100px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
  .maps,
  .good {
    border-left: 0;
    border-top: var(--line-strong) solid var(--ink);
  }
}
@media (max-width: 600px) {
  .map {
    grid-template-columns: minmax(0, 1fr);
  }
  .numbers {
    overflow-x: auto;
  }
  .say {
    font-size: 19px;
  }
}
</style>
