import type { Outline, Phase, PlanView } from '../api/schema.gen'

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

/** A phase, and those of the other arms that stay as long as it: rests and holds, unless they are what varies. */
function* alike(outline: Outline, arm: number, phase: number, holdsVary: boolean) {
  const p = outline.arms[arm]!.phases[phase]!
  const every = (p.kind === 'hold' || p.kind === 'rest') && !holdsVary
  for (const [a, other] of outline.arms.entries()) {
    if (a === arm) yield p
    else if (every) yield* other.phases.filter((q) => q.kind === p.kind)
  }
}

/** Makes a phase that ends by the clock longer or shorter, in steps of five minutes; a hold takes its window with it. */
export function stretched(outline: Outline, arm: number, phase: number, s: number, holdsVary: boolean): void {
  for (const p of alike(outline, arm, phase, holdsVary)) {
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
