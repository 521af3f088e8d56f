<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import type { Finding, AcceptedFinding, Mend } from '../api/schema.gen'
import { sentence } from '../ui/units'

/** What stands between a trial and its answer, each with what mends it. */
const props = defineProps<{ findings: Finding[]; accepted?: AcceptedFinding[]; shut: boolean; elsewhere?: string }>()
const emit = defineEmits<{ mend: [Mend, string]; accept: [string, string]; withdraw: [number] }>()
const accepting = ref('')
const why = ref('')
const acceptedAs = (f: Finding) => props.accepted?.find((k) => k.key === f.key)
function accept(f: Finding) {
  emit('accept', f.key, why.value)
  accepting.value = ''
  why.value = ''
}
</script>

<template>
  <article
    v-for="f in findings"
    :key="f.key"
    class="finding"
    :class="[f.weight, { accepted: acceptedAs(f) }]"
    :data-testid="`finding-${f.key.split(':')[0]}`"
  >
    <p><i class="sign" aria-hidden="true" />{{ sentence(f.text) }}</p>
    <p v-if="acceptedAs(f)" class="small">
      Accepted by {{ acceptedAs(f)!.by }}: {{ acceptedAs(f)!.why }}
      <Button v-if="!shut" label="Take that back" text size="small" @click="emit('withdraw', acceptedAs(f)!.id)" />
    </p>
    <div v-else-if="!shut" class="row">
      <Button
        v-for="m in f.mends"
        :key="m.do"
        :label="m.do"
        size="small"
        outlined
        data-testid="mend"
        @click="emit('mend', m, f.key)"
      />
      <RouterLink
        v-if="f.mends.length === 0 && elsewhere && !['lacks', 'asks'].includes(f.weight)"
        :to="elsewhere"
        class="small"
        >Fix in the list</RouterLink
      >
      <template v-if="accepted && !['lacks', 'asks'].includes(f.weight)">
        <Button v-if="accepting !== f.key" label="Accept with a note" text size="small" @click="accepting = f.key" />
        <form v-else class="row why" @submit.prevent="accept(f)">
          <InputText v-model="why" size="small" placeholder="only one pit is free" aria-label="Why it is kept" />
          <Button type="submit" label="Save" size="small" />
        </form>
      </template>
    </div>
  </article>
</template>

<style scoped>
.finding {
  padding: 10px 12px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  border: var(--line) solid var(--edge);
}
.finding.confound,
.finding.weakens {
  background: var(--watch-wash);
  color: var(--watch);
  border-color: transparent;
}
.finding.accepted {
  background: none;
  border-color: var(--edge);
}
.row {
  gap: 8px;
}
.sign {
  display: inline-block;
  width: 0;
  border: solid transparent;
  border-width: 0 0.48em 0.85em;
  border-bottom-color: currentColor;
  margin-right: 0.45em;
}
/* Open: it takes something from the answer, not all of it. */
.weakens .sign,
.lacks .sign {
  width: 0.96em;
  height: 0.85em;
  border: 0;
  background: currentColor;
  clip-path: polygon(50% 0, 100% 100%, 0 100%, 50% 0, 50% 30%, 22% 84%, 78% 84%, 50% 30%);
}
.asks .sign {
  width: auto;
  border: 0;
}
.asks .sign::before {
  content: '?';
  font: 700 1em var(--font-head);
}
.why {
  flex-wrap: nowrap;
}
</style>
