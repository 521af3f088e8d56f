<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import RadioButton from 'primevue/radiobutton'
import Select from 'primevue/select'
import { computed, inject, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Ask } from '../api/schema.gen'
import { useSession } from '../session/session'
import { trialKey } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { title } from '../ui/title'

const router = useRouter()
const frame = inject(trialKey, null)
const trial = computed(() => frame?.trial.value)
const { isPitmaster } = useSession()
const { data: catalogue } = useQuery({
  queryKey: ['catalogue'],
  queryFn: () => ok(api.GET('/api/catalogue')),
  staleTime: Infinity,
})
const { run, busy, problem, fault } = useAct()
const saved = ref(false)
if (!frame) title.value = 'A new question'

const ask = reactive<Ask>({
  question: '',
  product: '',
  cut: '',
  species: 'red meat',
  handling: 'intact',
  factor: '',
  unit: 'cut',
  arms: [
    { id: 0, tag: '', level: '', control: true },
    { id: 0, tag: '', level: '', control: false },
  ],
  held: [{ name: '', value: '' }],
  outcomes: [],
  allergens: [],
})
const allergens = ref('')
watch(
  trial,
  (t) => {
    if (!t) return
    Object.assign(ask, JSON.parse(JSON.stringify(t.ask)))
    allergens.value = t.ask.allergens.join(', ')
  },
  { immediate: true },
)
watch(
  catalogue,
  (c) => {
    if (c && !frame && ask.outcomes.length === 0)
      ask.outcomes = c.outcomes
        .filter((o) => ['overall', 'tenderness', 'juiciness', 'cooked_yield', 'cook_time'].includes(o.key))
        .map((o) => ({ key: o.key, smallest_difference: o.smallest_difference, exact: false }))
  },
  { immediate: true },
)
const shut = computed(() => !isPitmaster.value || !!trial.value?.revealed_at)

const chosen = (key: string) => ask.outcomes.find((o) => o.key === key)
function toggle(key: Ask['outcomes'][number]['key'], smallest: number) {
  const at = ask.outcomes.findIndex((o) => o.key === key)
  if (at >= 0) ask.outcomes.splice(at, 1)
  else ask.outcomes.push({ key, smallest_difference: smallest, exact: false })
}
function control(i: number) {
  const was = ask.arms[i]!.control
  ask.arms.forEach((a, n) => (a.control = n === i && !was))
}

async function keep() {
  saved.value = false
  const order = catalogue.value!.outcomes.map((o) => o.key)
  const body: Ask = {
    ...ask,
    held: ask.held.filter((h) => h.name.trim() || h.value.trim()),
    outcomes: ask.outcomes
      .map((o) => ({ ...o, smallest_difference: Number(o.smallest_difference) || 0 }))
      .sort((a, b) => order.indexOf(a.key) - order.indexOf(b.key)),
    allergens: allergens.value
      .split(',')
      .map((a) => a.trim())
      .filter(Boolean),
  }
  if (!trial.value) {
    const t = await run(() => ok(api.POST('/api/trials', { body })))
    if (t) await router.push(`/trials/${t.id}/match`)
    return
  }
  const t = await run(() => ok(api.PUT('/api/trials/{id}/ask', { params: { path: { id: trial.value!.id } }, body })))
  if (!t) return
  frame!.set(t)
  saved.value = true
}
</script>

