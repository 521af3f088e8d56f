<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { reactive, ref, watch } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Lines } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import { fromTemperature, temperatureHint, toTemperature } from '../ui/units'
import { Numbers } from '../ui/number'

/** The barn's own lines of safety: the guidance, or stricter, with who and why. */
const client = useQueryClient()
const { isPitmaster } = useSession()
const { data } = useQuery({ queryKey: ['safety-lines'], queryFn: () => ok(api.GET('/api/safety-lines')) })
const { run, busy, problem } = useAct()
const rows = [
  { key: 'poultry_c', name: 'Poultry' },
  { key: 'stuffed_c', name: 'Stuffed' },
  { key: 'minced_c', name: 'Minced' },
  { key: 'pierced_c', name: 'Injected or pierced, at once' },
  { key: 'intact_c', name: 'Whole cuts of red meat' },
  { key: 'fish_c', name: 'Fish' },
  { key: 'reheat_c', name: 'Reheated' },
  { key: 'hold_c', name: 'Held hot' },
] as const
const typed = reactive<Record<string, string>>({})
const rest = reactive<Pick<Lines, 'window' | 'sold' | 'variance'>>({ window: 'under 140 F', sold: false, variance: '' })
const why = ref('')
const saved = ref(false)
watch(
  data,
  (d) => {
    if (!d) return
    for (const r of rows) typed[r.key] = fromTemperature(d.lines[r.key])
    Object.assign(rest, { window: d.lines.window, sold: d.lines.sold, variance: d.lines.variance })
  },
  { immediate: true },
)
async function save() {
  saved.value = false
  const n = new Numbers()
  const c = (key: (typeof rows)[number]['key']) =>
    // What was not changed stays to the last digit.
    typed[key] === fromTemperature(data.value!.lines[key])
      ? data.value!.lines[key]
      : toTemperature(n.of(`lines.${key}`, typed[key]!))
  const lines = Object.fromEntries(rows.map((r) => [r.key, c(r.key)])) as unknown as Lines
  if (n.problem) return void (problem.value = n.problem)
  const done = await run(() =>
    ok(api.POST('/api/safety-lines', { body: { lines: { ...lines, ...rest }, why: why.value } })),
  )
  if (!done) return
  saved.value = true
  why.value = ''
  await client.invalidateQueries({ queryKey: ['safety-lines'] })
}
</script>

<template>
  <form v-if="data" class="stack" data-testid="safety-lines" @submit.prevent="save">
    <h2>Lines of safety</h2>
    <p class="small">
      The guidance's own, or stricter; never looser. A stricter line counts at once: time and temperature together go by
      the guidance's alone. Your local code comes first.
    </p>
    <div class="lines">
      <div v-for="r in rows" :key="r.key" class="field">
        <label :for="`line-${r.key}`">{{ r.name }}, {{ temperatureHint() }}</label
        ><InputText
          :id="`line-${r.key}`"
          v-model="typed[r.key]"
          class="mono-input"
          inputmode="decimal"
          :disabled="!isPitmaster"
        />
      </div>
      <div class="field">
        <label for="line-window">The clock that warns</label
        ><Select
          v-model="rest.window"
          label-id="line-window"
          :options="['under 140 F', '41 to 135 F']"
          :disabled="!isPitmaster"
        />
      </div>
    </div>
    <label class="row"
      ><Checkbox v-model="rest.sold" binary :disabled="!isPitmaster" /> Sold to the public: poultry at
      {{ fromTemperature(73.8889) }} {{ temperatureHint() }} at once, unless a variance is on record</label
    >
    <div v-if="rest.sold" class="field">
      <label for="line-variance">The variance, if there is one</label
      ><InputText id="line-variance" v-model="rest.variance" maxlength="200" :disabled="!isPitmaster" />
    </div>
    <p class="small soot">
      <template v-if="data.at">Set by {{ data.by }}, {{ dateTime(data.at) }}: “{{ data.why }}”</template>
      <template v-else>As the guidance has them; nobody set them otherwise.</template>
    </p>
    <ProblemNote :problem="problem" />
    <div v-if="isPitmaster" class="row">
      <div class="field grow">
        <label for="line-why">Why they change</label><InputText id="line-why" v-model="why" maxlength="200" />
      </div>
      <Button type="submit" label="Save" outlined :loading="busy" data-testid="save-lines" />
      <span v-if="saved" class="check" role="status">saved</span>
    </div>
  </form>
</template>

<style scoped>
.lines {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 10px 16px;
}
.grow {
  flex: 1;
}
</style>
