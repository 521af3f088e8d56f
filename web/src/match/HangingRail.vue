<script setup lang="ts">
import { computed } from 'vue'
import type { CutView } from '../api/schema.gen'
import { dimensionOf, useThisTrial, weighingAt } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { fraction, length, shortWeight, weightDifference } from '../ui/units'

/** Every cut hangs from its block's gambrel; bar length is weight from a true zero. */
const props = defineProps<{ cuts: CutView[]; picked: number | null; over: string | null }>()
const emit = defineEmits<{ pick: [CutView]; swap: [CutView]; drag: [PointerEvent, CutView] }>()
const { armOf } = useThisTrial()

const kg = (c: CutView) => weighingAt(c, 'trimmed')?.kg ?? null
const most = computed(() => Math.max(0.001, ...props.cuts.map((c) => kg(c) ?? 0)))
const groups = computed(() => {
  const out: { pair: string; name: string; cuts: CutView[] }[] = []
  for (const c of props.cuts) {
    const group = c.pair ? out.find((g) => g.pair === c.pair) : undefined
    if (group) group.cuts.push(c)
    else out.push({ pair: c.pair, name: c.animal || (c.pair ? `Block ${c.pair}` : ''), cuts: [c] })
  }
  return out
})
function apart(cuts: CutView[]): string {
  const all = cuts.map(kg)
  return cuts.length > 1 && all.every((v) => v !== null)
    ? `${weightDifference(Math.max(...(all as number[])) - Math.min(...(all as number[])))} apart`
    : ''
}
const cap = (c: CutView) => dimensionOf(c, 'fat_cap')?.value ?? null
/** What stands on a bar, in words. */
const pickLabel = (c: CutView) => {
  const thick = dimensionOf(c, 'thickness')
  const fat = cap(c)
  return [`Pick ${c.name}`, thick && length(thick.value), fat !== null && fraction(fat).replace(' in', ' cap')]
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <div class="rail" role="list" aria-label="Cuts on the rail">
    <div v-for="g in groups" :key="g.cuts[0]!.id" class="gambrel" role="listitem" :style="{ '--cuts': g.cuts.length }">
      <b class="who">{{ g.name }}</b>
      <div class="hooks">
        <div
          v-for="c in g.cuts"
          :key="c.id"
          class="cut"
          :class="{ picked: c.id === picked }"
          :style="{ '--arm': armOf(c) >= 0 ? `var(--arm${armOf(c) + 1})` : 'var(--edge)' }"
        >
          <div class="drop">
            <button
              type="button"
              class="bar"
              :class="{ bare: kg(c) === null }"
              :style="{
                height: `${34 + 112 * ((kg(c) ?? most * 0.6) / most)}px`,
                borderLeftWidth: cap(c) === null ? undefined : `${Math.max(3, Math.min(14, cap(c)! * 900))}px`,
              }"
              :aria-label="pickLabel(c)"
              @click="emit('pick', c)"
            >
              <b class="num">{{ c.name }}</b>
              <span v-if="dimensionOf(c, 'thickness')" class="num">{{
                length(dimensionOf(c, 'thickness')!.value).replace(' ', '\n')
              }}</span>
              <span v-if="cap(c) !== null" class="num small">{{ fraction(cap(c)!).replace(' in', '\ncap') }}</span>
            </button>
            <i class="string" />
          </div>
          <button
            type="button"
            class="tag"
            :class="{ over: over === `cut ${c.id}` }"
            :data-drop="`cut ${c.id}`"
            :aria-label="`Swap ${c.name} to the next arm`"
            @pointerdown="emit('drag', $event, c)"
            @click="emit('swap', c)"
          >
            <ArmToken v-if="armOf(c) >= 0" :place="armOf(c)" />
            <span v-else class="none">?</span>
          </button>
          <span class="weight">{{ kg(c) === null ? 'not weighed' : shortWeight(kg(c)!) }}</span>
        </div>
      </div>
      <span class="apart">{{ apart(g.cuts) }}</span>
    </div>
    <div v-if="cuts.length === 0" class="gambrel empty" aria-hidden="true">
      <b class="who">&nbsp;</b>
      <div class="hooks">
        <div v-for="i in 2" :key="i" class="cut"><span class="bar bare" style="height: 130px" /></div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.rail {
  display: flex;
  overflow-x: auto;
  padding: 4px 8px 12px;
  background: var(--board);
}
.gambrel {
  flex: 1 0 auto;
  min-width: 110px;
  max-width: max(240px, var(--cuts) * 72px);
  padding: 0 2px;
  text-align: center;
}
.who {
  font: 700 15px var(--font-head);
}
.hooks {
  display: flex;
  justify-content: center;
  gap: 4px;
  border-top: 6px solid var(--ink);
  margin-top: 4px;
  padding-top: 10px;
}
.cut {
  flex: 1 0 58px;
  max-width: 68px;
  display: flex;
  flex-direction: column;
  align-items: center;
}
.drop {
  height: 152px;
  display: flex;
  flex-direction: column;
  align-items: center;
}
.string {
  flex: 1;
  width: 2px;
  background: var(--arm);
  margin-top: -3px;
}
.bar {
  width: 48px;
  border: 2.5px solid var(--arm);
  background: color-mix(in srgb, var(--arm) var(--arm-wash), var(--board));
  clip-path: polygon(0 0, 100% 0, 100% calc(100% - 10px), 50% 100%, 0 calc(100% - 10px));
  padding: 6px 0;
  cursor: pointer;
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 2px;
  white-space: pre-line;
  line-height: 1.1;
}
.bar.bare {
  border-style: dashed;
  background: none;
}
.picked .bar {
  outline: 3px solid var(--focus);
  clip-path: none;
}
.tag {
  background: none;
  border: 0;
  padding: 0 0 2px;
  min-height: 48px;
  min-width: 44px;
  cursor: grab;
  touch-action: none;
  display: grid;
  place-items: center;
}
.tag.over {
  background: var(--trough);
}
.none {
  border: 2px dashed var(--edge);
  width: 28px;
  height: 30px;
  display: grid;
  place-items: center;
  font-weight: 700;
}
.weight {
  font: 700 13px/1.15 var(--font-num);
  letter-spacing: -0.3px;
  white-space: nowrap;
}
.apart {
  color: var(--soot);
  font-size: 13px;
}
</style>
