<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutPrep, CutView, Order } from '../api/schema.gen'
import FromScale from '../match/FromScale.vue'
import { useResolution } from '../match/resolution'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, date } from '../ui/time'
import { shortWeight, signed, typedWeight } from '../ui/units'
import WeightCell from '../ui/WeightCell.vue'
import { figure, grams, ounces } from './dose'
import DoseEditor from './DoseEditor.vue'

/** A bench list: one cut at a time, what goes on or into it, weighed before and after. */
const { trial, set, armOf, shut } = useThisTrial()
const resolution = useResolution()
const client = useQueryClient()
const { run, problem } = useAct()
const key = computed(() => ['prep', trial.value.id])
const { data: prep } = useQuery({
  queryKey: key,
  queryFn: () => ok(api.GET('/api/trials/{id}/prep', { params: { path: { id: trial.value.id } } })),
})
const again = () => client.invalidateQueries({ queryKey: ['prep'] })
// Weights, arms and doses change what is to be weighed out.
watch(() => trial.value, again)

const picked = ref<number | null>(null)
const cut = computed(() => trial.value.cuts.find((c) => c.id === picked.value) ?? trial.value.cuts[0] ?? null)
const of = (c: CutView | null): CutPrep | undefined => prep.value?.cuts.find((p) => p.cut_id === c?.id)
const mine = computed(() => of(cut.value))
const markOf = (p: CutPrep | undefined, o: Order) => p?.marks.find((m) => m.dose === o.key)
const doneOf = (c: CutView) => of(c)?.orders.filter((o) => markOf(of(c), o)).length ?? 0
const byArm = computed(() =>
  [...trial.value.cuts].sort(
    (a, b) => armOf(a) - armOf(b) || a.name.localeCompare(b.name, undefined, { numeric: true }),
  ),
)

async function mark(o: Order, cuts: CutView[]) {
  const done = !markOf(mine.value, o)
  const v = await run(() =>
    ok(
      api.POST('/api/trials/{id}/prep-marks', {
        params: { path: { id: trial.value.id } },
        body: { cut_ids: cuts.map((c) => c.id), dose: o.key, done, at: null },
      }),
    ),
  )
  if (v) client.setQueryData(key.value, v)
}
const sameArm = computed(() => trial.value.cuts.filter((c) => cut.value && c.arm_id === cut.value.arm_id))

/** Takes what a scale shows: before it is prepped while that is missing, else after. */
async function weigh(shows: string) {
  const stage = weighingAt(cut.value!, 'trimmed') ? 'prepped' : 'trimmed'
  set(
    await run(() =>
      ok(
        api.POST('/api/cuts/{id}/weighings', {
          params: { path: { id: cut.value!.id } },
          body: { stage, weight: shows, resolution: resolution.value },
        }),
      ),
    ),
  )
}
async function declare() {
  const ask = { ...trial.value.ask, allergens: [...trial.value.ask.allergens, ...prep.value!.undeclared] }
  set(await run(() => ok(api.PUT('/api/trials/{id}/ask', { params: { path: { id: trial.value.id } }, body: ask }))))
}
useKeys((k) => {
  const at = byArm.value.findIndex((c) => c.id === cut.value?.id)
  if (k === 'ArrowDown' || k === 'ArrowUp') {
    const next = byArm.value[at + (k === 'ArrowDown' ? 1 : -1)]
    if (next) picked.value = next.id
    return true
  }
  const o = mine.value?.orders[Number(k) - 1]
  if (!o || shut.value) return false
  void mark(o, [cut.value!])
  return true
})
const rest = (o: Order) => o.numbers.slice(1)
const print = () => window.print()
</script>

