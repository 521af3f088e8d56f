<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import Select from 'primevue/select'
import { useId } from 'vue'
import type { Member } from '../api/schema.gen'
import { trusts as known, type Trust } from './trusts'

/** What somebody may do: their role, and what of the crew they are trusted with besides. */
const role = defineModel<Member['role']>('role', { required: true })
const trusts = defineModel<Trust[]>('trusts', { required: true })
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="`${id}-role`">Role</label>
    <Select v-model="role" :label-id="`${id}-role`" :options="['crew', 'pitmaster']" data-testid="role" />
  </div>
  <fieldset v-if="role === 'crew'">
    <legend>Logs, weighs and tastes; trusted besides with</legend>
    <label v-for="t in known" :key="t.key" class="row">
      <Checkbox v-model="trusts" :value="t.key" :data-testid="`trust-${t.key}`" /> {{ t.words }}
    </label>
  </fieldset>
  <p v-else class="soot small">A pitmaster may do all, people and the barn among it.</p>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
}
legend {
  font-size: var(--t-sm);
  padding: 0;
}
label.row {
  min-height: 44px;
}
</style>
