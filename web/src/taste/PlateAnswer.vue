<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { AnswerInput, PlateView } from '../api/schema.gen'
import SealFoot from './SealFoot.vue'

/** What is said of a whole plate: an order, one of them, or which to serve and why. */
const props = defineProps<{ plate: PlateView }>()
const emit = defineEmits<{ answer: [AnswerInput]; again: [string]; excuse: [] }>()
const sheet = computed(() => props.plate.sheet)
const samples = computed(() => props.plate.samples.filter((s) => !s.excused && !s.struck && !s.warm_up))
const spoilt = computed(
  () =>
    sheet.value.format !== 'ranking' &&
    sheet.value.format !== 'scores' &&
    props.plate.samples.some((s) => s.struck || s.excused),
)
const first = computed(() => (sheet.value.format === 'duo_trio' ? samples.value[0] : undefined))
const choices = computed(() => samples.value.filter((s) => s !== first.value))
const picked = ref('')
const none = ref(false)
const reason = ref('')
const ranks = reactive<Record<string, number>>({})
const asks = computed(() => {
  if (sheet.value.format !== 'scores') return sheet.value.asks
  return sheet.value.choice ? 'Which of them would you serve, and why?' : 'All are sealed. Done, or a second look?'
})
const reasoned = computed(
  () => sheet.value.format !== 'ranking' && (sheet.value.format !== 'scores' || sheet.value.choice),
)
const ready = computed(() => {
  if (sheet.value.format === 'ranking') return samples.value.every((s) => ranks[s.code])
  if (sheet.value.format === 'scores') return !sheet.value.choice || (picked.value !== '' && reason.value.trim() !== '')
  return picked.value !== '' || none.value
})
const words = computed(() =>
  sheet.value.format === 'scores' && !sheet.value.choice ? 'Done with this plate' : 'Seal my answer',
)
function pick(code: string) {
  none.value = false
  picked.value = code
}
function send() {
  emit('answer', {
    flight: props.plate.flight,
    ranks: sheet.value.format === 'ranking' ? { ...ranks } : {},
    picked: picked.value,
    none: none.value,
    reason: reason.value.trim(),
  })
}
</script>

<template>
  <div class="ask stack" data-testid="plate-answer">
    <template v-if="spoilt">
      <h1>Leave this plate out</h1>
      <p>A sample of it was stopped, so it cannot be answered. Eat nothing more of it.</p>
      <button type="button" class="seal" data-testid="leave-plate" @click="emit('excuse')">Leave it out</button>
    </template>
    <template v-else>
      <h1>{{ asks }}</h1>
      <p v-if="sheet.format !== 'scores'" class="soot">
        Taste in the order shown, {{ sheet.bites === 1 ? 'one bite' : `${sheet.bites} bites` }} each, water between. Say
        nothing until it is sealed.
      </p>
      <p v-if="first" class="row first">
        <span>First, to know it</span><b class="code num">{{ first.code }}</b>
      </p>
      <ul v-if="sheet.format === 'ranking'" class="plain">
        <li v-for="s in samples" :key="s.code">
          <span
            ><b class="code num">{{ s.code }}</b
            ><small v-if="s.is" class="soot"> {{ s.is }}</small></span
          >
          <div class="cells" role="radiogroup" :aria-label="`Place of ${s.code}, 1 is best`">
            <button
              v-for="n in samples.length"
              :key="n"
              type="button"
              role="radio"
              class="num"
              :aria-checked="ranks[s.code] === n"
              :data-testid="`rank-${s.code}-${n}`"
              @click="ranks[s.code] = n"
            >
              {{ n }}
            </button>
          </div>
        </li>
      </ul>
      <div v-else-if="reasoned" class="picks" role="radiogroup" :aria-label="asks">
        <button
          v-for="s in choices"
          :key="s.code"
          type="button"
          role="radio"
          :aria-checked="picked === s.code"
          :data-testid="`pick-${s.code}`"
          @click="pick(s.code)"
        >
          <b class="code num">{{ s.code }}</b>
          <small v-if="s.is">{{ s.is }}</small>
        </button>
        <button
          v-if="sheet.format === 'preference'"
          type="button"
          role="radio"
          :aria-checked="none"
          data-testid="pick-none"
          @click="
            () => {
              picked = ''
              none = true
            }
          "
        >
          Neither more
        </button>
      </div>
      <p v-if="sheet.format === 'ranking'" class="soot small">
        1 is best. Give two the same number if they stand level.
      </p>
      <p v-else-if="sheet.format === 'triangle' || sheet.format === 'duo_trio'" class="soot small">
        Guess if you cannot tell: that is part of the test.
      </p>
      <label v-if="reasoned" class="why"
        >{{ sheet.choice ? 'Why' : 'Why, if you like' }}
        <textarea v-model="reason" rows="2" maxlength="300" data-testid="reason" />
      </label>
      <div v-if="sheet.second_look && sheet.format === 'scores'" class="row">
        <button
          v-for="s in samples"
          :key="s.code"
          type="button"
          class="excuse"
          :data-testid="`again-${s.code}`"
          @click="emit('again', s.code)"
        >
          {{ s.code }} again
        </button>
      </div>
      <SealFoot
        name="answer"
        :label="words"
        question="Seal it for good? A sealed answer stays shut."
        :ready="ready"
        :otherwise="sheet.format === 'scores' ? '' : 'Can\'t say'"
        @seal="send"
        @otherwise="emit('excuse')"
      >
        <slot />
      </SealFoot>
    </template>
  </div>
</template>

<style scoped>
.ask {
  padding: 12px 16px 0;
  flex: 1;
}
.first {
  justify-content: space-between;
  padding: 8px 12px;
  border: var(--line) solid var(--edge);
  background: var(--board);
}
.code {
  font-size: 40px;
  line-height: 1.1;
}
.plain {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 10px;
}
.cells {
  display: flex;
  border: 2px solid var(--ink);
}
.cells button,
.picks button {
  flex: 1;
  min-height: 52px;
  border: 0;
  border-right: var(--line) solid var(--edge);
  background: var(--board);
  font-size: 20px;
}
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.picks button {
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  min-width: 104px;
  min-height: 76px;
}
.picks small {
  display: block;
}
.cells button:last-child {
  border-right: 0;
}
button[aria-checked='true'] {
  background: var(--ink);
  color: var(--board);
}
.why textarea {
  width: 100%;
  font: inherit;
  padding: 8px;
  border: 2px solid var(--edge);
  background: var(--board);
  color: inherit;
}
footer {
  margin: auto -16px 0;
}
</style>
