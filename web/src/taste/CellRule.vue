<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Attribute } from '../api/schema.gen'

/** Cells that touch: tap one, or slide along. A dashed rule is unanswered. */
const props = defineProps<{ attribute: Attribute; value: number | null }>()
const emit = defineEmits<{ score: [number] }>()
const rule = ref<HTMLElement | null>(null)
const sliding = ref(false)
const right = computed(() => props.attribute.scale === 'right')
const middle = computed(() => (props.attribute.most + 1) / 2)
const within = (n: number) => Math.max(1, Math.min(props.attribute.most, n))

function at(e: PointerEvent) {
  const box = rule.value!.getBoundingClientRect()
  emit('score', within(1 + Math.floor(((e.clientX - box.left) / box.width) * props.attribute.most)))
}
function down(e: PointerEvent) {
  sliding.value = true
  rule.value!.setPointerCapture(e.pointerId)
  at(e)
}
function key(e: KeyboardEvent) {
  const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key]
  if (/^[1-9]$/.test(e.key) && Number(e.key) <= props.attribute.most) emit('score', Number(e.key))
  else if (step) emit('score', within((props.value ?? middle.value) + step))
  else return
  e.preventDefault()
}
</script>

<template>
  <div class="nine">
    <div class="head">
      <b :id="`n-${attribute.key}`">{{ attribute.name }}</b>
      <span v-if="value === null" class="soot small">{{
        attribute.look ? 'look, before you bite' : 'slide or tap'
      }}</span>
    </div>
    <div
      ref="rule"
      class="rule"
      :class="{ unset: value === null }"
      role="slider"
      tabindex="0"
      aria-valuemin="1"
      :aria-valuemax="attribute.most"
      :aria-valuenow="value ?? undefined"
      :aria-valuetext="value === null ? 'unanswered' : undefined"
      :aria-labelledby="`n-${attribute.key}`"
      :data-testid="`rule-${attribute.key}`"
      @pointerdown="down"
      @pointermove="(e) => sliding && at(e)"
      @pointerup="sliding = false"
      @pointercancel="sliding = false"
      @keydown="key"
    >
      <span
        v-for="n in attribute.most"
        :key="n"
        class="num"
        :class="{ on: n === value, under: !right && value !== null && n < value, just: right && n === middle }"
        >{{ n }}</span
      >
    </div>
    <div class="ends soot small">
      <span>{{ attribute.low }}</span><span v-if="right">just right</span><span>{{ attribute.high }}</span>
    </div>
  </div>
</template>

<style scoped>
.nine {
  margin-top: 8px;
}
.head,
.ends {
  display: flex;
  justify-content: space-between;
}
.head b {
  font: 700 17px var(--font-head);
}
.rule {
  display: flex;
  border: 2px solid var(--ink);
  background: var(--board);
  touch-action: pan-y;
  cursor: pointer;
  user-select: none;
}
.rule.unset {
  border-style: dashed;
  border-color: var(--edge);
}
.rule span {
  flex: 1;
  min-height: 48px;
  display: grid;
  place-items: center;
  border-right: var(--line) solid var(--grain);
}
.rule span:last-child {
  border-right: 0;
}
.under {
  background: var(--trough);
}
.just {
  box-shadow: inset 0 -5px 0 var(--edge);
}
.on {
  background: var(--ink);
  color: var(--board);
  font-size: 24px;
  font-weight: 700;
  margin: -4px 0;
}
</style>
