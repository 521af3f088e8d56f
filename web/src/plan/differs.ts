import type { Dose, Outline } from '../api/schema.gen'
import type { Draft } from './draft'
import { says } from './phases'

/** What two differ in, and how each has it. */
export interface Difference {
  what: string
  mine: string
  theirs: string
}

const doseWords = (all: Dose[]) =>
  all.map((x) => [x.name || x.kind, doseAmount(x)].filter(Boolean).join(' ')).join(', ')
const doseAmount = (x: Dose) =>
  x.share > 0 ? `${+(100 * x.share).toFixed(2)} %` : x.g_per_m2 > 0 ? `${x.g_per_m2} g/m²` : ''

/** What arms get in two outlines. */
export function dosesDiffer(mine: Outline, theirs: Outline, arm: (id: number) => string): Difference[] {
  return mine.arms.flatMap((a) => {
    const other = theirs.arms.find((b) => b.arm_id === a.arm_id)?.doses ?? []
    if (JSON.stringify(a.doses) === JSON.stringify(other)) return []
    return [{ what: arm(a.arm_id), ...apart(doseWords(a.doses), doseWords(other)) }]
  })
}

/** The words of two that differ; where they are the same, that is said. */
const apart = (a: string, b: string) => ({
  mine: a || 'none',
  theirs: a === b ? `${b || 'none'}, otherwise in its details` : b || 'none',
})

/** How a page names what a draft has by number. */
export interface Names {
  pit: (id: number | null) => string
  cut: (id: number) => string
  arm: (id: number) => string
  when: (local: string) => string
  span: (s: number) => string
}

/** What two drafts of a cook differ in. */
export function differs(mine: Draft, theirs: Draft, n: Names): Difference[] {
  const rows: Difference[] = []
  /** raw is what is compared; where the words say the same of both, that is said. */
  const put = (what: string, of: (d: Draft) => string, raw: (d: Draft) => unknown = of) => {
    if (JSON.stringify(raw(mine)) === JSON.stringify(raw(theirs))) return
    rows.push({ what, ...apart(of(mine), of(theirs)) })
  }
  put('On the table', (d) => n.when(d.serve))
  put('How sure', (d) => `${Math.round(d.outline.chance * 100)} in 100`)
  put('Slicing', (d) => n.span(d.outline.slice_s))
  put('Pits', (d) => d.runs.map((r) => [n.pit(r.pit_id), r.set_point, r.setup].filter(Boolean).join(' ')).join(', '))
  const place = (d: Draft, id: number) => {
    const c = d.cuts.find((x) => x.id === id)
    const r = c && c.run >= 0 ? d.runs[c.run] : undefined
    return r ? [n.pit(r.pit_id), c!.position].filter(Boolean).join(' ') : ''
  }
  for (const { id } of mine.cuts) put(n.cut(id), (d) => place(d, id))
  const arms = new Set([...mine.outline.arms, ...theirs.outline.arms].map((a) => a.arm_id))
  for (const id of arms) {
    const of = (d: Draft) => d.outline.arms.find((a) => a.arm_id === id)
    put(
      n.arm(id),
      (d) => (of(d)?.phases ?? []).map((p) => [p.name, p.set_typed, says(p)].filter(Boolean).join(' ')).join(', '),
      (d) => of(d)?.phases,
    )
    put(
      `${n.arm(id)}, what goes in`,
      (d) => doseWords(of(d)?.doses ?? []),
      (d) => of(d)?.doses,
    )
  }
  put(
    'Shifts',
    (d) => d.outline.shifts.map((x) => `${x.from} to ${x.to}`).join(', '),
    (d) => d.outline.shifts,
  )
  return rows
}
