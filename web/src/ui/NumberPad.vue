<script setup lang="ts">
/** Big keys for a number, for wet or gloved hands; lb sets pounds apart from ounces. */
const text = defineModel<string>({ required: true })
const { pounds = false, go = 'Next' } = defineProps<{ pounds?: boolean; go?: string }>()
const emit = defineEmits<{ next: [] }>()
const keys = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '0', '.'].map((k) => ({ put: k, says: k }))
if (pounds) keys.push({ put: ' ', says: 'lb' })
</script>

<template>
  <div class="pad">
    <div class="digits">
      <button
        v-for="k in keys"
        :key="k.put"
        type="button"
        class="num"
        :class="{ wide: k.put === '0' && !pounds }"
        @mousedown.prevent
        @click="text += k.put"
      >
        {{ k.says }}
      </button>
    </div>
    <div class="side">
      <button type="button" @mousedown.prevent @click="text = text.slice(0, -1)">Back</button>
      <slot />
      <button type="button" class="next" data-testid="pad-next" @mousedown.prevent @click="emit('next')">
        {{ go }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  grid-template-columns: 3fr 1fr;
  gap: var(--gap-fire);
}
.digits {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: var(--gap-fire);
}
.side {
  display: flex;
  flex-direction: column;
  gap: var(--gap-fire);
}
.pad button,
.side :deep(button) {
  min-height: 56px;
  min-width: 0;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  color: var(--ink);
  font-weight: 700;
  font-size: 17px;
  cursor: pointer;
}
.digits button {
  font-size: 26px;
}
.digits .wide {
  grid-column: span 2;
}
.side .next {
  flex: 1;
  background: var(--ink);
  color: var(--board);
  font-size: 20px;
}
@media (max-width: 700px) {
  .pad button {
    min-height: 60px;
  }
}
</style>
