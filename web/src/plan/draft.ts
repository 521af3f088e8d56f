import { computed, ref, watch, type InjectionKey } from 'vue'
import { api, ok, Refused } from '../api/client'
import type { CookView, Outline, Phase, PlanView, Problem, WayOut } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { fromLocal, toLocal } from '../ui/time'
import { toF, withTemperatureUnit } from '../ui/units'
import { kindOf } from './phases'

export interface Draft {
  id: number | null
  serve: string
  runs: { id: number; pit_id: number | null; setup: string; set_point: string }[]
  /** Per cut: the run it stands in, -1 for not in this cook. */
  cuts: { id: number; run: number; position: string }[]
  outline: Outline
}

const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T

/** A length of time as the crew writes it: "4 h", "1 h 30", "45 min". */
export function spanText(s: number): string {
  const minutes = Math.round(s / 60)
  const h = Math.floor(minutes / 60)
  if (h === 0) return `${minutes} min`
  return minutes % 60 ? `${h} h ${String(minutes % 60).padStart(2, '0')}` : `${h} h`
}

/** The seconds of a phase that ends by the clock alone, null otherwise. */
export function fixed(p: Phase): number | null {
  return p.ends.length === 1 && p.ends[0]!.watch === 'time' ? p.ends[0]!.value : null
}

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
  })
  /** Enough is filled in to work it out. */
  const complete = computed(() => {
    const d = draft.value
    return !!d && !!d.serve && d.runs.every((r) => r.pit_id && r.set_point) && d.cuts.some((c) => c.run >= 0)
  })

  // One request at a time: what changes meanwhile is worked out once it is back.
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
          params: { path: { id: trial.value.id } },
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
      if (again) {
        again = false
        void calculate()
      }
    }
  }
  watch(draft, () => void calculate(), { deep: true })

  /** The place of a phase in every arm that has one like it. */
  function* alike(arm: number, phase: number) {
    const d = draft.value!
    const p = d.outline.arms[arm]!.phases[phase]!
    const every = (p.kind === 'hold' || p.kind === 'rest') && !holdsVary.value
    for (const [a, other] of d.outline.arms.entries()) {
      if (a === arm) yield p
      else if (every) yield* other.phases.filter((q) => q.kind === p.kind)
    }
  }
  /** Makes a phase that ends by the clock longer or shorter; a hold takes its window with it. */
  function stretch(arm: number, phase: number, s: number) {
    for (const p of alike(arm, phase)) {
      const was = fixed(p)
      if (was === null) continue
      const to = Math.min(Math.max(Math.round(s / 300) * 300, 300), 4 * 86_400)
      if (p.kind === 'hold') {
        p.least_s = Math.min(Math.max(p.least_s + to - was, 0), to)
        if (p.most_s > 0) p.most_s = Math.max(p.most_s + to - was, to)
      }
      p.ends[0]!.value = to
      p.ends[0]!.typed = spanText(to)
    }
  }
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

/** A clock from the first thing done to the table: what is before the fire is pressed together. */
export interface Rail {
  from: number
  fire: number
  to: number
  /** Share of the width before the fire. */
  lead: number
}
export function railOf(v: PlanView): Rail {
  const light = Math.min(...v.pits.map((p) => Date.parse(p.light)), ...v.lanes.map((l) => Date.parse(l.on)))
  const begin = Math.min(...v.lanes.map((l) => Date.parse(l.begin)))
  const fire = light - 30 * 60_000
  const serve = Date.parse(v.serve)
  const late = v.late.by_s > 0 ? serve + v.late.by_s * 1000 : serve
  const leads = begin < fire
  return { from: leads ? begin : fire, fire, to: late + 30 * 60_000, lead: leads ? 0.14 : 0 }
}
/** Where a moment is on the rail, in percent of its width. */
export function railX(r: Rail, t: string | number): number {
  const ms = typeof t === 'number' ? t : Date.parse(t)
  const x =
    ms < r.fire
      ? r.lead * ((ms - r.from) / Math.max(1, r.fire - r.from))
      : r.lead + (1 - r.lead) * ((ms - r.fire) / (r.to - r.fire))
  return 100 * Math.min(Math.max(x, 0), 1)
}
export const hidden = (r: Rail, t: string) => Date.parse(t) < r.from
