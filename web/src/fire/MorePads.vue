<script setup lang="ts">
import { computed } from 'vue'
import type { Event } from '../api/schema.gen'
import KeyCap from '../ui/KeyCap.vue'
import { actRow, groupNames, keyOf, label } from './acts'
import FireSheet from './FireSheet.vue'

/** The pads that are not at hand, by what they are done for. */
const { acts } = defineProps<{ acts: Event['act'][]; due: (a: Event['act']) => boolean }>()
const emit = defineEmits<{ tap: [Event['act']]; close: [] }>()
const groups = computed(() =>
  Object.entries(groupNames).flatMap(([group, name]) => {
    const of = acts.filter((a) => actRow(a).group === group)
    return of.length ? [{ name, acts: of }] : []
  }),
)
</script>

<template>
  <FireSheet aria-label="More acts">
    <div class="groups">
      <section v-for="g in groups" :key="g.name" :aria-label="g.name">
        <h2 class="small">{{ g.name }}</h2>
        <div class="verbs">
          <button
            v-for="a in g.acts"
            :key="a"
            type="button"
            class="pad"
            :class="{ due: due(a) }"
            :data-testid="`pad-${a}`"
            @click="emit('tap', a)"
          >
            <KeyCap v-if="keyOf(a)">{{ keyOf(a) }}</KeyCap> {{ label(a) }}
          </button>
        </div>
      </section>
    </div>
    <div class="verbs end">
      <slot />
      <button type="button" class="pad" @click="emit('close')">Close</button>
    </div>
  </FireSheet>
</template>

<style scoped>
.groups {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
h2 {
  margin: 0 0 4px;
  font-weight: 700;
  color: var(--soot);
}
.verbs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: var(--gap-fire);
}
.end {
  margin-top: 10px;
}
.pad {
  min-height: 52px;
  min-width: 0;
  padding: 2px 4px;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--board);
  font-weight: 700;
  font-size: 15px;
  cursor: pointer;
}
.pad.due {
  border-color: var(--ember);
  background: var(--ember-wash);
}
@media (max-width: 700px), (max-height: 500px) {
  .verbs {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
}
</style>
