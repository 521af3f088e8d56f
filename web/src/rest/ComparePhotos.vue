<script setup lang="ts">
import Slider from 'primevue/slider'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import type { CutView, Event } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { clock } from '../ui/time'

/** Photos of two arms side by side under one frame, with a slider between them; by stage. */
const { cuts } = defineProps<{ cuts: CutView[] }>()
const { trial, armOf } = useThisTrial()
const stages = [
  { key: 'raw', name: 'raw' },
  { key: 'fire', name: 'on the fire' },
  { key: 'off', name: 'off' },
  { key: 'cut', name: 'cut' },
] as const
type Stage = (typeof stages)[number]['key']
const when = (c: number, act: Event['act']) => {
  const e = trial.value.events.find((e) => e.cut_id === c && e.act === act)
  return e ? Date.parse(e.at) : Infinity
}
const stageOf = (e: Event): Stage => {
  const t = Date.parse(e.at)
  const id = e.cut_id!
  if (t >= when(id, 'carve')) return 'cut'
  if (t >= when(id, 'pull')) return 'off'
  return t >= when(id, 'on') ? 'fire' : 'raw'
}
const photos = computed(() =>
  trial.value.events
    .filter((e) => e.act === 'photo' && e.detail.photo_id && cuts.some((c) => c.id === e.cut_id))
    .map((e) => {
      const cut = cuts.find((c) => c.id === e.cut_id)!
      return { id: e.detail.photo_id!, at: e.at, cut: cut.name, arm: armOf(cut), stage: stageOf(e) }
    }),
)
const there = computed(() => stages.filter((s) => photos.value.some((p) => p.stage === s.key)))
const wanted = ref<Stage>()
const stage = computed(() => (there.value.some((s) => s.key === wanted.value) ? wanted.value : there.value.at(-1)?.key))
const of = (arm: number) => photos.value.filter((p) => p.arm === arm && p.stage === stage.value).at(-1)
const arms = computed(() =>
  trial.value.ask.arms.map((a, i) => ({ label: a.tag, value: i })).filter((o) => of(o.value) !== undefined),
)
const left = ref<number>()
const right = ref<number>()
const one = computed(() => of(left.value ?? arms.value[0]?.value ?? -1) ?? of(arms.value[0]?.value ?? -1))
const other = computed(() => of(right.value ?? arms.value[1]?.value ?? -1))
const share = ref(50)
</script>

<template>
  <section v-if="photos.length" class="photos no-print" data-testid="photos">
    <div class="row">
      <h2>Looks, side by side</h2>
      <SelectButton
        v-if="there.length > 1"
        :model-value="stage"
        :options="there"
        option-label="name"
        option-value="key"
        :allow-empty="false"
        aria-label="Stage"
        @update:model-value="(s: Stage) => (wanted = s)"
      />
      <template v-if="arms.length > 1">
        <SelectButton
          :model-value="one?.arm"
          :options="arms"
          option-label="label"
          option-value="value"
          :allow-empty="false"
          aria-label="Left"
          @update:model-value="(a: number) => (left = a)"
        />
        <SelectButton
          :model-value="other?.arm"
          :options="arms"
          option-label="label"
          option-value="value"
          :allow-empty="false"
          aria-label="Right"
          @update:model-value="(a: number) => (right = a)"
        />
      </template>
    </div>
    <div class="frame">
      <img v-if="one" :src="`/api/photos/${one.id}`" :alt="`${one.cut}, ${clock(one.at)}`" />
      <img
        v-if="other"
        :src="`/api/photos/${other.id}`"
        :alt="`${other.cut}, ${clock(other.at)}`"
        :style="{ clipPath: `inset(0 0 0 ${share}%)` }"
      />
      <i v-if="other" class="edge" :style="{ left: `${share}%` }" />
    </div>
    <Slider v-if="other" v-model="share" aria-label="Where the two meet" class="slider" />
    <p v-if="one" class="small">
      {{ one.cut }}, {{ clock(one.at) }}<template v-if="other">; {{ other.cut }}, {{ clock(other.at) }}</template>
    </p>
  </section>
</template>

<style scoped>
.photos {
  padding: 10px 16px;
}
.frame {
  position: relative;
  max-width: 640px;
  aspect-ratio: 4 / 3;
  background: var(--trough);
  margin: 8px 0;
}
.frame img {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.edge {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 3px solid var(--ember);
}
.slider {
  max-width: 640px;
  margin: 14px 0;
}
</style>
