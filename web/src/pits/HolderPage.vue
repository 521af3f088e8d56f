<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { HolderView } from '../api/schema.gen'
import { useSession } from '../session/session'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { date, dateTime, span } from '../ui/time'
import { title } from '../ui/title'
import { degrees, difference, sentence, temperature, typedTemperature } from '../ui/units'
import PanChart from './PanChart.vue'
import PanForm from './PanForm.vue'
import { system } from '../ui/settings'

/** What a holder really holds: a pan of water tells it, and holds rely on it. */
const route = useRoute()
const client = useQueryClient()
const key = computed(() => ['holders', Number(route.params.id)])
const { data: view, isFetched } = useQuery({
  queryKey: key,
  queryFn: () => ok(api.GET('/api/holders/{id}', { params: { path: { id: Number(route.params.id) } } })),
  refetchInterval: 15_000,
})
watchEffect(() => (title.value = view.value?.holder.name ?? ''))
const { mayWith } = useSession()
const mine = computed(() => mayWith('pits'))
const { run, busy, problem } = useAct()
const put = (v: HolderView | undefined) => v && client.setQueryData(key.value, v)

const open = computed(() => view.value?.calibrations.find((k) => !k.saved_at) ?? null)
const saved = computed(() => view.value?.calibrations.filter((k) => k.saved_at) ?? [])
const shown = computed(() => view.value?.calibrations[0] ?? null)
const told = computed(() => view.value?.pan?.told ?? null)
const stands = computed(() => {
  const k = saved.value[0]
  if (!k) return 'Never calibrated: what it holds is not known.'
  const end = view.value!.ends[0]!
  const settles = `At ${typedTemperature({ c: k.dial_c, typed: k.dial_typed })} on the dial it settles at ${temperature(k.settles_c!)}`
  return Date.parse(end) > Date.parse(view.value!.now)
    ? `${settles}. That stands to ${date(end)}.`
    : `${settles}. That ended on ${date(end)}.`
})
const first = computed(() => {
  if (!open.value) return stands.value
  if (!told.value) return 'The pan is in; nothing was read of it yet.'
  return told.value.known ? sentence(told.value.words[0] ?? '') : told.value.why
})
const second = computed(() => (open.value && told.value?.known ? sentence(told.value.words.slice(1).join(' ')) : ''))
async function save() {
  if (!open.value) return
  put(await run(() => ok(api.POST('/api/calibrations/{id}/save', { params: { path: { id: open.value!.id } } }))))
}
async function out() {
  if (!open.value) return
  put(
    await run(() =>
      ok(
        api.POST('/api/calibrations/{id}/void', {
          params: { path: { id: open.value!.id } },
          body: { why: 'taken out without saving' },
        }),
      ),
    ),
  )
}
const rows = computed(() => {
  const t = told.value
  if (!t || !shown.value) return []
  const off = (c: number) => `${c < 0 ? '−' : '+'}${difference(Math.abs(c))}`
  const out: [string, string][] = [['Pan now', temperature(t.now_c)]]
  if (t.climb_c_per_h !== null) out.push(['Climbs/h', off(t.climb_c_per_h)])
  if (t.ripple_c !== null) out.push(['Ripple', difference(t.ripple_c)])
  if (t.low_c !== null) out.push(['Low swing', temperature(t.low_c)])
  if (t.worst_c !== null) out.push(['At worst', temperature(t.worst_c)])
  out.push(['Dial', typedTemperature({ c: shown.value.dial_c, typed: shown.value.dial_typed })])
  if (t.off_dial_c !== null) out.push(['Off the dial', off(t.off_dial_c)])
  if (t.next_dial_c !== null) out.push(['Next dial', temperature(t.next_dial_c)])
  const hours = t.within_1_f_after_h
  if (hours !== null) out.push([`Within ${difference(0.5556)} after`, span(hours)])
  return out
})
useKeys((k) => {
  if (k === 's' && mine.value && open.value && told.value?.known) return (void save(), true)
})
</script>

