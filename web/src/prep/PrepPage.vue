<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CutPrep, CutView, Order } from '../api/schema.gen'
import FromScale from '../match/FromScale.vue'
import { useResolution } from '../match/resolution'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { fixed, shortWeight, signed, typedWeight } from '../ui/units'
import WeightCell from '../ui/WeightCell.vue'
import BenchPaper from './BenchPaper.vue'
import BenchSide from './BenchSide.vue'
import CutPicker from './CutPicker.vue'
import { grams } from './dose'
import DoseEditor from './DoseEditor.vue'
import OrderList from './OrderList.vue'

/** A bench list: one cut at a time, what goes on or into it, weighed before and after. */
const { trial, set, armOf, shut } = useThisTrial()
const resolution = useResolution()
const client = useQueryClient()
const { run, problem } = useAct()
const key = computed(() => ['prep', trial.value.id])
const { data: prep, isFetched: asked } = useQuery({
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
</script>

<template>
  <div v-if="trial.cuts.length && asked" class="bench">
    <CutPicker
      :model-value="cut?.id ?? null"
      class="no-print"
      :cuts="byArm"
      :of="of"
      @update:model-value="picked = $event"
    />
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
        Injected, by the scale: <b class="num">{{ fixed(100 * mine.injected.pickup, 1) }} %</b> picked up, salt in the
        meat <b class="num">{{ fixed(100 * mine.injected.salt_in_meat_after_injection, 2) }} %</b>, give or take
        {{ fixed(100 * mine.injected.u_pickup, 1) }} % of pick-up from the scale.
      </p>
      <p v-if="mine && !mine.weighed" class="warn">
        Not weighed yet: the amounts are for a usual {{ trial.ask.cut }}. Weigh it in Match first.
      </p>
      <OrderList v-if="mine" :mine="mine" :cut="cut" :same-arm="sameArm" @mark="mark" />
      <p v-if="mine && mine.orders.length === 0" class="soot">
        Nothing goes on or into this cut. Say what its arm gets at the side, or weigh it and go on to the fire.
      </p>
      <p v-if="mine?.orders.length" class="total" :class="{ warn: mine.salt.warning }">
        All salt: <b class="num">{{ grams(mine.salt.salt_g) }}</b>,
        <b class="num">{{ fixed(100 * mine.salt.salt_fraction, 2) }} %</b> of
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
      <BenchSide v-if="prep" :prep="prep" />
    </aside>
    <BenchPaper v-if="prep" :prep="prep" :cuts="byArm" :of="of" />
  </div>
  <div v-else-if="asked" class="page stack none">
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
@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
  .scale {
    grid-template-columns: 1fr 1fr;
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
}
</style>
