<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok, upload } from '../api/client'
import type { CookView, LogImported, LogOptions, LogPreview, Target } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'
import { clock, date, dateTime } from '../ui/time'
import { degrees } from '../ui/units'
import LogQuestions from './LogQuestions.vue'
import { targetOf, useTargets, valueOf } from './targets'
import { system } from '../ui/settings'

const shown = defineModel<boolean>({ required: true })
const props = defineProps<{ cook: CookView }>()
const emit = defineEmits<{ imported: [LogImported] }>()
const { session } = useSession()
const { run, busy, problem } = useAct()

const file = ref<File | null>(null)
const preview = ref<LogPreview | null>(null)
const done = ref<LogImported | null>(null)
const options = ref<LogOptions>(blank())
const targets = ref<Record<string, string>>({})
function blank(): LogOptions {
  return {
    logger: '',
    zone: '',
    scale: '',
    date_order: '',
    fold: '',
    outside: '',
    shape: '',
    day: '',
    start: '',
    elapsed: '',
    future: '',
    lines: '',
    targets: {},
  }
}

function start() {
  file.value = preview.value = done.value = problem.value = null
  options.value = blank()
  targets.value = {}
}
async function choose(f: File | undefined) {
  if (!f) return
  start()
  const most = session.value!.most_file
  if (f.size > most) {
    problem.value = {
      status: 413,
      title: `${f.name} is ${Math.round(f.size / 2 ** 20)} MB; ${most / 2 ** 20} MB is the most.`,
      remedy: 'Export a shorter stretch, or split the file by day; each part can be imported by itself.',
      errors: [],
    }
    return
  }
  file.value = f
  await look()
}
async function look() {
  const p = await run(() =>
    ok(
      api.POST('/api/cooks/{id}/logs/preview', {
        params: { path: { id: props.cook.id } },
        body: upload(file.value!, options.value),
      }),
    ),
  )
  if (!p) return
  preview.value = p
  options.value.logger ||= p.logger
  options.value.shape ||= p.shape
  for (const c of p.columns) if (!targets.value[c.name]) targets.value[c.name] = valueOf(c.target)
}

const choices = useTargets(
  computed(() => props.cook),
  'keep, not assigned',
  shown,
)

