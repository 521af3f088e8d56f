<script setup lang="ts">
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ok } from '../api/client'
import { clock, date, dateTime } from '../ui/time'
import { temperature, weight } from '../ui/units'
import type { Deed, Deeds } from '../api/schema.gen'

/** Who did what when: all that was changed, taken back or brought back. */
const route = useRoute()
const router = useRouter()
const person = computed({
  get: () => Number(route.query.person) || 0,
  set: (id: number) => void router.replace({ query: { ...route.query, person: id || undefined } }),
})
const trial = computed({
  get: () => Number(route.query.trial) || 0,
  set: (id: number) => void router.replace({ query: { ...route.query, trial: id || undefined } }),
})
const { data: people } = useQuery({ queryKey: ['people'], queryFn: () => ok(api.GET('/api/people')) })
const { data: trials } = useQuery({ queryKey: ['trials'], queryFn: () => ok(api.GET('/api/trials')) })
const whose = computed(() => [{ id: 0, name: 'everybody' }, ...(people.value ?? [])])
const where = computed(() => [{ id: 0, question: 'everywhere' }, ...(trials.value ?? [])])
const { data, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['history', person, trial],
  queryFn: ({ pageParam }) =>
    ok(
      api.GET('/api/history', {
        params: { query: { person: person.value, trial: trial.value, skip: pageParam } },
      }),
    ),
  initialPageParam: 0,
  getNextPageParam: (last: Deeds) => last.next || undefined,
})
const deeds = computed(() => data.value?.pages.flatMap((p) => p.deeds) ?? [])
/** Those of each day together, the latest first. */
const days = computed(() => {
  const out: { day: string; deeds: Deed[] }[] = []
  for (const d of deeds.value) {
    const day = date(d.at)
    if (out.at(-1)?.day !== day) out.push({ day, deeds: [] })
    out.at(-1)!.deeds.push(d)
  }
  return out
})
/** A value as a reader has it: times by the barn's clock, temperatures and weights in their units. */
function read(c: { field: string }, v: string): string {
  if (/^\d{4}-\d\d-\d\dT/.test(v)) return dateTime(v)
  const n = Number(v)
  if (v === '' || Number.isNaN(n)) return v
  if (/ c$/.test(c.field)) return temperature(n)
  if (/ kg$/.test(c.field)) return weight(n)
  return String(Number(n.toPrecision(4)))
}
const fieldOf = (c: { field: string }) => c.field.replace(/ (c|kg|typed)$/, '') || 'it'
const question = (id: number | null) => trials.value?.find((t) => t.id === id)?.question ?? ''
</script>

<template>
  <div class="page stack">
    <h1>Who did what</h1>
    <p class="soot">
      What was changed, taken back and brought back; nothing is deleted. What was logged and weighed stands in the log
      of its cook.
    </p>
    <div class="row">
      <div class="field">
        <label for="whose">By</label>
        <Select
          v-model="person"
          label-id="whose"
          :options="whose"
          option-label="name"
          option-value="id"
          data-testid="history-by"
        />
      </div>
      <div class="field">
        <label for="where">Trial</label>
        <Select v-model="trial" label-id="where" :options="where" option-label="question" option-value="id" />
      </div>
    </div>
    <p v-if="data && deeds.length === 0">Nothing was changed yet.</p>
    <section v-for="d in days" :key="d.day" class="stack tight">
      <h2>{{ d.day }}</h2>
      <table>
        <tbody>
          <tr v-for="(x, i) in d.deeds" :key="i" data-testid="deed">
            <td class="num when">{{ clock(x.at) }}</td>
            <td class="who">
              <b>{{ x.by || 'on the machine' }}</b>
            </td>
            <td>
              {{ x.subject }} <span :class="{ one: x.named.length < 40 }">{{ x.named }}</span> {{ x.what
              }}<span v-if="question(x.trial_id)" class="small"> · {{ question(x.trial_id) }}</span>
              <span v-for="c in x.changes" :key="c.field" class="change"
                >{{ fieldOf(c) }}:
                <template v-if="c.was"
                  ><s>{{ read(c, c.was) }}</s> </template
                ><b>{{ c.is ? read(c, c.is) : 'nothing' }}</b></span
              >
              <em v-if="x.why" class="why">{{ x.why }}</em>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <Button v-if="hasNextPage" label="Earlier" outlined :loading="isFetchingNextPage" @click="fetchNextPage()" />
  </div>
</template>

<style scoped>
table {
  width: 100%;
}
.when {
  width: 5rem;
}
.who {
  width: 9rem;
}
.one {
  font-weight: 700;
}
.change {
  display: block;
  font-size: var(--t-sm);
  overflow-wrap: anywhere;
}
.why {
  display: block;
}
td {
  vertical-align: top;
}
</style>
