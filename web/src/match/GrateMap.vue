<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, CutView, PitRun } from '../api/schema.gen'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import CellProblem from '../ui/CellProblem.vue'
import { grateColumns, grateRows } from '../ui/grate'
import { date } from '../ui/time'
import { signed } from '../ui/units'
import { useLayout } from './layout'
import { system } from '../ui/settings'

/** The grate of one pit on one cook day: tokens stand where cuts will lie. */
const props = defineProps<{ cook: CookView; run: PitRun; day: number; picked: number | null; over: string | null }>()
const emit = defineEmits<{ pick: [CutView]; put: [string]; drag: [PointerEvent, CutView] }>()
const { trial, armOf, shut, refresh } = useThisTrial()
const { fixed } = useLayout()
const { mayWith } = useSession()
const { run: act, problem } = useAct()
const here = computed(() => trial.value.cuts.filter((c) => c.placement?.pit_run_id === props.run.id))
const at = (position: string) => here.value.find((c) => c.placement!.position === position)
const columns = computed(() => grateColumns(props.run))
const rows = computed(() => grateRows(props.run))
const loose = computed(() =>
  here.value.filter((c) => !rows.value.some((r) => columns.value.some((k) => k + r === c.placement!.position))),
)
/** How far from set a place runs, by the burns of the pit as it is used. */
const spot = (position: string) => props.run.used?.places.find((s) => s.name === position)
function off(position: string): string {
  const c = spot(position)?.off_set_c
  return c === null || c === undefined ? '' : signed(Math.round(c * (system.value === 'F' ? 1.8 : 1)) || 0, 0)
}
const sizing = ref(false)
const size = reactive({ columns: '', rows: '' })
function resize() {
  Object.assign(size, { columns: String(props.run.grate_columns), rows: String(props.run.grate_rows) })
  sizing.value = true
}
async function keepSize() {
  const done = await act(() =>
    ok(
      api.PUT('/api/pits/{id}/grate', {
        params: { path: { id: props.run.pit_id } },
        body: { columns: Number(size.columns) || 0, rows: Number(size.rows) || 0 },
      }),
    ),
  )
  if (!done) return
  sizing.value = false
  await refresh('cooks')
}
</script>

<template>
  <article :data-testid="`grate-${day}-${run.pit}`">
    <div class="row head">
      <h3>Day {{ day }}</h3>
      <span class="soot small">{{ run.pit }}, {{ date(cook.serve_at) }}{{ run.levels ? `, ${run.levels}` : '' }}</span>
    </div>
    <table>
      <thead>
        <tr>
          <th />
          <th v-for="k in columns" :key="k" class="num">{{ k }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r">
          <th class="num">{{ r }}</th>
          <td v-for="k in columns" :key="k">
            <button
              type="button"
              class="cell"
              :class="{
                over: over === `place ${run.id} ${k}${r}`,
                picked: at(`${k}${r}`) && at(`${k}${r}`)!.id === picked,
              }"
              :data-drop="`place ${run.id} ${k}${r}`"
              :disabled="fixed && !at(`${k}${r}`)"
              :aria-label="
                at(`${k}${r}`)
                  ? `${at(`${k}${r}`)!.name} at ${k}${r}`
                  : `Put the picked cut at ${k}${r} ${off(k + r)}`.trim()
              "
              @pointerdown="at(`${k}${r}`) && emit('drag', $event, at(`${k}${r}`)!)"
              @click="at(`${k}${r}`) ? emit('pick', at(`${k}${r}`)!) : emit('put', `place ${run.id} ${k}${r}`)"
            >
              <span
                v-if="!at(`${k}${r}`) && off(`${k}${r}`)"
                class="num off"
                :class="{ near: spot(`${k}${r}`)!.within_5_f }"
                >{{ off(`${k}${r}`) }}</span
              >
              <template v-if="at(`${k}${r}`)">
                <ArmToken v-if="armOf(at(`${k}${r}`)!) >= 0" :place="armOf(at(`${k}${r}`)!)" :size="24" />
                <b class="num">{{ at(`${k}${r}`)!.name }}</b>
              </template>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="run.used" class="small soot" data-testid="by-its-burns">
      {{ system }} from set, by {{ run.used.burns }} burns as {{ run.used.tag }} ({{ date(run.used.last) }}); fire end
      at A
    </p>
    <p v-if="loose.length" class="small">
      No place yet:
      <button
        v-for="c in loose"
        :key="c.id"
        type="button"
        class="chip num"
        @pointerdown="emit('drag', $event, c)"
        @click="emit('pick', c)"
      >
        {{ c.name }}
      </button>
    </p>
    <form v-if="sizing" class="row tight" @submit.prevent="keepSize">
      <InputText v-model="size.columns" size="small" class="size" aria-label="Places across" /> across
      <InputText v-model="size.rows" size="small" class="size" aria-label="Places along" /> along
      <Button type="submit" label="Save" size="small" />
    </form>
    <Button v-else-if="!shut && mayWith('pits')" label="Change the grate" text size="small" @click="resize" />
    <CellProblem :problem="problem" />
  </article>
</template>

<style scoped>
.off {
  font-size: 13px;
  color: var(--soot);
}
.off.near {
  font-weight: 700;
  color: var(--ink);
}
.head {
  gap: 8px;
  justify-content: space-between;
}
table {
  width: auto;
}
th {
  padding: 0 6px 2px 0;
  text-align: center;
}
td {
  padding: 0;
}
tbody tr {
  border: 0;
}
.cell {
  width: 62px;
  height: 56px;
  border: var(--line) solid var(--edge);
  background: var(--board);
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 1px;
  padding: 0;
  cursor: pointer;
  touch-action: none;
}
.cell b {
  font-size: 13px;
}
.cell.over {
  background: var(--trough);
}
.cell.picked {
  outline: 3px solid var(--focus);
}
.chip {
  min-width: 40px;
  min-height: 32px;
  margin-left: 4px;
  touch-action: none;
}
.tight {
  gap: 6px;
}
.size {
  width: 52px;
}
</style>
