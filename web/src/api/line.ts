/** One open stream of what the barn tells; closed for good once it says so. */
export interface Source {
  close(): void
  readonly over: boolean
}

/** What a stream brings. */
export interface Ears {
  opened(): void
  failed(): void
  beat(): void
  changed(trial: number, parts: string[], told: string): void
  arrived(rows: Arrival[]): void
  heard(): void
}

/** A reading as the stream brings it. */
export interface Arrival {
  probe_id: number
  at: string
  c: number
}

export type Wire = 'joining' | 'live' | 'cut off'

/** What the line needs of the page it runs on. */
export interface LineWays {
  open: (told: string, cook: number, ears: Ears) => Source
  now: () => number
  later: (ms: number, f: () => void) => () => void
  state: (w: Wire) => void
  /** Anything came: the barn was heard now. */
  sign: (ms: number) => void
  changed: (trial: number, parts: string[]) => void
  arrived: (rows: Arrival[]) => void
  heard: () => void
  /** The stream stands; lost says whether something was missed meanwhile. */
  opened: (lost: boolean) => void
}

/** Two heartbeats of the server and a little, ms: what is shown may be old. */
export const quiet = 4500
/** A line that was quiet for so long is opened anew, ms. */
export const silence = 20_000

/**
 * The one line to the barn. A line that swallows bytes stays open: without a sign for two
 * heartbeats it is said to be cut off, and some time after it is opened anew.
 */
export class Line {
  private source: Source | null = null
  private again: (() => void) | null = null
  private heardAt: number
  private stands = false // it was opened, and did not fail
  private lost = false // what came meanwhile was not heard
  private wire: Wire = 'joining'
  private told = ''
  private cook = 0

  constructor(private readonly ways: LineWays) {
    this.heardAt = ways.now()
  }
  /** What this page was told of before its stream stands: the stream sends what changed since. */
  beginAt(told: string): void {
    this.told ||= told
  }
  /** Opens the line, with the readings of a cook, 0 for none. */
  follow(cook: number): void {
    if (cook !== this.cook) this.turn('joining')
    this.cook = cook
    this.open()
  }
  close(): void {
    this.again?.()
    this.again = null
    this.stands = false
    this.source?.close()
    this.source = null
  }
  /** Looks, now and then, whether the line still says something. */
  check(): void {
    const silent = this.ways.now() - this.heardAt
    if (!this.stands || silent <= quiet) return
    if (silent > silence) {
      this.cutOff()
      this.open()
    } else if (this.wire === 'live') this.turn('cut off')
  }

  private turn(w: Wire) {
    this.wire = w
    this.ways.state(w)
  }
  private cutOff() {
    this.lost = true
    this.turn('cut off')
  }
  private sign() {
    this.heardAt = this.ways.now()
    if (this.stands && this.wire === 'cut off') this.turn('live')
    this.ways.sign(this.heardAt)
  }
  private open() {
    this.close()
    const s = this.ways.open(this.told, this.cook, {
      opened: () => {
        this.stands = true
        this.sign()
        if (this.wire !== 'live') this.turn('live')
        this.ways.opened(this.lost)
        this.lost = false
      },
      // The browser comes back by itself, and says what it saw last, unless it was refused.
      failed: () => {
        this.stands = false
        this.cutOff()
        if (s.over) this.again = this.ways.later(1000, () => this.open())
      },
      beat: () => this.sign(),
      changed: (trial, parts, told) => {
        this.sign()
        this.told = told || this.told
        this.ways.changed(trial, parts)
      },
      arrived: (rows) => {
        this.sign()
        this.ways.arrived(rows)
      },
      heard: () => {
        this.sign()
        this.ways.heard()
      },
    })
    this.source = s
  }
}

/** What hangs on a part of a trial, or on what is the barn's own. */
const hangs: Record<string, string[]> = {
  ask: ['gate', 'prep', 'due', 'settle', 'verdicts'],
  steps: [],
  cuts: ['gate', 'prep', 'due', 'forecast', 'settle', 'verdicts'],
  cooks: ['due', 'prep', 'forecast', 'clocks', 'so-far', 'alarms'],
  log: ['gate', 'due', 'clocks', 'so-far', 'alarms', 'forecast', 'settle', 'verdicts', 'burning'],
  imports: ['gate', 'forecast', 'clocks', 'so-far', 'settle', 'verdicts'],
  table: ['gate', 'key'],
  gate: ['gate'],
  due: ['due'],
  prep: ['prep'],
  traces: ['traces', 'probes', 'clocks', 'forecast', 'gate'],
  alarms: ['alarms', 'clocks', 'forecast'],
  pantry: ['pantry', 'prep'],
  pits: ['pits', 'trial', 'due'],
  catalogue: ['catalogue', 'trial'],
}
const ofList = ['trials', 'home']

/** At most so often what changed is read, ms. */
export const rereadEvery = 700

/** What is to be read anew: everything, or parts of trials and the answers that hang on them. */
export interface Reread {
  all: boolean
  trials: [number, string[]][]
  keys: string[]
}

/** Gathers what changed, so that it is read once and not too often. */
export class Changes {
  private readonly dirty = new Map<number, Set<string>>()
  private waiting = false
  private flushed = -Infinity

  constructor(
    private readonly now: () => number,
    private readonly later: (ms: number, f: () => void) => unknown,
    private readonly read: (r: Reread) => void,
  ) {}

  /** Trial 0 is the barn's own; no parts are all of them. */
  add(trial: number, parts: string[]): void {
    const of = this.dirty.get(trial) ?? new Set()
    for (const p of parts.length ? parts : ['*']) of.add(p)
    this.dirty.set(trial, of)
    if (this.waiting) return
    this.waiting = true
    this.later(Math.max(50, rereadEvery - (this.now() - this.flushed)), () => this.flush())
  }
  private flush() {
    this.waiting = false
    this.flushed = this.now()
    const changed = [...this.dirty]
    this.dirty.clear()
    const keys = new Set<string>()
    const trials: Reread['trials'] = []
    for (const [trial, parts] of changed) {
      for (const p of parts) for (const k of hangs[p] ?? [p]) keys.add(k)
      if (trial === 0) continue
      for (const k of ofList) keys.add(k)
      trials.push([trial, [...parts]])
    }
    this.read({ all: keys.has('*'), trials, keys: [...keys] })
  }
}
