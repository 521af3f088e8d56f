<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Heard, HeardTaster } from '../api/schema.gen'
import ArmToken from '../ui/ArmToken.vue'
import { keptApart } from '../ui/apart'

/** What each taster gave each arm, joined; the mean of the whole tasters thick; who puts another arm first in ink. */
const { heard, tags } = defineProps<{ heard: Heard; tags: string[] }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const height = 210
const left = 24
const top = 10
const base = height - 12
const mostNames = 12
const named = computed(() => heard.tasters.length <= mostNames)
const right = computed(() => Math.max(left + 60, width.value - (named.value ? 112 : 24)))
const known = (m: (number | null)[]) => m.filter((v) => v !== null)
const all = computed(() => heard.tasters.flatMap((t) => known(t.means)))
const low = computed(() => Math.max(1, Math.floor(Math.min(...all.value) - 0.25)))
const high = computed(() => Math.max(low.value + 2, Math.ceil(Math.max(...all.value))))
const scores = computed(() => Array.from({ length: high.value - low.value + 1 }, (_, i) => low.value + i))
const x = (arm: number) => left + 24 + (arm / Math.max(tags.length - 1, 1)) * (right.value - left - 40)
const y = (v: number) => base - ((v - low.value) / (high.value - low.value)) * (base - top)
const path = (means: (number | null)[]) =>
  means
    .flatMap((v, i) => (v === null ? [] : [`${x(i).toFixed(1)} ${y(v).toFixed(1)}`]))
    .map((p, i) => (i ? 'L' : 'M') + p)
    .join('')
const best = computed(() => {
  const m = heard.means
  return m.reduce<number>((b, v, i) => ((v ?? 0) > (m[b] ?? 0) ? i : b), 0)
})
const parts = (t: HeardTaster) => !t.open && t.first >= 0 && t.first !== best.value
const lines = computed(() =>
  keptApart(
    heard.tasters
      .filter((t) => known(t.means).length > 0)
      .map((t) => {
        const end = t.means.reduce<number>((last, v, i) => (v === null ? last : i), 0)
        return {
          name: t.taster,
          d: path(t.means),
          means: t.means,
          parts: parts(t),
          open: t.open,
          x: x(end),
          y: y(t.means[end]!),
        }
      }),
    16,
    base,
  ),
)
</script>

<template>
  <div ref="box" class="lines">
    <svg
      v-if="width > 0"
      :viewBox="`0 0 ${width} ${height}`"
      :height="height"
      role="img"
      :aria-label="heard.said.join(' ')"
    >
      <g v-for="s in scores" :key="s">
        <path :d="`M${left} ${y(s)}H${right}`" class="grid" />
        <text :x="left - 8" :y="y(s) + 5" class="score">{{ s }}</text>
      </g>
      <path v-for="(_, i) in tags" :key="i" :d="`M${x(i)} ${top}V${base}`" class="grid" />
      <g v-for="l in lines" :key="l.name" :class="{ parts: l.parts, open: l.open }">
        <path :d="l.d" class="one" />
        <template v-for="(v, i) in l.means" :key="i">
          <circle v-if="v !== null" :cx="x(i)" :cy="y(v)" r="3.5" />
        </template>
        <template v-if="named">
          <path :d="`M${l.x + 5} ${l.y}L${right + 6} ${l.at}`" class="lead" />
          <text :x="right + 9" :y="l.at + 5" class="name">{{ l.name }}</text>
        </template>
      </g>
      <path v-if="heard.whole > 1" :d="path(heard.means)" class="mean" />
    </svg>
    <template v-if="width > 0 && heard.whole > 1">
      <span
        v-for="(v, i) in heard.means"
        :key="i"
        class="at"
        :style="{ left: `${x(i) - 11}px`, top: `${y(v ?? low) - 11}px` }"
        ><ArmToken :place="i" :size="22"
      /></span>
    </template>
  </div>
</template>

<style scoped>
.lines {
  position: relative;
  min-height: 210px; /* of the picture, which waits for its width */
}
svg {
  display: block;
  width: 100%;
}
.open .one {
  stroke-dasharray: 5 4;
}
.grid {
  stroke: var(--edge-soft, var(--edge));
  stroke-width: 1;
  fill: none;
  opacity: 0.45;
}
.score,
.name {
  font-size: 13px;
  fill: var(--ink);
}
.score {
  text-anchor: end;
}
.one {
  fill: none;
  stroke: var(--soot);
  stroke-width: 1.2;
}
circle {
  fill: var(--soot);
}
.lead {
  stroke: var(--edge);
  stroke-width: 0.8;
}
.parts .one {
  stroke: var(--ink);
  stroke-width: 2.2;
}
.parts circle {
  fill: var(--ink);
}
.parts .name {
  font-weight: 700;
}
.mean {
  fill: none;
  stroke: var(--ink);
  stroke-width: 4;
}
.at {
  position: absolute;
  line-height: 0;
}
</style>