<template>
  <div v-if="isFetched && view" class="holder">
    <div class="first">
      <p class="small">
        <RouterLink to="/pits">Pits and holders</RouterLink> / <b>{{ view.holder.name }}</b>
        <template v-if="open"
          >, {{ open.channel }} in the water, put in {{ dateTime(open.put_in_at) }} by {{ open.by }}</template
        >
      </p>
      <div class="row">
        <h1 data-testid="holder-first">{{ first }}</h1>
        <Button
          v-if="open && mine"
          class="push"
          :outlined="!told?.stop_now"
          :disabled="!told?.known"
          :loading="busy"
          data-testid="save-pan"
          @click="save"
          ><KeyCap>S</KeyCap> Save it</Button
        >
        <Button v-if="open && mine" outlined label="Take it out, save nothing" :loading="busy" @click="out" />
      </div>
      <p v-if="second" data-testid="holder-second">{{ second }}</p>
      <ProblemNote :problem="problem" />
    </div>
    <div v-if="view.pan && shown" class="desk">
      <PanChart :pan="view.pan" :calibration="shown" :floor="view.floor_c" :now="view.now" />
      <dl class="door" data-testid="pan-numbers">
        <div v-if="told?.settles" class="big-one">
          <dt>Settles at</dt>
          <dd>
            <b>{{ degrees(told.settles.c) }}</b><sup>{{ system }}</sup> ±{{
              difference(Math.max(told.settles.plus_minus_c, 0.06))
            }}
          </dd>
        </div>
        <div v-for="[k, v] in rows" :key="k">
          <dt>{{ k }}</dt>
          <dd class="num">{{ v }}</dd>
        </div>
      </dl>
    </div>
    <PanForm v-if="!open && mine" :view="view" @put="put" />
    <div class="two">
      <section class="board">
        <h2>Calibrations</h2>
        <p v-if="!saved.length" class="soot">None is saved yet.</p>
        <div v-else class="scroll-x" tabindex="0" role="group" aria-label="Calibrations">
          <table data-testid="calibrations">
            <thead>
              <tr>
                <th>Saved</th>
                <th class="right">Dial</th>
                <th class="right">Settles</th>
                <th class="right">Ripple</th>
                <th>For</th>
                <th>Stands to</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(k, i) in saved" :key="k.id">
                <td>{{ date(k.saved_at!) }}, {{ k.by }}</td>
                <td class="num right">{{ degrees(k.dial_c) }}</td>
                <td class="num right">
                  <b>{{ degrees(k.settles_c!) }}</b> ±{{ difference(Math.max(k.half_c!, 0.06)) }}
                </td>
                <td class="num right">{{ difference(k.ripple_c!) }}</td>
                <td>
                  <span :class="k.passes ? 'check' : 'triangle watch'"
                    >{{ k.passes ? 'passes' : 'not' }} at {{ temperature(k.target_c) }}</span
                  >
                </td>
                <td>{{ date(view.ends[i]!) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <section class="board">
        <h2>Holds that rely on it</h2>
        <p v-if="!view.holds.length" class="soot">No cook holds in it yet.</p>
        <ul data-testid="holds">
          <li v-for="h in view.holds" :key="h.run_id">
            <RouterLink :to="`/trials/${h.trial_id}/rest`"
              ><b>{{ h.question }}</b></RouterLink
            >
            <span class="small soot"
              >{{ h.over ? 'was on the table' : 'table' }} {{ dateTime(h.serve_at)
              }}{{ h.set_c ? `, at ${temperature(h.set_c)}` : '' }}</span
            >
            <span :class="h.on.standing === 'stands' ? 'check' : 'triangle watch'">{{ sentence(h.on.words) }}</span>
            <span v-if="h.on.low_c !== null" class="small">
              Low swing {{ temperature(h.on.low_c) }}, at worst {{ temperature(h.on.worst_c!) }}; the floor is
              {{ temperature(view.floor_c) }}.
            </span>
          </li>
        </ul>
      </section>
    </div>
    <p class="small soot foot">
      Passes: within {{ difference(1.667) }} of what it is to hold, and half the ripple under that still over the floor.
      {{ view.source }}. Hot holding at {{ temperature(view.floor_c) }} or over, by USDA FSIS; your local code may ask
      for more.
    </p>
  </div>
</template>

<style scoped>
.first {
  padding: 10px 16px;
  background: var(--trough);
  border-bottom: var(--line-strong) solid var(--ink);
  min-height: 88px;
}
h1 {
  font-size: 26px;
  flex: 1 1 320px;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 236px;
  border-bottom: var(--line-strong) solid var(--ink);
  background: var(--board);
}
.door {
  margin: 0;
  padding: 12px 16px;
  background: var(--iron);
  color: var(--on-iron);
}
.door div {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 4px 0;
}
.door .big-one {
  display: block;
  border-bottom: 1px solid var(--on-iron-2);
}
.big-one b {
  font: 700 54px var(--font-num);
}
dt {
  color: var(--on-iron-2);
}
dd {
  margin: 0;
  font-weight: 700;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(340px, 1fr));
  gap: 16px;
  padding: 16px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  flex-direction: column;
  gap: 2px;
  padding: 8px 0;
  border-top: var(--line) solid var(--grain);
}
li a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
.foot {
  padding: 0 16px 16px;
}
@media (max-width: 800px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
  .two {
    padding: 12px;
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
