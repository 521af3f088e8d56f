<script setup lang="ts">
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import type { Who } from './acts'

/** Who the next press is for: an arm, a pit with all in it, or all. */
defineProps<{ cook: CookView; all: number }>()
const who = defineModel<Who>({ required: true })
const { trial } = useThisTrial()
</script>

<template>
  <div class="who" role="group" aria-label="Who">
    <button v-for="(a, i) in trial.ask.arms" :key="a.id" type="button" :aria-pressed="who === i" @click="who = i">
      <span class="key num">{{ i + 1 }}</span><ArmToken :place="i" :size="22" /><b class="num">{{ a.tag }}</b>
    </button>
    <template v-if="cook.runs.length > 1">
      <button
        v-for="r in cook.runs"
        :key="`pit${r.id}`"
        type="button"
        :aria-pressed="who === `pit ${r.id}`"
        @click="who = `pit ${r.id}`"
      >
        <b class="pitname">{{ r.pit }}</b>
      </button>
    </template>
    <button type="button" :aria-pressed="who === 'all'" @click="who = 'all'">
      <span class="key num">0</span><b class="num all">All</b><b class="num count">{{ all }} cuts</b>
    </button>
  </div>
</template>

<style scoped>
.who {
  display: flex;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  overflow: hidden;
  background: var(--board);
}
button {
  position: relative;
  flex: 1;
  border: 0;
  border-right: var(--line) solid var(--edge);
  background: none;
  min-width: 66px;
  --tall: 60px;
  min-height: var(--tall);
  padding: 2px 6px;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 1px;
  line-height: 1.15;
  cursor: pointer;
}
button:last-child {
  border-right: 0;
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
button:focus-visible {
  outline-offset: -3px;
}
b {
  font-size: 15px;
  white-space: nowrap;
}
.key {
  position: absolute;
  top: 2px;
  left: 5px;
  font-size: 13px;
}
.pitname {
  font-size: 14px;
  white-space: normal;
}
.all {
  font-size: 19px;
}
@media (max-width: 700px), (max-height: 500px) {
  button {
    min-width: 0;
    --tall: 52px;
  }
}
@media (max-height: 500px) {
  button {
    --tall: 48px;
    flex-direction: row;
    gap: 4px;
  }
  .key,
  .count {
    display: none;
  }
}
@media (max-height: 500px) and (max-width: 700px) {
  button {
    padding: 2px;
  }
  button :deep(.token) {
    display: none;
  }
}
</style>