<template>
  <form class="ask" @submit.prevent="keep">
    <fieldset :disabled="shut">
      <section class="page stack">
        <div class="field">
          <label for="question">The question, in one sentence</label>
          <InputText id="question" v-model="ask.question" class="question" placeholder="Paper or bare?" />
        </div>
        <div class="grid4">
          <div class="field">
            <label for="product">What is cooked</label
            ><InputText id="product" v-model="ask.product" placeholder="lamb shoulder" />
          </div>
          <div class="field">
            <label for="cut">One piece is called</label><InputText id="cut" v-model="ask.cut" placeholder="shoulder" />
          </div>
          <div class="field">
            <label for="species">Meat</label>
            <Select
              v-model="ask.species"
              label-id="species"
              :options="['red meat', 'poultry', 'fish']"
              :disabled="shut"
              data-testid="species"
            />
          </div>
          <div class="field">
            <label for="handling">Handled</label>
            <Select
              v-model="ask.handling"
              label-id="handling"
              :options="[
                { label: 'whole muscle', value: 'intact' },
                { label: 'injected or pierced', value: 'pierced' },
                { label: 'minced', value: 'minced' },
              ]"
              option-label="label"
              option-value="value"
              :disabled="shut"
            />
          </div>
        </div>
        <h2>What is varied</h2>
        <div class="grid4">
          <div class="field wide2">
            <label for="factor">The one thing that changes</label
            ><InputText id="factor" v-model="ask.factor" placeholder="wrap" />
          </div>
          <div class="field wide2">
            <label for="unit">It is set on each</label>
            <Select
              v-model="ask.unit"
              label-id="unit"
              :options="[
                { label: 'cut (wrap, trim, rub)', value: 'cut' },
                { label: 'pit run (heat, fuel, wood, set-up)', value: 'pit run' },
                { label: 'holder run (hold)', value: 'holder run' },
                { label: 'batch (brine)', value: 'batch' },
              ]"
              option-label="label"
              option-value="value"
              :disabled="shut"
            />
          </div>
        </div>
        <div v-for="(a, i) in ask.arms" :key="i" class="arm">
          <ArmToken :place="i" />
          <div class="field">
            <label :for="`tag${i}`">Tag, 2 to 7 letters</label
            ><InputText :id="`tag${i}`" v-model="a.tag" class="mono-input tag" maxlength="7" placeholder="PAPER" />
          </div>
          <div class="field">
            <label :for="`level${i}`">What this arm does</label
            ><InputText :id="`level${i}`" v-model="a.level" placeholder="paper at 165 F" />
          </div>
          <label class="row control"
            ><RadioButton
              :model-value="a.control"
              :value="true"
              :disabled="shut"
              :input-id="`control${i}`"
              @click="control(i)"
            />
            today's practice</label
          >
        </div>
        <h2>What is held equal</h2>
        <div v-for="(h, i) in ask.held" :key="i" class="row held">
          <InputText v-model="h.name" aria-label="What" placeholder="pit" />
          <InputText v-model="h.value" aria-label="Value" placeholder="250 F, Brick Pit" class="grow" />
          <Button label="Take out" size="small" text @click="ask.held.splice(i, 1)" />
        </div>
        <div>
          <Button
            label="Hold another thing equal"
            size="small"
            outlined
            @click="ask.held.push({ name: '', value: '' })"
          />
        </div>
        <div class="field">
          <label for="allergens">Allergens in any arm, for all tasters alike (comma between)</label>
          <InputText id="allergens" v-model="allergens" placeholder="mustard, milk" />
        </div>
      </section>
      <aside class="board stack">
        <h2>What decides</h2>
        <p class="soot small">
          Set the smallest difference that would change what you do. Within it, two arms are the same for your purposes.
        </p>
        <table>
          <thead>
            <tr>
              <th>Outcome</th>
              <th class="num-col">matters from</th>
              <th>exact</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="o in catalogue?.outcomes" :key="o.key">
              <td>
                <label class="row tight">
                  <Checkbox
                    :model-value="!!chosen(o.key)"
                    binary
                    :input-id="`o-${o.key}`"
                    :disabled="shut"
                    @update:model-value="toggle(o.key, o.smallest_difference)"
                  />
                  <span
                    >{{ o.name }}
                    <span class="soot small">{{
                      o.better === 'description' ? 'described only' : o.better === 'down' ? 'less is better' : ''
                    }}</span></span
                  >
                </label>
              </td>
              <td class="num-col">
                <span v-if="chosen(o.key) && o.better !== 'description'" class="row tight">
                  <InputText
                    v-model="chosen(o.key)!.smallest_difference as unknown as string"
                    class="mono-input small-input"
                    inputmode="decimal"
                    :aria-label="`Smallest difference that matters, ${o.name}`"
                  />
                  <span class="soot small">{{ o.unit === '1 to 9' ? 'pts' : o.unit.split(' ')[0] }}</span>
                </span>
              </td>
              <td>
                <Checkbox
                  v-if="chosen(o.key) && o.better !== 'description'"
                  v-model="chosen(o.key)!.exact"
                  binary
                  :disabled="shut"
                  :aria-label="`${o.name}: skewed, judge by exact sign flips`"
                  title="Ranks or badly skewed values: judge by exact sign flips"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="fault('outcomes')" class="small">{{ fault('outcomes')!.problem }}</p>
        <template v-if="trial?.warnings.length">
          <p v-for="w in trial.warnings" :key="w" class="warn triangle">{{ w }}</p>
        </template>
        <ProblemNote :problem="problem" />
        <p v-if="shut" class="soot">
          {{ trial?.revealed_at ? 'The codes are open, so the ask is shut.' : 'A pitmaster writes the ask.' }}
        </p>
        <div v-else class="row">
          <Button
            type="submit"
            :label="trial ? 'Keep the ask' : 'Ask it, then match the cuts'"
            :loading="busy"
            data-testid="keep-ask"
          />
          <span v-if="saved" class="check" role="status">kept</span>
        </div>
      </aside>
    </fieldset>
  </form>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 430px;
  min-height: calc(100vh - 96px);
}
aside {
  border-left: var(--line-strong) solid var(--ink);
}
.page {
  width: 100%;
}
.question {
  font: 700 26px var(--font-head);
}
.grid4 {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 12px;
}
.wide2 {
  grid-column: span 2;
}
.arm {
  display: grid;
  grid-template-columns: 28px 130px 1fr auto;
  gap: 12px;
  align-items: end;
}
.control {
  min-height: 42px;
}
.tag {
  text-transform: uppercase;
  font-weight: 700;
  width: 100%;
}
.held .grow {
  flex: 1;
}
.tight {
  gap: 8px;
  flex-wrap: nowrap;
}
.small-input {
  width: 70px;
  text-align: right;
}
@media (max-width: 900px) {
  fieldset {
    grid-template-columns: 1fr;
  }
  aside {
    border-left: 0;
    border-top: var(--line-strong) solid var(--ink);
  }
  .grid4 {
    grid-template-columns: 1fr 1fr;
  }
  .arm {
    grid-template-columns: 28px 110px 1fr;
  }
  .control {
    grid-column: 2 / -1;
  }
}
</style>
