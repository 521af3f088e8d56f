import type { CookView, CutView, Event, PitRun, Trace } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { clock } from '../ui/time'
import { actRow, label, type Who } from './acts'

/** What the lanes are laid side by side on: the clock, or the moment an act was done to each. */
export type Align = 'clock' | 'on' | 'wrap' | 'pull'

/** When the act of an alignment was first done to one of these cuts. */
export function anchorOf(events: Event[], cuts: CutView[], align: Align): number | null {
  const of = events.filter((e) => e.act === align && cuts.some((c) => c.id === e.cut_id)).map((e) => Date.parse(e.at))
  return of.length ? Math.min(...of) : null
}

/** By how much each lane is shifted so that their anchors stand under each other, ms. */
export function shifts(anchors: (number | null)[]): { zero: number; by: number[] } {
  const known = anchors.filter((a) => a !== null)
  const zero = known.length ? Math.min(...known) : 0
  return { zero, by: anchors.map((a) => (a === null ? 0 : a - zero)) }
}

/** A moment on the rail: the clock, or hours and minutes from the act. */
export function railLabel(ms: number, align: Align, zero: number): string {
  if (align === 'clock') return clock(ms)
  const m = Math.round((ms - zero) / 60_000)
  const text = `${Math.floor(Math.abs(m) / 60)}:${String(Math.abs(m) % 60).padStart(2, '0')}`
  return m < 0 ? `−${text}` : text
}

/** What a hand read in a cut last. */
export interface HandRead {
  name: string
  c: number
  at: number
}
export function handReads(events: Event[], cuts: CutView[], until: number | null): HandRead[] {
  const last = new Map<string, HandRead>()
  for (const e of events) {
    const at = Date.parse(e.at)
    const cut = cuts.find((c) => c.id === e.cut_id)
    if (e.act !== 'probe' || typeof e.detail.c !== 'number' || !cut || (until !== null && at > until)) continue
    if (at >= (last.get(cut.name)?.at ?? -Infinity)) last.set(cut.name, { name: cut.name, c: e.detail.c, at })
  }
  return [...last.values()]
}

export interface Flag {
  act: Event['act']
  x: number
  row: number
  nudge: number // px, so that a flag at the edge is seen whole
  events: Event[]
}
function edge(px: number, width: number): number {
  if (px >= 0 && px < 12) return 12 - px
  return px > width - 24 && px <= width ? width - 24 - px : 0
}
/** Events of one act that would overlap share a flag, with their number; other flags take the next row. */
export function flagsOf(events: Event[], x: (ms: number) => number, width: number): Flag[] {
  const flags: Flag[] = []
  for (const e of events) {
    const px = x(Date.parse(e.at))
    if (px < -width / 2 || px > 1.5 * width) continue
    const same = flags.find((f) => f.act === e.act && Math.abs(f.x - px) < 24)
    if (same) same.events.push(e)
    else flags.push({ act: e.act, x: px, row: 0, nudge: edge(px, width), events: [e] })
  }
  flags.forEach((f, i) => {
    const taken = flags
      .slice(0, i)
      .filter((g) => Math.abs(g.x - f.x) < 33)
      .map((g) => g.row)
    while (taken.includes(f.row)) f.row++
  })
  return flags
}
export function flagTitle(f: Flag, cuts: CutView[]): string {
  const e = f.events[0]!
  const on = f.events.map((v) => cuts.find((c) => c.id === v.cut_id)?.name).filter(Boolean)
  const text = [label(e.act), on.join(', '), e.said, e.note].filter(Boolean).join(' ')
  return `${clock(e.at)} ${text} (${e.by})`
}

const smoke = actRow('on').begins

export interface Stretch {
  from: number
  to: number
  name: string
  wrapped: boolean
}
/** What begins with a cut that goes on in its pit; empty is what it usually is. */
export const beginsIn = (cut: CutView | undefined, runs: PitRun[], events: Event[]) =>
  vocabulary.pit_kinds.find((k) => k.key === runs.find((r) => cut && r.id === runOf(cut, events))?.kind)?.begins ?? ''

