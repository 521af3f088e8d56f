<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import type { Member } from '../api/schema.gen'
import { useSession } from '../session/session'
import { date, dateTime } from '../ui/time'
import MemberPanel from './MemberPanel.vue'
import TasterRecord from './TasterRecord.vue'
import { may } from './trusts'

/** Who is and was of the crew. */
defineProps<{ people: Member[] }>()
const { isPitmaster, person } = useSession()
/** Whose tasting is shown; theirs and the pitmaster's. */
const tasting = ref<number | null>(null)
const changing = ref<number | null>(null)
const state = (p: Member) =>
  p.left_at
    ? `left ${date(p.left_at)}`
    : p.came_at
      ? ''
      : p.link_until
        ? `asked, their link waits until ${dateTime(p.link_until)}`
        : 'has no account'
</script>

<template>
  <table class="members">
    <thead>
      <tr>
        <th>Name</th>
        <th>May</th>
        <th v-if="isPitmaster" class="wider">Signs in as</th>
        <th>Tasting</th>
        <th v-if="isPitmaster"><span class="only-read">What to do</span></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="p in people" :key="p.id">
        <tr :class="{ left: p.left_at }" :data-testid="`person-${p.name}`">
          <td>
            <b>{{ p.name }}</b> <span v-if="state(p)" class="small">{{ state(p) }}</span>
          </td>
          <td>{{ p.left_at ? '' : may(p) }}</td>
          <td v-if="isPitmaster" class="num wider">{{ p.left_at ? '' : p.sign_in }}</td>
          <td>
            <Button
              v-if="isPitmaster || person?.id === p.id"
              size="small"
              text
              :label="tasting === p.id ? 'Close' : 'Record'"
              :aria-label="`${tasting === p.id ? 'Close' : 'Record'}: how ${p.name} tastes`"
              :data-testid="`record-${p.name}`"
              @click="tasting = tasting === p.id ? null : p.id"
            />
          </td>
          <td v-if="isPitmaster">
            <Button
              size="small"
              text
              :label="changing === p.id ? 'Close' : 'Change'"
              :aria-label="`${changing === p.id ? 'Close' : 'Change'} ${p.name}`"
              :aria-expanded="changing === p.id"
              :data-testid="`change-${p.name}`"
              @click="changing = changing === p.id ? null : p.id"
            />
          </td>
        </tr>
        <tr v-if="changing === p.id">
          <td colspan="5"><MemberPanel :member="p" @close="changing = null" /></td>
        </tr>
      </template>
    </tbody>
  </table>
  <TasterRecord v-if="tasting !== null" :key="tasting" :person="tasting" />
</template>

<style scoped>
@media (max-width: 600px) {
  .wider {
    display: none;
  }
}
.left {
  color: var(--soot);
}
td > .small {
  display: block;
}
.only-read {
  position: absolute;
  clip-path: inset(50%);
}
</style>