async function bring() {
  const chosen: Record<string, Target> = {}
  for (const [column, v] of Object.entries(targets.value)) if (v) chosen[column] = targetOf(v)
  const r = await run(() =>
    ok(
      api.POST('/api/cooks/{id}/logs', {
        params: { path: { id: props.cook.id } },
        body: upload(file.value!, { ...options.value, targets: chosen }),
      }),
    ),
  )
  if (!r) return
  done.value = r
  emit('imported', r)
}
const shapes = [
  { label: 'all probes', value: 'wide' },
  { label: 'one reading', value: 'long' },
]
const linesTaken = [
  { label: 'take the good lines', value: 'good' },
  { label: 'all or nothing', value: 'all' },
]
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Import a log" :style="{ width: 'min(58rem, 96vw)' }" @show="start">
    <div class="stack">
      <div
        v-if="!preview && !done"
        class="drop"
        @dragover.prevent
        @drop.prevent="choose($event.dataTransfer?.files[0])"
      >
        <p>
          Drop the logger's file here, or choose it: a time column and one column a probe, one line a reading, or JSON
          objects: one a line, or a list of them.
        </p>
        <label class="way"
          >Choose a file
          <input
            type="file"
            accept=".csv,.txt,.tsv,.log,.json,.jsonl,.ndjson,text/*"
            data-testid="log-file"
            @change="choose(($event.target as HTMLInputElement).files?.[0])"
        /></label>
        <p v-if="busy" class="soot" role="status">Reading {{ file?.name }}…</p>
      </div>
      <ProblemNote :problem="problem" />
      <Button v-if="problem && !preview" label="Choose another file" outlined @click="start" />
      <template v-if="preview && !done">
        <p data-testid="log-read">
          <b class="big">{{ preview.readings.toLocaleString('en') }}</b> readings in
          {{ preview.lines.toLocaleString('en') }} lines, {{ dateTime(preview.from) }} to
          {{ date(preview.from) === date(preview.to) ? clock(preview.to) : dateTime(preview.to) }}
          <span class="soot small">({{ preview.zone }})</span>.
          <span v-if="preview.known" data-testid="known"
            ><b>{{ preview.known.toLocaleString('en') }}</b> of this logger are already here and will not be added
            again.</span
          >
        </p>
        <p class="soot small">
          <b v-if="preview.remembered" data-testid="remembered">Read as the last file of this logger was.</b>
          {{ preview.encoding }}, {{ preview.objects ? 'JSON objects' : `${preview.delimiter} between fields`
          }}{{ preview.decimal_comma ? ', decimal commas' : '' }}, times as {{ preview.time_layout
          }}{{ preview.repeated ? `, ${preview.repeated} repeated times` : '' }}.
        </p>
        <div class="row">
          <div class="field">
            <label for="logger">Logger</label><InputText id="logger" v-model="options.logger" @change="look" />
          </div>
          <div class="field">
            <label for="log-zone">Times are in</label
            ><InputText id="log-zone" v-model="options.zone" :placeholder="preview.zone" @change="look" />
          </div>
          <div class="field">
            <span class="label">A line of it is</span
            ><SelectButton
              v-model="options.shape"
              :options="shapes"
              option-label="label"
              option-value="value"
              aria-label="A line of it is"
              data-testid="log-shape"
              @change="look"
            />
          </div>
          <LogQuestions v-model="options" :preview="preview" :cook="cook" @said="look" />
        </div>
        <table>
          <thead>
            <tr>
              <th>Column</th>
              <th>Measures</th>
              <th>Readings</th>
              <th>Empty</th>
              <th>Lowest</th>
              <th>Highest ({{ system }})</th>
              <th>Read in</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in preview.columns" :key="c.name">
              <td>
                <b>{{ c.name }}</b>
              </td>
              <td>
                <Select
                  v-model="targets[c.name]"
                  :options="choices"
                  option-label="label"
                  option-value="value"
                  placeholder="keep, not assigned"
                  :aria-label="`What ${c.name} measures`"
                />
              </td>
              <td class="num">{{ c.readings }}</td>
              <td class="num">{{ c.empty }}</td>
              <td class="num">{{ degrees(c.min_c) }}</td>
              <td class="num">{{ degrees(c.max_c) }}</td>
              <td class="num">{{ c.scale }}</td>
            </tr>
          </tbody>
        </table>
        <div v-if="preview.trouble_count" class="field">
          <span class="label">Lines that have trouble</span
          ><SelectButton
            v-model="options.lines"
            :options="linesTaken"
            option-label="label"
            option-value="value"
            aria-label="Lines that have trouble"
            data-testid="log-lines"
          />
        </div>
        <details v-if="preview.trouble_count" data-testid="trouble">
          <summary>
            <b>{{ preview.trouble_count }}</b> {{ preview.trouble_count === 1 ? 'line has' : 'lines have' }} trouble;
            everything else is kept
          </summary>
          <p v-for="t in preview.trouble" :key="t.line + t.problem" class="small">
            <b class="num">Line {{ t.line }}</b> {{ t.problem }} <code>{{ t.text }}</code>
          </p>
        </details>
        <div class="row">
          <Button label="Import" :loading="busy" data-testid="import-log" @click="bring" />
          <Button label="Another file" outlined @click="start" />
        </div>
      </template>
      <template v-if="done">
        <p data-testid="imported">
          <b class="big">{{ done.added.toLocaleString('en') }}</b> readings added,
          {{ done.already_there.toLocaleString('en') }} were there already{{
            done.trouble_count ? `, ${done.trouble_count} lines had trouble` : ''
          }}.
        </p>
        <div class="row">
          <Button label="Done" data-testid="import-done" @click="shown = false" /><Button
            label="Another file"
            outlined
            @click="start"
          />
        </div>
      </template>
    </div>
  </Dialog>
</template>

<style scoped>
.drop {
  border: 2.5px dashed var(--edge);
  padding: 28px;
  text-align: center;
  display: flex;
  flex-direction: column;
  gap: 14px;
  align-items: center;
}
td {
  padding-top: 3px;
  padding-bottom: 3px;
}
code {
  font: 13px var(--font-num);
  color: var(--soot);
  overflow-wrap: anywhere;
}
</style>