/** What was done with a cut, by its log: smoke, or what its pit does, wrapped, rest, hold. */
export function stretchesOf(events: Event[], last: number, inPit = ''): Stretch[] {
  const out: Stretch[] = []
  let pulled = false
  for (const e of events.slice().sort((a, b) => Date.parse(a.at) - Date.parse(b.at))) {
    const at = Date.parse(e.at)
    const open = out[out.length - 1]
    const { begins, rested, ends } = actRow(e.act)
    const name = (pulled && rested) || (begins === smoke && inPit) || begins
    pulled = e.act === 'pull' || (pulled && e.act !== 'on')
    if (open && (name || ends)) open.to = at
    if (name) out.push({ from: at, to: Math.max(last, at), name, wrapped: name.startsWith('wrapped') })
  }
  return out
}

/** At what a pit is kept from a moment on. */
export interface SetPoint {
  at: number
  c: number
  typed: string
}
/** The set points of a pit: as planned, then as each was logged. */
export function setPoints(run: PitRun, events: Event[]): SetPoint[] {
  const delivered = events.flatMap((e) =>
    e.act === 'set' && e.pit_run_id === run.id && typeof e.detail.set_c === 'number'
      ? [{ at: Date.parse(e.at), c: e.detail.set_c, typed: e.detail.set ?? '' }]
      : [],
  )
  return [{ at: -Infinity, c: run.set_point_c, typed: run.set_point_typed }, ...delivered.sort((a, b) => a.at - b.at)]
}
/** The pit run a cut lies in: as planned, until it was moved to another. */
export function runOf(cut: CutView, events: Event[], until = Infinity): number | null {
  let run = cut.placement?.pit_run_id ?? null
  for (const e of events)
    if (e.cut_id === cut.id && (e.act === 'move' || e.act === 'on') && e.detail.run_id && Date.parse(e.at) <= until)
      run = e.detail.run_id
  return run
}

/** The pits that a press is for: the one that is pressed, else those its cuts lie in; without any meat, all of them. */
export function runsPressed(who: Who, cuts: CutView[], runs: PitRun[], events: Event[]): number[] {
  const one = typeof who === 'string' ? /^pit (\d+)$/.exec(who) : null
  if (one) return [Number(one[1])]
  const of = [...new Set(cuts.flatMap((c) => runOf(c, events) ?? []))]
  return of.length || who !== 'all' ? of : runs.map((r) => r.id)
}

/** A lane that is no arm: a pit, or a holder with a probe. */
export interface PitLane {
  key: string
  runId: number | null // of a pit
  name: string
  set: { c: number; typed: string } | null // now
  sets: SetPoint[] // over time, the first from its start
  setup: string
  traces: Trace[]
  wet: Trace | null // of its wet bulb
  events: Event[]
}
/** The one that stands for the pit first, the lid last. */
const rank = (t: Trace) => (t.point === '' ? 0 : t.point === 'middle' ? 1 : t.point === 'dial' ? 3 : 2)
const byPoint = (a: Trace, b: Trace) => rank(a) - rank(b)
export function pitLanes(cook: CookView, traces: Trace[], events: Event[]): PitLane[] {
  return [
    ...cook.runs.map((run) => ({
      key: `pit ${run.id}`,
      runId: run.id,
      name: run.pit,
      set: setPoints(run, events).at(-1)!,
      sets: setPoints(run, events),
      setup: run.setup,
      traces: traces.filter((t) => t.pit_run_id === run.id && t.point !== 'wet bulb').sort(byPoint),
      wet: traces.find((t) => t.pit_run_id === run.id && t.point === 'wet bulb') ?? null,
      events: events.filter((e) => e.pit_run_id === run.id),
    })),
    ...cook.holders.map((run) => ({
      key: `holder ${run.id}`,
      runId: null,
      name: run.holder,
      set: null,
      sets: [],
      setup: 'holder',
      traces: traces.filter((t) => t.holder_run_id === run.id),
      wet: null,
      events: [],
    })),
  ]
}
