<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Flight, PaperMarks } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'

/** A paper ballot typed in: one key a score, row by row. Typed a second time it is compared, and nothing changes. */
const props = defineProps<{ flight: Flight }>()
const emit = defineEmits<{ done: [] }>()
const { trial, refresh } = useThisTrial()
const acting = useAct()
const { data: papers } = useQuery({
  queryKey: ['paper', props.flight.id],
  queryFn: () => ok(api.GET('/api/flights/{id}/paper', { params: { path: { id: props.flight.id } } })),
})
const taster = ref<number | null>(null)
const sheet = computed(() => papers.value?.find((p) => p.taster_id === taster.value))
const open = computed(() => sheet.value?.plate.samples.filter((s) => !s.struck) ?? [])
const cells = reactive<Record<string, string>>({})
const faults = reactive<Record<string, string[]>>({})
const out = reactive<Record<string, boolean>>({})
const answer = reactive({ picked: '', none: false, reason: '', ranks: {} as Record<string, string> })
const said = ref('')
const whole = computed(() => sheet.value?.plate.sheet.format !== 'scores')
watch(taster, () => {
  for (const o of [cells, faults, out, answer.ranks])
    for (const k of Object.keys(o)) delete (o as Record<string, unknown>)[k]
  Object.assign(answer, { picked: '', none: false, reason: '' })
  said.value = ''
  acting.problem.value = null
})
const box = ref<HTMLElement | null>(null)
/** One key is a score: the next cell takes the next. */
function typed(e: Event, key: string, most: number) {
  const field = e.target as HTMLInputElement
  const ok = /^[1-9]$/.test(field.value) && Number(field.value) <= most
  cells[key] = ok ? field.value : ''
  if (!ok) return void (field.value = '')
  const all = [...(box.value?.querySelectorAll<HTMLInputElement>('input.cell') ?? [])]
  void nextTick(() => all[all.indexOf(field) + 1]?.focus())
}
const marks = computed<Record<string, PaperMarks>>(() =>
  Object.fromEntries(
    open.value.map((s) => [
      s.code,
      {
        scores: out[s.code]
          ? {}
          : Object.fromEntries(
              (sheet.value?.plate.sheet.attributes ?? [])
                .filter((a) => cells[`${s.code} ${a.key}`])
                .map((a) => [a.key, Number(cells[`${s.code} ${a.key}`])]),
            ),
        faults: out[s.code] ? [] : (faults[s.code] ?? []),
        excused: out[s.code] ?? false,
      },
    ]),
  ),
)
async function keep() {
  const s = sheet.value!.plate.sheet
  const answers = s.format !== 'scores' || s.choice || s.second_look
  const body = {
    taster_id: taster.value!,
    samples: whole.value ? {} : marks.value,
    answer: answers
      ? {
          picked: answer.picked,
          none: answer.none,
          reason: answer.reason,
          ranks: Object.fromEntries(Object.entries(answer.ranks).map(([k, v]) => [k, Number(v)])),
        }
      : null,
  }
  const v = await acting.run(() =>
    ok(api.POST('/api/flights/{id}/paper', { params: { path: { id: props.flight.id } }, body })),
  )
  if (!v) return
  const who = sheet.value!.taster
  if (v.differs.length)
    said.value = `${who}: ${v.differs.join(', ')} read otherwise the first time. Nothing was changed; look at the paper again.`
  else {
    said.value = v.again ? `${who}: the same as the first time.` : `${who} is kept. Type it a second time to check it.`
    await refresh('table')
  }
}
const fault = (code: string, f: string) => {
  const has = faults[code] ?? []
  faults[code] = has.includes(f) ? has.filter((x) => x !== f) : [...has, f]
}
</script>

