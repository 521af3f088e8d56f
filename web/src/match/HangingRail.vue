<script setup lang="ts">
import { computed } from 'vue'
import type { CutView } from '../api/schema.gen'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { weight, weightDifference } from '../ui/units'

/** Every cut hangs from its pair's gambrel; bar length is weight from a true zero. */
const props = defineProps<{ cuts: CutView[]; picked: number | null }>()
const emit = defineEmits<{ pick: [CutView]; swap: [CutView] }>()
const { armOf } = useThisTrial()

const kg = (c: CutView) => weighingAt(c, 'trimmed')?.kg ?? null
const most = computed(() => Math.max(0.001, ...props.cuts.map((c) => kg(c) ?? 0)))
const groups = computed(() => {
  const out: { pair: string; name: string; cuts: CutView[] }[] = []
  for (const c of props.cuts) {
    const group = c.pair ? out.find((g) => g.pair === c.pair) : undefined
    if (group) group.cuts.push(c)
    else out.push({ pair: c.pair, name: c.animal || (c.pair ? `Pair ${c.pair}` : ''), cuts: [c] })
  }
  return out
})
function apart(cuts: CutView[]): string {
  const [a, b] = cuts.map(kg)
  return cuts.length === 2 && a != null && b != null ? `${weightDifference(a - b)} apart` : ''
}
</script>

<template>
  <div class="rail" role="list" aria-label="Cuts on the rail">
    <div v-for="g in groups" :key="g.cuts[0]!.id" class="gambrel" role="listitem">
      <b class="who">{{ g.name }}</b>
      <div class="hooks">
        <div
          v-for="c in g.cuts"
          :key="c.id"
          class="cut"
          :class="{ picked: c.id === picked }"
          :style="{ '--arm': armOf(c) >= 0 ? `var(--arm${armOf(c) + 1})` : 'var(--edge)' }"
        >
          <button
            type="button"
            class="bar"
            :class="{ bare: kg(c) === null }"
            :style="{ height: `${30 + 190 * ((kg(c) ?? most * 0.6) / most)}px` }"
            :aria-label="`Pick ${c.name}`"
            @click="emit('pick', c)"
          >
            <b class="num">{{ c.name }}</b>
          </button>
          <button type="button" class="tag" :aria-label="`Swap ${c.name} to the other arm`" @click="emit('swap', c)">
            <ArmToken v-if="armOf(c) >= 0" :place="armOf(c)" />
            <span v-else class="none">?</span>
          </button>
          <span class="weight">{{ kg(c) === null ? 'not weighed' : weight(kg(c)!).replace(' lb ', ' lb\n') }}</span>
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
  flex: 1 0 112px;
  max-width: 190px;
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
  width: 54px;
  display: flex;
  flex-direction: column;
  align-items: center;
}
.bar {
  width: 46px;
  border: 2.5px solid var(--arm);
  background: color-mix(in srgb, var(--arm) var(--arm-wash), var(--board));
  clip-path: polygon(0 0, 100% 0, 100% calc(100% - 12px), 50% 100%, 0 calc(100% - 12px));
  border-bottom-width: 14px;
  padding: 8px 0 0;
  display: flex;
  justify-content: center;
  cursor: pointer;
}
.bar.bare {
  border-style: dashed;
  border-bottom-width: 2.5px;
  background: none;
  clip-path: none;
}
.picked .bar {
  background: color-mix(in srgb, var(--arm) 35%, var(--board));
  box-shadow: inset 0 0 0 3px var(--arm);
}
.tag {
  border: 0;
  background: none;
  cursor: pointer;
  min-width: 48px;
  min-height: 48px;
  display: grid;
  place-items: center;
}
.none {
  border: 2px dashed var(--edge);
  width: 28px;
  height: 30px;
  line-height: 28px;
}
.weight {
  font-size: 13px;
  font-weight: 700;
  line-height: 1.2;
  white-space: pre-line;
}
.apart {
  font-size: 13px;
  color: var(--soot);
}
</style>
