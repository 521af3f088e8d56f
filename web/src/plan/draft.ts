import { computed, onScopeDispose, ref, watch, type InjectionKey } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { CookView, Outline, PlanView, Problem, WayOut } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { fromLocal, toLocal } from '../ui/time'
import { toF, withTemperatureUnit } from '../ui/units'
import { kindOf } from './phases'
import { stretched } from './rail'

export interface Draft {
  id: number | null
  serve: string
  runs: { id: number; pit_id: number | null; setup: string; set_point: string }[]
  /** Per cut: the run it stands in, -1 for not in this cook. */
  cuts: { id: number; run: number; position: string }[]
  outline: Outline
  /** Of the cook as it was when this began. */
  version: string
}

const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T

/** A cook being planned, and what comes of it. */
export function usePlanDraft() {
  const { trial } = useThisTrial()
  const draft = ref<Draft | null>(null)
  const work = ref<PlanView | null>(null)
  const refused = ref<Problem | null>(null)
  const working = ref(false)
  const kept = ref('')
  const holdsVary = computed(() => trial.value.holds_vary)
  const dirty = computed(() => draft.value !== null && JSON.stringify(draft.value) !== kept.value)

  /** The draft a cook, or a new one, is planned from. */
  function draftOf(k: CookView | null): Draft {
    const runs =
      k?.runs.map((r) => ({
        id: r.id,
        pit_id: r.pit_id as number | null,
        setup: r.setup,
        set_point: r.set_point_typed,
      })) ??
      trial.value.suggested.map((r) => ({
        id: 0,
        pit_id: r.pit_id as number | null,
        setup: r.setup,
        set_point: r.set_point_typed,
      }))
    if (runs.length === 0) runs.push({ id: 0, pit_id: null, setup: '', set_point: '' })
    return {
      id: k?.id ?? null,
      serve: k ? toLocal(k.serve_at) : '',
      runs,
      cuts: trial.value.cuts
        .filter((c) => !c.placement || c.placement.cook_id === k?.id)
        .map((c) => {
          const here = k && c.placement?.cook_id === k.id
          return {
            id: c.id,
            run: here ? k.runs.findIndex((r) => r.id === c.placement!.pit_run_id) : !k && !c.placement ? 0 : -1,
            position: here ? c.placement!.position : '',
          }
        }),
      outline: copy(trial.value.outline),
      version: k?.version ?? '',
    }
  }
  function open(k: CookView | null) {
    draft.value = draftOf(k)
    kept.value = JSON.stringify(draft.value)
    work.value = refused.value = null
    opened++
  }
  /** Goes on with what was typed while k was being kept. */
  function goOn(k: CookView) {
    const d = draft.value!
    kept.value = JSON.stringify(draftOf(k))
    d.id = k.id
    d.version = k.version
    d.runs.forEach((r, i) => (r.id ||= k.runs[i]?.id ?? 0))
  }
  function putBack() {
    draft.value = JSON.parse(kept.value) as Draft
  }

  const body = (d: Draft) => ({
    serve_at: d.serve ? fromLocal(d.serve) : '0001-01-01T00:00:00Z',
    runs: d.runs.map((r) => ({
      id: r.id,
      pit_id: r.pit_id ?? 0,
      setup: r.setup,
      set_point: withTemperatureUnit(r.set_point),
    })),
    placements: d.cuts.filter((c) => c.run >= 0).map((c) => ({ cut_id: c.id, run: c.run, position: c.position })),
    outline: d.outline,
    version: d.version,
  })
  /** Enough is filled in to work it out. */
  const complete = computed(() => {
    const d = draft.value
    return !!d && !!d.serve && d.runs.every((r) => r.pit_id && r.set_point) && d.cuts.some((c) => c.run >= 0)
  })

  // One request at a time: what changes meanwhile is worked out once it is back. All of them are
  // of the trial it was opened for, whichever the page goes to meanwhile.
  const of = trial.value.id
  let left = false
  onScopeDispose(() => (left = true))
  let flying = false
  let again = false
  let opened = 0
  async function calculate() {
    const d = draft.value
    if (!d || !complete.value) return
    if (flying) return void (again = true)
    flying = working.value = true
    const mine = opened
    try {
      const v = await ok(
        api.POST('/api/trials/{id}/plan', {
          params: { path: { id: of } },
          body: { cook_id: d.id ?? 0, cook: body(d) },
        }),
      )
      if (mine === opened) {
        work.value = v
        refused.value = null
      }
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      if (mine === opened) refused.value = e.problem
    } finally {
      flying = working.value = false
      if (again && !left) {
        again = false
        void calculate()
      }
    }
  }
  watch(draft, () => void calculate(), { deep: true })

  /** Makes a phase that ends by the clock longer or shorter. */
  const stretch = (arm: number, phase: number, s: number) =>
    stretched(draft.value!.outline, arm, phase, s, holdsVary.value)
  function apply(w: WayOut) {
    const d = draft.value!
    if (w.do === 'serve') d.serve = toLocal(w.at)
    if (w.do === 'hold')
      for (const [a, arm] of d.outline.arms.entries())
        arm.phases.forEach((p, i) => p.kind === 'hold' && stretch(a, i, w.for_s))
    if (w.do === 'heat')
      for (const p of d.outline.arms[w.arm]!.phases)
        if (kindOf(p.kind).in_pit) {
          p.set_C = w.set_C
          p.set_typed = `${Math.round(toF(w.set_C))} F`
        }
  }
  return {
    draft,
    draftOf,
    kept,
    work,
    refused,
    working,
    dirty,
    complete,
    holdsVary,
    open,
    goOn,
    putBack,
    body,
    stretch,
    apply,
    calculate,
  }
}

export type PlanDraft = ReturnType<typeof usePlanDraft>
export const draftKey: InjectionKey<PlanDraft> = Symbol('plan draft')
