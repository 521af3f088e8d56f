<script setup lang="ts">
import type { Arm, Clock, CutView } from '../api/schema.gen'
import { armName } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import SafetyClock from './SafetyClock.vue'

/** The head of a lane: whose it is, what it gets, its cuts, and the worst of their clocks. */
defineProps<{ arm: Arm; place: number; cuts: CutView[]; clocks: Clock[]; said: string; height: number }>()
</script>

<template>
  <div class="head" :class="{ low: height < 100 }" :style="{ height: `${height}px` }">
    <div class="row tag">
      <ArmToken :place="place" :size="height < 100 ? 22 : 28" /> <b class="num">{{ arm.tag }}</b>
    </div>
    <div class="small line" :title="armName(arm)">{{ armName(arm) }}</div>
    <div class="small soot line cuts">
      {{ cuts.length ? cuts.map((c) => c.name).join(', ') : 'no cut in this cook' }}
    </div>
    <div v-if="said" class="small soot line">{{ said }}</div>
    <SafetyClock v-if="clocks.length" :clocks="clocks" />
  </div>
</template>

<style scoped>
.head {
  border-top: var(--line) solid var(--edge);
  border-right: var(--line) solid var(--edge);
  padding: 6px 8px 2px 16px;
  overflow: hidden;
}
.head.low {
  padding-top: 3px;
}
.tag {
  font-size: 18px;
  gap: 8px;
  flex-wrap: nowrap;
}
.line {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  line-height: 1.3;
}
.low .cuts {
  display: none;
}
</style>
