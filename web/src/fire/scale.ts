import type { Trace, Traces } from '../api/schema.gen'

/** A core lane's scale is bent at 140 F, so that the part that decides gets 70 % of the height. */
const bendC = 60
const topC = 100
export function coreY(c: number, height: number): number {
  const share = c <= bendC ? 0.3 * (c / bendC) : 0.3 + 0.7 * ((c - bendC) / (topC - bendC))
  return height * (1 - Math.max(0, Math.min(1.04, share)))
}

/** A path through the lowest and highest reading of each stretch; a hole in the readings is a hole in the line. */
export function tracePath(t: Trace, x: Scale, y: Scale, holeMs: number): string {
  return whole(t.points as Point[], x, y, holeMs) + steps(tailOf(t), x, y, holeMs, endOf(t.points as Point[])).join('')
}
type Point = [number, number, number]
/** A scale of time says what it is made of, so that what is drawn on it can be kept while its door moves. */
type Scale = ((v: number) => number) & { made?: Made }
interface Made {
  of: string // but for where the door hangs
  shift: number // px by which what comes after the door stands further right
  split: number // the last moment before the door
}
/** The long part of a trace is drawn anew only when it is another, or on another scale. Where the door moves, as it does with
 * each frame of a replay, its steps are kept for both sides of it. */
interface Drawn {
  x: Scale | string
  y: Scale
  hole: number
  before: string[]
  after: string[]
  split: number
  d: string
}
const drawn = new WeakMap<Point[], Drawn>()
const endOf = (points: Point[]) => points[points.length - 1]?.[0] ?? -Infinity

function whole(points: Point[], x: Scale, y: Scale, hole: number): string {
  const made = x.made
  const on = made?.of ?? x
  let was = drawn.get(points)
  if (!was || was.x !== on || was.y !== y || was.hole !== hole) {
    const left: Scale = made ? (ms) => x(ms) - (ms > made.split ? made.shift : 0) : x
    const before = steps(points, left, y, hole, -Infinity)
    const after = made ? steps(points, (ms) => left(ms) + made.shift, y, hole, -Infinity) : before
    was = { x: on, y, hole, before, after, split: NaN, d: '' }
    drawn.set(points, was)
  }
  const split = made?.split ?? Infinity
  if (was.split !== split) {
    const k = firstAfter(points, split)
    was.split = split
    was.d = was.before.slice(0, k).join('') + was.after.slice(k).join('')
  }
  return was.d
}

/** How many points are not after a moment. */
function firstAfter(points: Point[], ms: number): number {
  let low = 0
  let high = points.length
  while (low < high) {
    const mid = (low + high) >> 1
    if (points[mid]![0] <= ms) low = mid + 1
    else high = mid
  }
  return low
}

/** What each point adds to the path. */
function steps(points: Point[], x: Scale, y: Scale, hole: number, after: number): string[] {
  let last = after
  return points.map(([ms, low, high]) => {
    const px = x(ms).toFixed(1)
    let d = `${ms - last > hole ? 'M' : 'L'}${px} ${y(low).toFixed(1)}`
    if (high !== low) d += `L${px} ${y(high).toFixed(1)}`
    last = ms
    return d
  })
}

/** What came since the trace was read is kept apart, so that the long part stays what it is. */
type Growing = Trace & { tail?: Point[] }
const tailOf = (t: Growing) => t.tail ?? []
/** All points of a trace, in order of time. */
export function pointsOf(t: Growing): Point[] {
  const points = t.points as Point[]
  return t.tail?.length ? [...points, ...t.tail] : points
}

/** The value nearest to a moment, none if the trace is silent there. */
export function valueAt(t: Trace, ms: number, reachMs: number): number | null {
  const points = pointsOf(t)
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

/** What stands where: time on one scale on both sides of the door, which takes its own width. */
export interface TimeScale {
  x: Scale
  at: Scale // the moment under a pixel
}
/** How the lanes are laid out, px: their whole width, the gutter of the labels, the door. */
export interface Room {
  width: number
  gutter: number
  door: number
}
const perMs = ([from, to]: [number, number], r: Room) => Math.max(1, r.width - r.gutter - r.door) / (to - from)

/** The left edge of a door that hangs at a moment, or at the end of the view that is nearest to it. */
export function doorPx(view: [number, number], r: Room, at: number): number {
  const room = Math.max(1, r.width - r.gutter - r.door)
  return r.gutter + Math.min(room, Math.max(0, Math.ceil((at - view[0]) * perMs(view, r))))
}

/** The scale of a view with its door at a pixel. */
export function timeScale(view: [number, number], r: Room, door: number): TimeScale {
  const from = view[0]
  const scale = perMs(view, r)
  const split = from + (door - r.gutter) / scale
  const x = (ms: number) => r.gutter + (ms - from) * scale + (ms > split ? r.door : 0)
  return {
    x: Object.assign(x, { made: { of: `${from} ${scale} ${r.gutter} ${r.door}`, shift: r.door, split } }),
    at: (px) => (px <= door ? from + (px - r.gutter) / scale : Math.max(split, split + (px - door - r.door) / scale)),
  }
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
    const tail = [...tailOf(t)]
    for (const r of mine) {
      last = Math.max(last, r.at)
      const end = tail[tail.length - 1] ?? (t.points[t.points.length - 1] as [number, number, number] | undefined)
      if (end && r.at <= end[0]) continue // late, or there already: the next reading of all has it
      const open = tail[tail.length - 1]
      if (open && r.at < open[0] + column / 2)
        tail[tail.length - 1] = [open[0], Math.min(open[1], r.c), Math.max(open[2], r.c)]
      else tail.push([r.at, r.c, r.c])
    }
    return { ...t, tail }
  })
  const newest = new Date(last).toISOString()
  return { traces: { ...old, traces, last: newest }, all: byProbe.size === 0 }
}
