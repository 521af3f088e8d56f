import type { Trace, Traces } from '../api/schema.gen'

/** A core lane's scale is bent at 140 F, so that the part that decides gets 70 % of the height. */
const bendC = 60
const topC = 100
export function coreY(c: number, height: number): number {
  const share = c <= bendC ? 0.3 * (c / bendC) : 0.3 + 0.7 * ((c - bendC) / (topC - bendC))
  return height * (1 - Math.max(0, Math.min(1.04, share)))
}

/** A path through the lowest and highest reading of each stretch; a hole in the readings is a hole in the line. */
export function tracePath(t: Trace, x: (ms: number) => number, y: (c: number) => number, holeMs: number): string {
  let d = ''
  let last = -Infinity
  for (const [ms, low, high] of t.points as [number, number, number][]) {
    const px = x(ms).toFixed(1)
    d += `${ms - last > holeMs ? 'M' : 'L'}${px} ${y(low).toFixed(1)}`
    if (high !== low) d += `L${px} ${y(high).toFixed(1)}`
    last = ms
  }
  return d
}

/** The value nearest to a moment, none if the trace is silent there. */
export function valueAt(t: Trace, ms: number, reachMs: number): number | null {
  const points = t.points as [number, number, number][]
  let low = 0
  let high = points.length
  while (low < high) {
    const mid = (low + high) >> 1
    if (points[mid]![0] < ms) low = mid + 1
    else high = mid
  }
  let best: number | null = null
  let distance = reachMs
  for (const i of [low - 1, low]) {
    const p = points[i]
    if (p && Math.abs(p[0] - ms) <= distance) {
      distance = Math.abs(p[0] - ms)
      best = (p[1] + p[2]) / 2
    }
  }
  return best
}

/** Round times for the rail: at most about one mark each 90 px. */
export function ticks(from: number, to: number, width: number): number[] {
  const steps = [1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720, 1440].map((m) => m * 60_000)
  const step = steps.find((s) => ((to - from) / s) * 90 <= width) ?? steps[steps.length - 1]!
  const out: number[] = []
  for (let t = Math.ceil(from / step) * step; t <= to; t += step) out.push(t)
  return out
}

/** A reading as it came over the wire. */
export interface Arrived {
  probe: number
  at: number
  c: number
}

/**
 * The traces with new readings on their ends. One that falls into the last
 * column of its trace widens it. all is false when a probe is not among them.
 */
export function append(old: Traces, readings: Arrived[]): { traces: Traces; all: boolean } {
  const column = (Date.parse(old.to) - Date.parse(old.from)) / Math.max(1, old.columns)
  const byProbe = new Map<number, Arrived[]>()
  for (const r of readings) byProbe.set(r.probe, [...(byProbe.get(r.probe) ?? []), r])
  let last = Date.parse(old.last)
  const traces = old.traces.map((t) => {
    const mine = byProbe.get(t.probe_id)
    if (!mine) return t
    byProbe.delete(t.probe_id)
    const points = t.points.slice() as [number, number, number][]
    for (const r of mine) {
      const end = points[points.length - 1]
      if (end && r.at < end[0] - column / 2) continue // late: the next reading of all has it
      if (end && r.at < end[0] + column / 2)
        points[points.length - 1] = [end[0], Math.min(end[1], r.c), Math.max(end[2], r.c)]
      else points.push([r.at, r.c, r.c])
      last = Math.max(last, r.at)
    }
    return { ...t, points }
  })
  const newest = new Date(last).toISOString()
  return { traces: { ...old, traces, last: newest }, all: byProbe.size === 0 }
}
