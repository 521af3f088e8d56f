<script setup lang="ts">
import Slider from 'primevue/slider'
import { computed, inject } from 'vue'
import { useThisTrial } from '../trial/trial'
import { toC, toF } from '../ui/units'
import { draftKey } from './draft'
import { fixed, spanText } from './rail'
import { system } from '../ui/settings'

/** Three sliders over all arms: how hot, when wrapped, how long held. */
const { shut } = useThisTrial()
const { draft, stretch } = inject(draftKey)!
const arms = computed(() => draft.value!.outline.arms)

const fahrenheit = (typed: string): number | null => {
  const m = /^(-?[\d.,]+)\s*([FC])$/i.exec(typed.trim())
  if (!m) return null
  const v = Number(m[1]!.replace(',', '.'))
  return m[2]!.toUpperCase() === 'F' ? v : toF(v)
}
const write = (f: number) => (system.value === 'F' ? `${Math.round(f)} F` : `${Math.round(toC(f))} C`)

const heat = computed({
  get: () => fahrenheit(draft.value!.runs[0]?.set_point ?? '') ?? 250,
  set: (f: number) => {
    for (const r of draft.value!.runs) r.set_point = write(f)
    for (const a of arms.value) for (const p of a.phases) if (p.kind === 'smoke') p.set_typed = write(f)
  },
})
/** Where the heat is what is asked about, one slider would take the question away. */
const oneHeat = computed(
  () =>
    new Set(arms.value.flatMap((a) => a.phases.filter((p) => p.kind === 'smoke').map((p) => fahrenheit(p.set_typed))))
      .size === 1,
)
/** The core at which the first wrapped phase begins: the end of the one before. */
const wrapEnds = computed(() =>
  arms.value.flatMap((a) => {
    const at = a.phases.findIndex((p) => p.kind === 'smoke' && p.wrap)
    const before = at > 0 ? a.phases[at - 1]! : undefined
    return before?.kind === 'smoke' ? before.ends.filter((c) => c.watch === 'core') : []
  }),
)
const wrap = computed({
  get: () => fahrenheit(wrapEnds.value[0]?.typed ?? '') ?? 165,
  set: (f: number) => {
    for (const c of wrapEnds.value) c.typed = write(f)
  },
})
const holds = computed(() =>
  arms.value.flatMap((a, arm) =>
    a.phases.flatMap((p, phase) => (p.kind === 'hold' && fixed(p) !== null ? [{ arm, phase, s: fixed(p)! }] : [])),
  ),
)
const hold = computed({
  get: () => (holds.value[0]?.s ?? 0) / 3600,
  set: (h: number) => {
    for (const x of holds.value)
      if (fixed(arms.value[x.arm]!.phases[x.phase]!) !== h * 3600) stretch(x.arm, x.phase, h * 3600)
  },
})
</script>

<template>
  <section class="what-if" data-testid="what-if">
    <div v-if="oneHeat" class="one">
      <span id="wi-heat">Pits at</span><b class="num">{{ write(heat) }}</b>
      <Slider v-model="heat" :min="200" :max="350" :step="5" aria-labelledby="wi-heat" :disabled="shut" />
    </div>
    <div v-if="wrapEnds.length" class="one">
      <span id="wi-wrap">Wrap at</span><b class="num">{{ write(wrap) }}</b>
      <Slider v-model="wrap" :min="130" :max="195" :step="1" aria-labelledby="wi-wrap" :disabled="shut" />
    </div>
    <div v-if="holds.length" class="one">
      <span id="wi-hold">Hold</span><b class="num" data-testid="hold-hours">{{ spanText(hold * 3600) }}</b>
      <Slider
        v-model="hold"
        :min="0.25"
        :max="14"
        :step="0.25"
        aria-labelledby="wi-hold"
        :disabled="shut"
        data-testid="hold-slider"
      />
    </div>
  </section>
</template>

<style scoped>
.what-if {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 8px 28px;
  padding: 10px 16px 14px;
}
.one {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 10px 8px;
  align-items: baseline;
}
.one > :last-child {
  grid-column: 1 / -1;
}
b {
  font-size: 20px;
}
</style>