<template>
  <form ref="box" class="trough stack" data-testid="paper" @submit.prevent="keep">
    <div class="row">
      <b>Whose ballot?</b>
      <Select
        v-model="taster"
        :options="trial.tasters.filter((t) => papers?.some((p) => p.taster_id === t.id))"
        option-label="name"
        option-value="id"
        placeholder="name"
        aria-label="Whose ballot"
        data-testid="paper-taster"
      />
      <span v-if="said" role="status" data-testid="paper-said">{{ said }}</span>
      <Button class="push" label="Done" size="small" text @click="emit('done')" />
    </div>
    <ProblemNote :problem="acting.problem.value" />
    <template v-if="sheet">
      <table v-if="!whole">
        <thead>
          <tr>
            <th>Code</th>
            <th v-for="a in sheet.plate.sheet.attributes" :key="a.key">
              {{ a.name }} <small class="soot">1 to {{ a.most }}</small>
            </th>
            <th>Ticked</th>
            <th>Left out</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in open" :key="s.code">
            <td class="num code">{{ s.code }}</td>
            <td v-for="a in sheet.plate.sheet.attributes" :key="a.key">
              <input
                class="cell num"
                inputmode="numeric"
                maxlength="1"
                :value="cells[`${s.code} ${a.key}`] ?? ''"
                :disabled="out[s.code]"
                :aria-label="`${a.name} of ${s.code}`"
                :data-testid="`paper-${s.code}-${a.key}`"
                @focus="($event.target as HTMLInputElement).select()"
                @input="typed($event, `${s.code} ${a.key}`, a.most)"
              />
            </td>
            <td>
              <button
                v-for="x in sheet.plate.sheet.faults"
                :key="x"
                type="button"
                class="word"
                :aria-pressed="faults[s.code]?.includes(x) ?? false"
                tabindex="-1"
                @click="fault(s.code, x)"
              >
                {{ x }}
              </button>
            </td>
            <td><input v-model="out[s.code]" type="checkbox" tabindex="-1" :aria-label="`${s.code} is left out`" /></td>
          </tr>
        </tbody>
      </table>
      <div v-if="sheet.plate.sheet.format === 'ranking'" class="row">
        <label v-for="s in open.filter((x) => !x.warm_up)" :key="s.code" class="row nowrap"
          ><b class="num code">{{ s.code }}</b>
          <input
            v-model="answer.ranks[s.code]"
            class="cell num"
            inputmode="numeric"
            maxlength="1"
            :aria-label="`Place of ${s.code}`"
            :data-testid="`paper-rank-${s.code}`"
        /></label>
      </div>
      <div v-else-if="whole || sheet.plate.sheet.choice" class="row">
        <Select
          v-model="answer.picked"
          :options="open.filter((x) => !x.warm_up).map((s) => s.code)"
          placeholder="picked"
          aria-label="Which one is picked"
          data-testid="paper-picked"
        />
        <label v-if="sheet.plate.sheet.format === 'preference'" class="row nowrap"
          ><input v-model="answer.none" type="checkbox" /> neither more</label
        >
        <input v-model="answer.reason" class="why" maxlength="300" placeholder="why" aria-label="Why" />
      </div>
      <Button
        type="submit"
        :label="`Keep ${sheet.taster}'s ballot`"
        :loading="acting.busy.value"
        data-testid="paper-keep"
      />
    </template>
  </form>
</template>

<style scoped>
form {
  padding: 12px;
  margin: 8px 0;
  overflow-x: auto;
}
td,
th {
  padding: 3px 12px 3px 0;
}
.cell {
  width: 48px;
  min-height: 48px;
  text-align: center;
  font-size: 22px;
  border: 2px solid var(--edge);
  background: var(--board);
  color: inherit;
}
.why {
  min-height: 44px;
  flex: 1;
  border: 2px solid var(--edge);
  background: var(--board);
  color: inherit;
  padding: 0 8px;
  font: inherit;
}
.code {
  font-size: 22px;
}
.word {
  min-height: 44px;
  border: var(--line) solid var(--edge);
  background: var(--board);
  color: inherit;
  font: inherit;
  padding: 0 8px;
}
.word[aria-pressed='true'] {
  background: var(--ink);
  color: var(--board);
}
input[type='checkbox'] {
  width: 24px;
  height: 24px;
}
.nowrap {
  flex-wrap: nowrap;
}
</style>
