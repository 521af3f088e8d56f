<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useClipboard, useDebounceFn } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ok, post, Refused } from '../api/client'
import type { Calculation, Problem } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'
import { dateTime } from '../ui/time'
import AnswerField from './AnswerField.vue'
import FieldInput from './FieldInput.vue'
import { cleaned, type Step, type Value } from './value'

/** Every calculation of the barn by itself: its numbers in, its answer, the working, and its source. */
const route = useRoute()
const router = useRouter()
const { data: all } = useQuery({ queryKey: ['calc'], queryFn: () => ok(api.GET('/api/calc')), staleTime: Infinity })
const subjects: Record<string, string> = {
  plan: 'Time',
  prep: 'Kitchen',
  yield: 'Yield',
  safety: 'Safety',
  thermal: 'Cook model',
  units: 'Weights',
  design: 'Layout of a trial',
  panel: 'Blind tasting',
  verdict: 'Verdict',
}
const find = ref('')
const groups = computed(() =>
  Object.entries(subjects).flatMap(([key, name]) => {
    const said = find.value.toLowerCase()
    const mine = (all.value ?? []).filter(
      (c) => c.subject === key && `${c.title} ${c.name}`.toLowerCase().includes(said),
    )
    return mine.length ? [{ name, mine }] : []
  }),
)
const open = computed(() => all.value?.find((c) => c.name === route.params.name))

const input = ref<{ [name: string]: Value }>({})
const output = ref<{ [name: string]: Value } | null>(null)
const working = ref<Step[]>([])
const problem = ref<Problem | null>(null)
function start(c: Calculation) {
  const shared = route.query.in
  let given: { [name: string]: Value } | null = null
  try {
    if (typeof shared === 'string') given = JSON.parse(shared) as { [name: string]: Value }
  } catch {
    problem.value = { status: 0, title: 'The link is cut short.', remedy: 'The example stands instead.', errors: [] }
  }
  input.value = given ?? (JSON.parse(c.example) as { [name: string]: Value })
}
watch(
  open,
  (c) => {
    output.value = null
    problem.value = null
    if (c) start(c)
  },
  { immediate: true },
)

let last = 0
async function calculate() {
  const c = open.value
  if (!c) return
  const mine = ++last
  try {
    const got = await post<{ output: { [name: string]: Value }; working: Step[] }>(
      `/api/calc/${c.name}/working`,
      cleaned(c.inputs, input.value),
    )
    if (mine !== last) return
    problem.value = null
    output.value = got.output
    working.value = got.working
  } catch (e) {
    if (!(e instanceof Refused)) throw e
    if (mine !== last) return
    problem.value = e.problem
    output.value = null
  }
}
const soon = useDebounceFn(calculate, 200)
watch(input, () => void soon(), { deep: true })

const link = computed(() => {
  if (!open.value) return ''
  const text = JSON.stringify(cleaned(open.value.inputs, input.value))
  return `${location.origin}/bench/${open.value.name}?in=${encodeURIComponent(text)}`
})
const { copy, copied } = useClipboard({ legacy: true })
function share() {
  void copy(link.value)
  void router.replace({ query: { in: JSON.stringify(cleaned(open.value!.inputs, input.value)) } })
}
const print = () => window.print()
const now = () => dateTime(Date.now())
</script>

<template>
  <div class="bench">
    <nav class="index no-print" :class="{ hide: open }" aria-label="Calculations">
      <InputText v-model="find" placeholder="find a calculation" aria-label="Find a calculation" />
      <section v-for="g in groups" :key="g.name">
        <b class="group">{{ g.name }}</b>
        <RouterLink
          v-for="c in g.mine"
          :key="c.name"
          :to="`/bench/${c.name}`"
          :class="{ here: c.name === open?.name }"
          >{{ c.title }}</RouterLink
        >
      </section>
    </nav>
    <article v-if="open" class="card" data-testid="calculation">
      <RouterLink class="back no-print" to="/bench">All calculations</RouterLink>
      <div class="row">
        <h1>{{ open.title }}</h1>
        <span class="row push no-print">
          <Button
            :label="copied ? 'Copied' : 'Copy a link to this'"
            size="small"
            outlined
            data-testid="share"
            @click="share"
          />
          <Button label="Print the card" size="small" outlined @click="print" />
        </span>
      </div>
      <form class="fields" @submit.prevent="calculate">
        <FieldInput
          v-for="f in open.inputs"
          :key="`${open.name}.${f.name}`"
          :field="f"
          :path="f.name"
          :model-value="input[f.name] ?? null"
          @update:model-value="(v: Value) => (input = { ...input, [f.name]: v })"
        />
      </form>
      <ProblemNote :problem="problem" />
      <section v-if="output" class="answers board" data-testid="answer">
        <AnswerField v-for="f in open.outputs" :key="f.name" :field="f" :value="output[f.name] ?? null" />
      </section>
      <section v-if="output && working.length" class="working" data-testid="working">
        <h2>How it is worked out</h2>
        <div v-for="s in working" :key="s.words" class="step">
          <p>{{ s.words }}</p>
          <p v-if="s.values" class="num">{{ s.values }}</p>
        </div>
      </section>
      <p class="small soot">
        Source: {{ open.source }}. <span class="num">{{ open.name }}</span>
      </p>
      <p class="foot small">Printed {{ now() }}.</p>
    </article>
    <div v-else-if="all" class="card soot">
      <h1>Bench</h1>
      <p>Every calculation of the barn by itself. Pick one; what you fill in is kept in its link.</p>
    </div>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr);
  min-height: calc(100vh - 44px);
}
.index {
  border-right: var(--line-strong) solid var(--ink);
  background: var(--board);
  padding: 12px 0;
}
.index > input {
  width: calc(100% - 32px);
  margin: 0 16px 4px;
}
.index .group {
  display: block;
  font: 700 20px var(--font-head);
  font-size: 17px;
  padding: 12px 16px 4px;
}
.index a {
  display: block;
  padding: 7px 16px;
  text-decoration: none;
  border-top: var(--line) solid var(--grain);
}
.index a.here {
  background: var(--trough);
  font-weight: 700;
}
.card {
  padding: 16px;
  display: flex;
  flex-direction: column;
  gap: 14px;
  max-width: 980px;
}
.back {
  display: none;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 10px 14px;
  align-items: end;
}
.step {
  border-top: var(--line) solid var(--grain);
  padding: 6px 0;
}
.step .num {
  font-size: 17px;
  overflow-wrap: anywhere;
}
.foot {
  display: none;
}
@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
  .index {
    border-right: 0;
  }
  .index.hide {
    display: none;
  }
  .index a {
    padding: 13px 16px;
  }
  .back {
    display: block;
  }
}
@media print {
  .bench {
    display: block;
  }
  .foot {
    display: block;
  }
}
</style>
