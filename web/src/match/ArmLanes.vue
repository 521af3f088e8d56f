<script setup lang="ts">
import type { CutView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import KeyCap from '../ui/KeyCap.vue'
import { weight } from '../ui/units'
import { useLayout } from './layout'

/** Arms as lanes: a cut is dropped into one, or sent there by the arm's number. */
defineProps<{ cuts: CutView[]; picked: number | null; over: string | null }>()
const emit = defineEmits<{ pick: [CutView]; put: [CutView, number]; drag: [PointerEvent, CutView] }>()
const { trial, armOf } = useThisTrial()
const { fixed } = useLayout()
const mean = (i: number) => trial.value.balance.covariates[0]?.arms[i]?.mean ?? null
</script>

<template>
  <div class="lanes">
    <div
      v-for="(a, i) in trial.ask.arms"
      :key="a.id"
      class="lane"
      :class="{ over: over === `arm ${a.id}` }"
      :data-drop="`arm ${a.id}`"
      :data-testid="`lane-${a.tag}`"
    >
      <button
        type="button"
        class="head"
        :disabled="fixed || picked === null"
        :aria-label="`Put the picked cut into ${a.tag}`"
        @click="
          emit(
            'put',
            cuts.find((c) => c.id === picked)!,
            a.id,
          )
        "
      >
        <KeyCap>{{ i + 1 }}</KeyCap> <ArmName :place="i" :tag="a.tag" />
      </button>
      <div class="chips">
        <button
          v-for="c in cuts.filter((c) => armOf(c) === i)"
          :key="c.id"
          type="button"
          class="chip num"
          :class="{ picked: c.id === picked }"
          :style="{ '--arm': `var(--arm${i + 1})` }"
          @pointerdown="emit('drag', $event, c)"
          @click="emit('pick', c)"
        >
          {{ c.name }}
        </button>
      </div>
      <b class="num mean">{{ mean(i) === null ? '–' : weight(mean(i)!) }}</b>
    </div>
  </div>
</template>

<style scoped>
.lanes {
  background: var(--board);
  border-top: var(--line) solid var(--edge);
}
.lane {
  display: grid;
  grid-template-columns: 140px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  padding: 1px 16px;
  border-top: var(--line) solid var(--grain);
}
.lane.over {
  background: var(--trough);
}
.head {
  display: flex;
  gap: 8px;
  align-items: center;
  background: none;
  border: 0;
  padding: 0;
  min-height: 36px;
  cursor: pointer;
}
.head:disabled {
  cursor: default;
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.chip {
  border: 2px solid var(--arm);
  background: var(--board);
  border-radius: var(--r-1);
  min-width: 44px;
  min-height: 34px;
  font-weight: 700;
  cursor: grab;
  touch-action: none;
}
.chip.picked {
  outline: 3px solid var(--focus);
}
.mean {
  font-size: 15px;
}
@media (max-width: 900px) {
  .lane {
    grid-template-columns: 1fr auto;
    padding: 4px 16px;
  }
  .chips {
    grid-row: 2;
    grid-column: 1 / -1;
  }
  .chip {
    min-height: 44px;
  }
}
</style>
