<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import Button from 'primevue/button'
import { computed } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, Due } from '../api/schema.gen'
import { logsAs, plannedLetter } from '../plan/tasks'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import { handheld } from '../ui/screens'
import { clock } from '../ui/time'
import { sentence } from '../ui/units'
import { dueAt, dueIn, useDue } from './due'
import { useCookNow } from './now'
import { usePresses } from './presses'
import { useAsPlanned } from './planned'
import ProblemNote from '../ui/ProblemNote.vue'

/** Next hands: what is due, why and by whom; the first is done with Enter. */
const { cook, now } = defineProps<{ cook: CookView; now: number }>()
const emit = defineEmits<{ read: [number[]] }>()
const { trial } = useThisTrial()
const { view: data, due: all, isPending } = useDue(() => cook)
const { asPlanned, problem } = useAsPlanned(() => cook)
const { log } = usePresses(
  () => cook,
  useCookNow(() => cook),
)

const client = useQueryClient()
const { run, busy } = useAct()
const due = computed(() => all.value.slice(0, 5))
const first = computed(() => due.value[0])
const late = (d: Due) => now > dueAt(d) + 60_000
const wait = (d: Due) => dueIn(d, now)
const waits = (d: Due) => `${sure(d) ? '' : '~'}${wait(d)}`
const small = useMediaQuery(handheld)
const sure = (d: Due) => Date.parse(d.at.late) - Date.parse(d.at.early) < 600_000
const who = (d: Due) => (d.person >= 0 ? (data.value?.people[d.person] ?? '') : '')
const putOff = (d: Due) => (d.put_off_by ? `put off by ${d.put_off_by}` : '')

async function done(d: Due) {
  const act = logsAs(d.act)
  if (!act) return
  if (act === 'probe') return emit('read', d.cuts) // there is nothing to log before it is read
  const pit = d.cuts.length === 0 && d.pit >= 0
  const detail = await asPlanned(d)
  if (detail) await log({ act, at: null, detail, cut_ids: d.cuts, pit_run_ids: pit ? [cook.runs[d.pit]!.id] : [] })
}
/** Puts it off for all who look at this cook. */
async function later(d: Due) {
  const v = await run(() =>
    ok(
      api.POST('/api/cooks/{id}/due/later', {
        params: { path: { id: cook.id } },
        body: { task: d.key, minutes: 10 },
      }),
    ),
  )
  if (v) client.setQueryData(['due', cook.id], v)
}
useKeys((key) => {
  if (key !== 'Enter' || !first.value || !logsAs(first.value.act)) return false
  return (void done(first.value), true)
})
</script>

<template>
  <section v-if="first || isPending" class="due no-print" data-testid="due">
    <ProblemNote :problem="problem" />
    <div v-if="first" class="first" :class="{ late: late(first) }" :data-task="first.key">
      <span class="num letter">{{ plannedLetter(first.act) }}</span>
      <ArmToken v-if="first.arm >= 0" :place="first.arm" :size="24" />
      <div class="what">
        <b class="words" data-testid="due-first">{{ first.words }}</b>
        <b v-if="small" class="wait num" :class="{ now: wait(first) === 'now' }"
          >{{ waits(first) }} {{ putOff(first) }}</b
        >
        <span v-else class="small">{{
          sentence([first.why, putOff(first), who(first)].filter(Boolean).join(', '))
        }}</span>
      </div>
      <b v-if="!small" class="num wait" :class="{ now: wait(first) === 'now' }">{{ waits(first) }}</b>
      <RouterLink v-if="!logsAs(first.act)" class="prep" :to="`/trials/${trial.id}/prep`">Prep</RouterLink>
      <Button v-else data-testid="due-done" @click="done(first)"
        ><KeyCap>↵</KeyCap> {{ logsAs(first.act) === 'probe' ? 'Read' : 'Done' }}</Button
      >
      <Button
        class="later"
        outlined
        :label="small ? '+10' : '10 min later'"
        :aria-label="small ? '+10 minutes, later' : undefined"
        :disabled="busy"
        @click="later(first)"
      />
    </div>
    <ol>
      <li v-for="d in due.slice(1)" :key="d.key" :class="{ late: late(d) }" :data-task="d.key">
        <span class="num">{{ plannedLetter(d.act) }}</span>
        <span
          ><b>{{ d.words }}</b
          ><br /><span class="small soot">{{ [putOff(d), who(d)].filter(Boolean).join(', ') }}</span></span
        >
        <span class="num push">{{ sure(d) ? '' : '~' }}{{ clock(dueAt(d)) }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.due {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1.2fr);
  border-top: var(--line) solid var(--edge);
  background: var(--board);
  height: 64px; /* also while it is worked out, so that nothing below jumps */
}
.first {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 4px 16px;
  min-height: 56px;
  border-right: var(--line) solid var(--edge);
}
.first.late,
li.late {
  background: var(--alarm-wash);
  color: var(--alarm);
}
.letter {
  font-size: 24px;
  font-weight: 700;
}
.what {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-width: 0;
  line-height: 1.2;
}
.words {
  font-size: 18px;
}
.what .small {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.wait {
  font-size: 19px;
  white-space: nowrap;
}
.wait.now {
  color: var(--ember);
}
.first :deep(button) {
  min-height: 48px;
  white-space: nowrap;
  flex: none;
}
ol {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 6px;
  padding: 6px 8px;
  border-right: var(--line) solid var(--grain);
  font-size: 14px;
  line-height: 1.2;
  overflow: hidden;
}
.prep {
  min-height: 48px;
  display: inline-flex;
  align-items: center;
}
@media (max-width: 1000px) {
  .due {
    height: auto;
    min-height: 58px;
    grid-template-columns: minmax(0, 1fr);
  }
  ol {
    display: none;
  }
}
@media (max-width: 700px), (max-height: 500px) {
  .first {
    padding: 4px 8px;
    gap: 8px;
  }
  .words {
    font-size: 16px;
  }
  .wait {
    font-size: 16px;
  }
  .first :deep(.later) {
    padding-inline: 8px;
  }
}
@media (max-height: 500px) {
  .due {
    min-height: 52px;
  }
  .first {
    min-height: 50px;
  }
}
</style>
