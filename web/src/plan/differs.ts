import type { Draft } from './draft'
import { says } from './phases'

/** How a page names what a draft has by number. */
export interface Names {
  pit: (id: number | null) => string
  cut: (id: number) => string
  arm: (id: number) => string
  when: (local: string) => string
  span: (s: number) => string
}

/** What two drafts of a cook differ in, and how each has it. */
export function differs(mine: Draft, theirs: Draft, n: Names): { what: string; mine: string; theirs: string }[] {
  const rows: { what: string; mine: string; theirs: string }[] = []
  /** raw is what is compared; where the words say the same of both, that is said. */
  const put = (what: string, of: (d: Draft) => string, raw: (d: Draft) => unknown = of) => {
    if (JSON.stringify(raw(mine)) === JSON.stringify(raw(theirs))) return
    const [a, b] = [of(mine), of(theirs)]
    rows.push({ what, mine: a || 'none', theirs: a === b ? `${b || 'none'}, otherwise in its details` : b || 'none' })
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
      (d) => (of(d)?.doses ?? []).map((x) => x.name || x.kind).join(', '),
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
