<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { PasteReport } from '../api/schema.gen'
import ProblemNote from './ProblemNote.vue'

/** Rows copied out of a spreadsheet: first what would come of them, then they are kept. */
const props = defineProps<{ what: 'cuts' | 'weights' | 'scores'; of: number }>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ kept: [] }>()
const { run, busy, problem } = useAct()
const text = ref('')
const unit = ref('')
const all = ref(false)
const report = ref<PasteReport | null>(null)
const paths = {
  cuts: '/api/trials/{id}/paste/cuts',
  weights: '/api/trials/{id}/paste/weights',
  scores: '/api/flights/{id}/paste/scores',
} as const
const heads = {
  cuts: 'cut, pair, animal, side, lot, grade, bone, arm, price, bought, trimmed, thickness, length',
  weights: 'cut, then bought, trimmed, prepped, off, rested, edible; or cut, stage, weight',
  scores: 'taster, code, then the attributes of the ballot by their names',
}
const examples = {
  cuts: 'cut\tpair\ttrimmed\n1L\t1\t6 lb 3 oz\n1R\t1\t6 lb 1 oz',
  weights: 'cut\toff\tedible\n1L\t3 lb 12 oz\t3 lb 2 oz',
  scores: 'taster\tcode\tjuiciness\toverall\nIfe\t418\t7\t6',
}
const good = computed(() => report.value?.good ?? 0)
async function send(keep: boolean) {
  const r = await run(() =>
    ok(
      api.POST(paths[props.what], {
        params: { path: { id: props.of } },
        body: { text: text.value, keep, all: all.value, unit: unit.value, why: '' },
      }),
    ),
  )
  if (!r) return
  report.value = r
  if (r.kept) emit('kept')
}
function start() {
  text.value = ''
  report.value = problem.value = null
}
</script>

<template>
  <Dialog
    v-model:visible="shown"
    modal
    :header="`Paste rows of ${what}`"
    :style="{ width: 'min(52rem, 96vw)' }"
    @show="start"
  >
    <div class="stack">
      <template v-if="!report?.kept">
        <div class="field">
          <label for="paste-text">Rows with their head, copied out of a spreadsheet</label
          ><textarea
            id="paste-text"
            v-model="text"
            rows="7"
            data-field="text"
            :placeholder="examples[what]"
            class="rows num"
            @input="report = null"
          />
        </div>
        <p class="soot small">Columns: {{ heads[what] }}. Others are left out.</p>
        <div class="row">
          <div v-if="what !== 'scores'" class="field">
            <label for="paste-unit">Numbers without a unit are</label
            ><Select v-model="unit" label-id="paste-unit" :options="['', 'lb', 'oz', 'kg', 'g']" data-field="unit" />
          </div>
          <div class="field">
            <span class="label">Where a row has trouble</span
            ><SelectButton
              v-model="all"
              :options="[
                { label: 'take the good ones', value: false },
                { label: 'take none', value: true },
              ]"
              option-label="label"
              option-value="value"
              :allow-empty="false"
              aria-label="Where a row has trouble"
            />
          </div>
        </div>
      </template>
      <ProblemNote :problem="problem" />
      <div v-if="report" data-testid="paste-report">
        <p>
          <b class="big">{{ report.good }}</b> {{ report.kept ? 'rows are kept' : 'rows are good'
          }}<span v-if="report.bad"
            >, <b class="triangle">{{ report.bad }} have trouble</b></span
          >.
          <span v-if="report.unknown.length" class="soot small">Not understood: {{ report.unknown.join(', ') }}.</span>
        </p>
        <ul>
          <li v-for="r in report.rows.filter((x) => x.problem)" :key="r.line">
            <b class="num">Row {{ r.line }}</b> {{ r.problem }}; {{ r.remedy }}.
          </li>
        </ul>
      </div>
      <div class="row">
        <Button v-if="report?.kept" label="Done" data-testid="paste-done" @click="shown = false" />
        <Button
          v-else-if="report && good && !(all && report.bad)"
          :label="`Keep ${good} rows`"
          :loading="busy"
          data-testid="paste-keep"
          @click="send(true)"
        />
        <Button
          v-else
          label="Look at them"
          :loading="busy"
          :disabled="!text.trim()"
          data-testid="paste-look"
          @click="send(false)"
        />
      </div>
    </div>
  </Dialog>
</template>

<style scoped>
.rows {
  width: 100%;
  padding: 10px;
  border: var(--line) solid var(--edge);
  border-radius: var(--r-2);
  background: var(--board);
}
.rows::placeholder {
  color: var(--soot);
  font-style: italic;
}
ul {
  margin: 8px 0 0;
  padding-left: 18px;
}
</style>
