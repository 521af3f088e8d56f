<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, provide, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Task } from '../api/schema.gen'
import { armName, useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, date, dateTime } from '../ui/time'
import { shortWeight } from '../ui/units'
import { draftKey, usePlanDraft } from './draft'
import PlanRail from './PlanRail.vue'
import { plannedLetter, tens } from './tasks'

/** What is done when, on paper: by person, by pit, or all in a row; and the strip. */
const { trial } = useThisTrial()
const route = useRoute()
const plan = usePlanDraft()
provide(draftKey, plan)
const { work, refused } = plan
const cook = computed(() => trial.value.cooks.find((k) => k.id === Number(route.query.cook)) ?? trial.value.cooks[0])
watch(
  () => cook.value?.id,
  () => cook.value && plan.open(cook.value),
  { immediate: true },
)
const by = ref<'person' | 'pit' | 'all'>('person')
const cutNames = (t: Task) => t.cuts.map((id) => trial.value.cuts.find((c) => c.id === id)?.name).join(', ')
const groups = computed(() => {
  const v = work.value
  if (!v) return []
  if (by.value === 'all') return [{ name: 'The whole cook', tasks: v.tasks }]
  if (by.value === 'pit')
    return v.pits.map((p) => ({
      name: v.pit_names[p.pit]!,
      tasks: v.tasks.filter((t) => t.pit === p.pit),
      facts: `Light at ${clock(p.light)}. ${p.fuel_kg ? `${shortWeight(p.fuel_kg)} ${v.fuels[p.pit]}, ` : ''}${p.fuel_every_s ? `fed about every ${Math.round(p.fuel_every_s / 60)} min, ` : ''}${p.wood.length} of wood${p.water_kg ? `, ${shortWeight(p.water_kg)} water` : ''}.`,
    }))
  return [...v.people, ''].flatMap((name, i) => {
    const tasks = v.tasks.filter((t) => (name ? t.person === i : t.person < 0))
    return tasks.length ? [{ name: name || 'Nobody yet', tasks }] : []
  })
})
const between = (t: Task) =>
  Date.parse(t.at.late) - Date.parse(t.at.early) > 600_000 ? `${clock(t.at.early)} to ${clock(t.at.late)}` : ''
const { data: printedAt } = useQuery({ queryKey: ['printed', by], queryFn: () => Date.now() })
const print = () => window.print()
</script>

<template>
  <div class="page stack sheet">
    <div class="row no-print">
      <h1>Run sheet</h1>
      <SelectButton
        v-model="by"
        :options="[
          { label: 'By person', value: 'person' },
          { label: 'By pit', value: 'pit' },
          { label: 'All in a row', value: 'all' },
        ]"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Sheets"
        data-testid="sheet-by"
      />
      <Button label="Print" @click="print" />
      <RouterLink class="push" :to="`/trials/${trial.id}/plan`">Back to Plan</RouterLink>
    </div>
    <p v-if="refused" class="warn">{{ refused.title }} {{ refused.remedy }}</p>
    <template v-if="work && cook">
      <header class="top">
        <h2>{{ trial.ask.question }}</h2>
        <p>
          On the table <b class="num">{{ dateTime(work.serve) }}</b>, ready <b>{{ tens(work.ready) }}</b>.
          {{ work.late.words }}
        </p>
        <p class="arms">
          <span v-for="(a, i) in trial.ask.arms" :key="a.id" class="arm"
            ><ArmToken :place="i" :size="19" /> <b class="num">{{ a.tag }}</b> {{ armName(a) }}</span
          >
        </p>
      </header>
      <article v-for="g in groups" :key="g.name" class="group" data-testid="sheet-group">
        <h2>{{ g.name }}</h2>
        <p v-if="'facts' in g">{{ g.facts }}</p>
        <table>
          <tbody>
            <tr v-for="(t, i) in g.tasks" :key="i">
              <td class="day">
                {{ i === 0 || date(t.at.middle) !== date(g.tasks[i - 1]!.at.middle) ? date(t.at.middle) : '' }}
              </td>
              <td class="at num">{{ between(t) ? '~' : '' }}{{ clock(t.at.middle) }}</td>
              <td class="letter num">{{ plannedLetter(t.act) }}</td>
              <td>
                <b>{{ t.words }}</b> <span class="cuts num">{{ cutNames(t) }}</span>
                <span v-if="between(t)" class="soot small likely">8 in 10: {{ between(t) }}</span>
              </td>
              <td class="box" aria-hidden="true"><i /></td>
            </tr>
          </tbody>
        </table>
      </article>
      <div class="strip"><PlanRail :picked="null" :work="work" /></div>
      <p class="foot small">
        {{ trial.ask.question }} Cook of {{ dateTime(work.serve) }}. Printed {{ dateTime(printedAt ?? work.serve) }}.
      </p>
    </template>
    <p v-else-if="trial.cooks.length === 0" class="soot">Plan a cook first.</p>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.arms {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
}
.arm {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.group {
  background: var(--board);
  border-top: var(--line-strong) solid var(--ink);
  padding: 10px 12px;
}
td {
  vertical-align: top;
  font-size: 19px;
}
.day {
  width: 110px;
  font-size: 16px;
  color: var(--soot);
}
.at {
  width: 92px;
  font-size: 26px;
  font-weight: 700;
  line-height: 1.1;
  text-align: right;
  padding-right: 14px;
}
.letter {
  width: 36px;
  font-weight: 700;
}
.cuts {
  margin-left: 8px;
  font-size: 16px;
}
.likely {
  display: block;
}
.box {
  width: 40px;
}
.box i {
  display: block;
  width: 26px;
  height: 26px;
  border: 2px solid var(--ink);
}
.strip {
  overflow-x: auto;
}
.foot {
  color: var(--soot);
}
@media print {
  .group {
    break-before: page;
    background: none;
    padding: 0;
  }
  .group:first-of-type {
    break-before: auto;
  }
  tr {
    break-inside: avoid;
  }
  .strip {
    break-before: page;
    overflow: visible;
  }
}
</style>