<template>
  <div v-if="trial.cuts.length" class="bench">
    <nav class="cuts no-print" aria-label="Cuts">
      <button
        v-for="c in byArm"
        :key="c.id"
        type="button"
        :class="{ here: c.id === cut?.id }"
        :data-testid="`bench-${c.name}`"
        @click="picked = c.id"
      >
        <ArmToken v-if="armOf(c) >= 0" :place="armOf(c)" :size="19" />
        <b class="num">{{ c.name }}</b>
        <span
          v-if="of(c)"
          class="small push num"
          :class="{ check: of(c)!.orders.length && doneOf(c) === of(c)!.orders.length }"
          >{{ doneOf(c) }}/{{ of(c)!.orders.length }}</span
        >
      </button>
    </nav>
    <section v-if="cut" class="one no-print" data-testid="bench-cut">
      <div class="row">
        <h1 class="num">{{ cut.name }}</h1>
        <ArmName v-if="armOf(cut) >= 0" :place="armOf(cut)" :tag="trial.ask.arms[armOf(cut)]!.tag" :size="24" />
        <span class="soot">{{ cut.animal }} {{ cut.side }}</span>
        <label class="row push small"
          >Scale step <InputText v-model="resolution" class="mono-input step" aria-label="Scale step"
        /></label>
      </div>
      <ProblemNote :problem="problem" />
      <div class="scale">
        <div>
          <span class="label">Before</span>
          <b v-if="weighingAt(cut, 'trimmed')" class="huge">{{ typedWeight(weighingAt(cut, 'trimmed')!) }}</b>
          <WeightCell v-else :key="`b${cut.id}`" :cut="cut" stage="trimmed" label="Weight before" />
        </div>
        <div>
          <span class="label">After, prepped</span>
          <WeightCell :key="cut.id" :cut="cut" stage="prepped" label="Prepped weight" />
        </div>
        <div>
          <span class="label">Picked up</span>
          <b class="huge" data-testid="pick-up">{{
            cut.account.pick_up ? `${signed(100 * cut.account.pick_up.value, 1)} %` : '–'
          }}</b>
        </div>
      </div>
      <div class="row"><FromScale @take="(w) => weigh(w)" /></div>
      <p v-if="mine?.injected">
        Injected, by the scale: <b class="num">{{ (100 * mine.injected.pickup).toFixed(1) }} %</b> picked up, salt in
        the meat <b class="num">{{ (100 * mine.injected.salt_in_meat_after_injection).toFixed(2) }} %</b>, give or take
        {{ (100 * mine.injected.u_pickup).toFixed(1) }} % of pick-up from the scale.
      </p>
      <p v-if="mine && !mine.weighed" class="warn">
        Not weighed yet: the amounts are for a usual {{ trial.ask.cut }}. Weigh it in Match first.
      </p>
      <ol v-if="mine" class="orders">
        <li v-for="(o, i) in mine.orders" :key="o.key" class="order" :class="{ done: markOf(mine, o) }">
          <KeyCap class="cap">{{ i + 1 }}</KeyCap>
          <div class="main">
            <span class="huge">{{ o.numbers[0] ? figure(o.numbers[0]) : '' }}</span>
            <span v-if="o.numbers[0]" class="num soot oz">{{ ounces(o.numbers[0]) }}</span>
            <b class="what">{{ o.name }}{{ o.salted ? `, ${o.salted}` : '' }}</b>
            <span class="small soot">{{ o.kind }}</span>
          </div>
          <p class="rest">
            <span v-for="n in rest(o)" :key="n.label"
              ><span class="soot">{{ n.label }}</span> <b class="num">{{ figure(n) }}</b></span
            >
          </p>
          <p v-if="o.lines.length" class="rest">
            <span v-for="l in o.lines" :key="l.name"
              ><b class="num">{{ grams(l.g) }}</b> {{ l.name }}</span
            >
          </p>
          <p v-if="o.caution" class="small caution">{{ o.caution }}</p>
          <div class="acts">
            <Button
              :label="markOf(mine, o) ? 'Take back' : 'Done'"
              :outlined="!!markOf(mine, o)"
              :disabled="shut"
              :data-testid="`done-${i}`"
              @click="mark(o, [cut])"
            />
            <span v-if="markOf(mine, o)" class="small check" role="status"
              >{{ markOf(mine, o)!.by }}, {{ date(markOf(mine, o)!.at) }} {{ clock(markOf(mine, o)!.at) }}</span
            >
            <Button
              v-else-if="sameArm.length > 1"
              :label="`Done to all ${sameArm.length} of this arm`"
              size="small"
              text
              :disabled="shut"
              @click="mark(o, sameArm)"
            />
          </div>
        </li>
      </ol>
      <p v-if="mine && mine.orders.length === 0" class="soot">
        Nothing goes on or into this cut. Say what its arm gets at the side, or weigh it and go on to the fire.
      </p>
      <p v-if="mine?.orders.length" class="total" :class="{ warn: mine.salt.warning }">
        All salt: <b class="num">{{ grams(mine.salt.salt_g) }}</b>,
        <b class="num">{{ (100 * mine.salt.salt_fraction).toFixed(2) }} %</b> of
        <span class="num">{{ shortWeight(mine.meat_g / 1000) }}</span>{{ mine.boneless ? ' without its bone' : '' }}.
        {{ mine.salt.warning }}
      </p>
      <p v-if="mine" class="small soot">
        By its weight, frozen it thaws in the fridge in about {{ Math.round(mine.lead.thaw_in_the_fridge_h) }} h (a day
        for 5 lb: USDA FSIS, The Big Thaw); by its thickness a dry brine wants about
        {{ Math.round(mine.lead.dry_brine_h) }} h, a wet one {{ Math.round(mine.lead.brine_h) }} h (rules of thumb).
      </p>
      <p class="warn">
        Keep meat below 40 F until it goes on. What is left of an injection or brine that met raw meat is thrown away.
        Injected or pierced meat is no longer whole muscle: say so in Ask, and its minimum follows. Check your local
        code.
      </p>
    </section>
    <aside class="side stack no-print">
      <DoseEditor @kept="again" />
      <section v-if="prep" class="stack">
        <h2>Allergens</h2>
        <p v-if="prep.allergens.length">
          In what is used: <b>{{ prep.allergens.join(', ') }}</b>.
        </p>
        <p v-else class="soot">None in what is used, as far as the pantry says.</p>
        <div v-if="prep.undeclared.length && !shut" class="warn row" data-testid="undeclared">
          <span>Tasters are not told of {{ prep.undeclared.join(', ') }}.</span>
          <Button label="Declare for all samples" size="small" outlined @click="declare" />
        </div>
        <template v-if="prep.wood.length">
          <h2>For the fire</h2>
          <p v-for="w in prep.wood" :key="`${w.cook_id}${w.pit}`">
            {{ w.pit }}: <template v-if="w.fuel_kg">{{ shortWeight(w.fuel_kg) }} {{ w.fuel }}, </template
            ><b class="num">{{ w.wood }}</b> of wood<template v-if="w.water_kg"
              >, {{ shortWeight(w.water_kg) }} water</template
            >
          </p>
        </template>
        <template v-if="prep.shopping.lines.length">
          <h2>To have in the house</h2>
          <table data-testid="shopping">
            <tbody>
              <tr v-for="b in prep.shopping.lines" :key="b.name">
                <td>{{ b.name }}</td>
                <td class="num right">{{ grams(b.need_g) }}</td>
                <td class="num right">{{ b.packs ? `${b.packs} ${b.packs === 1 ? 'pack' : 'packs'}` : '' }}</td>
                <td class="num right">{{ b.cost_cents ? (b.cost_cents / 100).toFixed(2) : '' }}</td>
              </tr>
              <tr>
                <td><b>Together</b></td>
                <td />
                <td />
                <td class="num right">
                  <b>{{ (prep.shopping.cost_cents / 100).toFixed(2) }}</b>
                </td>
              </tr>
            </tbody>
          </table>
        </template>
        <div class="row">
          <Button label="Print the bench list" outlined @click="print" />
          <RouterLink to="/pantry">Pantry</RouterLink>
        </div>
      </section>
    </aside>
    <div v-if="prep" class="paper">
      <h1>Bench list: {{ trial.ask.question }}</h1>
      <table>
        <tbody v-for="c in byArm" :key="c.id">
          <tr v-for="(o, i) in of(c)?.orders ?? []" :key="o.key">
            <td>
              <template v-if="i === 0"
                ><ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" />
                <b class="num name">{{ c.name }}</b></template
              >
            </td>
            <td class="num amount">{{ o.numbers[0] ? figure(o.numbers[0]) : '' }}</td>
            <td>
              <b class="dose">{{ o.name }}</b>
              <span class="small">{{
                rest(o)
                  .map((n) => `${n.label} ${figure(n)}`)
                  .join(', ')
              }}</span>
            </td>
            <td class="box"><i /></td>
          </tr>
        </tbody>
      </table>
      <p class="small">
        Below 40 F until it goes on. Left-over injection or brine that met raw meat is thrown away. Allergens:
        {{ prep.allergens.join(', ') || 'none known' }}.
      </p>
    </div>
  </div>
  <div v-else class="page stack none">
    <p class="soot">No cut hangs yet. Hang them in Match; what each arm gets can be said already.</p>
    <DoseEditor />
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 400px;
  min-height: calc(100vh - 96px);
}
.cuts {
  border-right: var(--line) solid var(--edge);
}
.cuts button {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 48px;
  padding: 4px 12px;
  border: 0;
  border-bottom: var(--line) solid var(--grain);
  background: none;
  cursor: pointer;
  font-size: 19px;
}
.cuts .here {
  background: var(--board);
  box-shadow: inset 4px 0 0 var(--ink);
}
.one {
  display: flex;
  flex-direction: column;
  gap: 14px;
  padding: 16px;
}
h1.num {
  font-size: 40px;
}
.step {
  width: 90px;
}
.scale {
  display: grid;
  grid-template-columns: repeat(3, auto);
  justify-content: space-between;
  gap: 8px 24px;
  background: var(--board);
  padding: 12px 16px;
}
.scale > div {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
.huge {
  font: 700 31px/1.2 var(--font-num);
}
.orders {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--board);
}
.order {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr) auto;
  gap: 2px 8px;
  align-items: center;
  padding: 12px 16px 12px 12px;
  border-top: var(--line) solid var(--edge);
}
.order.done {
  background: var(--trough);
}
.cap {
  justify-self: start;
}
.main {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 10px;
}
.what {
  font-size: 19px;
}
.rest,
.caution {
  grid-column: 2;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
}
.caution {
  color: var(--watch);
}
.acts {
  grid-column: 3;
  grid-row: 1 / span 3;
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 4px;
}
.total {
  padding: 10px 16px;
}
.side {
  border-left: var(--line-strong) solid var(--ink);
  background: var(--board);
  padding: 16px;
}
.none {
  max-width: 560px;
  margin: 0;
}
.paper {
  display: none;
}
@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
  .cuts {
    display: flex;
    overflow-x: auto;
    border-right: 0;
  }
  .cuts button {
    width: auto;
    min-height: 56px;
    border-right: var(--line) solid var(--grain);
  }
  .scale {
    grid-template-columns: 1fr 1fr;
  }
  .order {
    grid-template-columns: 36px minmax(0, 1fr);
  }
  .acts {
    grid-column: 2;
    grid-row: auto;
    align-items: flex-start;
  }
  .side {
    border-left: 0;
    border-top: var(--line-strong) solid var(--ink);
  }
}
@media print {
  .bench {
    display: block;
  }
  .paper {
    display: block;
  }
  .paper td {
    vertical-align: top;
    font-size: 16px;
  }
  .paper tbody {
    break-inside: avoid;
    border-top: 2px solid #000;
  }
  .paper .dose {
    margin-right: 10px;
  }
  .paper .name {
    font-size: 26px;
    margin-left: 10px;
  }
  .paper .amount {
    font-size: 24px;
    font-weight: 700;
    white-space: nowrap;
  }
  .box i {
    display: block;
    width: 24px;
    height: 24px;
    border: 2px solid #000;
  }
}
</style>
