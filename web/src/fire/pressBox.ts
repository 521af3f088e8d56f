import type { CorrectionInput, EventInput, Logged, Problem } from '../api/schema.gen'
import { Outbox, type Shelf } from '../ui/outbox'

export interface Who {
  id: number // 0 is nobody
  name: string
}
/** A press of a pad, what one is to say instead, or that one is taken back; and whose it is, with those kept before that was known. */
export type Entry = { cook: number; who?: Who } & (
  { body: EventInput } | { of: string; to: CorrectionInput } | { undo: string }
)
/** An entry that the barn would not take, and why. */
export interface Turned {
  cook: number
  text: string
  why: string
  remedy: string
  at: string
  body: EventInput | null // to be mended and sent again
  asks: boolean // it may well be so: somebody has only to say it
}

/** The press it makes; none that takes one back. */
const pressOf = (e: Entry) => ('body' in e ? e.body.press : 'to' in e ? e.to.press : null)
export const isOf = (e: Entry, who: Who) => (e.who?.id ?? who.id) === who.id
const keyOf = (e: Entry) => ('undo' in e ? `undo ${e.undo}` : pressOf(e)!)

function turnedAway(e: Entry, p: Problem, now: string): Turned {
  const body = 'body' in e ? e.body : null
  return {
    cook: e.cook,
    text: body ? `${body.act} ${body.note}`.trim() : 'to' in e ? 'an amendment' : 'an undo',
    why: p.title,
    remedy: [p.remedy, ...p.errors.slice(1).map((x) => `${x.problem}: ${x.remedy}`)].filter(Boolean).join(' '),
    at: (body ? body.at : 'to' in e ? e.to.at : null) ?? now,
    body,
    asks: !!body && p.errors.some((x) => x.field === 'sure'),
  }
}

/** What a device does with presses. */
export interface PressWays {
  waiting: Shelf<Entry[]>
  turned: Shelf<Turned[]>
  /** Who is here. */
  who: () => Who
  send: (e: Entry) => Promise<Logged>
  refusal: (err: unknown) => Problem | null
  took: (e: Entry, v: Logged) => void
  now: () => string
}

/**
 * Presses of the pads and what is amended of them, sent in their order. While the barn cannot be
 * reached they are kept on this device, with the time they were made; each has a number of its
 * own, so that one sent twice counts once.
 */
export class PressBox {
  private readonly box: Outbox<Entry, Logged, Problem>
  /** Why the last amendment was refused: it still stands in its form. */
  problem: Problem | null = null
  /** Whether what was amended or taken back last waits for a second hand: the press stands as it did. */
  secondHand = false
  /** The press that was not taken back. */
  private notUndone: string | null = null

  constructor(private readonly ways: PressWays) {
    this.box = new Outbox<Entry, Logged, Problem>({
      shelf: ways.waiting,
      mine: (e) => isOf(e, ways.who()),
      key: keyOf,
      send: ways.send,
      refusal: ways.refusal,
      took: ways.took,
      refused: (e, p) => {
        // A press is kept to be mended.
        if ('body' in e) this.turnAway(e, p)
        else if ('to' in e) this.problem = p
        else if (p.status !== 404) this.stands(e, p) // what is not there needs no taking back
      },
    })
  }
  private stands(e: Entry & { undo: string }, p: Problem) {
    this.notUndone = e.undo
    this.turnAway(e, p)
  }
  private turnAway(e: Entry, p: Problem) {
    this.ways.turned.set([...this.ways.turned.get(), turnedAway(e, p, this.ways.now())])
  }
  private get waiting(): Entry[] {
    return this.ways.waiting.get()
  }
  handIn(): Promise<void> {
    return this.box.handIn()
  }
  /** Logs a press. One without a time is of the moment it is pressed. */
  log(cook: number, body: EventInput, pressed: string): Promise<Logged | undefined> {
    this.problem = null
    return this.box.put({ cook, who: this.ways.who(), body: { ...body, at: body.at ?? pressed } })
  }
  /** Lets a press say something else; the answer is the press under which it stands now. */
  async amend(cook: number, of: string, to: Omit<CorrectionInput, 'why'>): Promise<string> {
    this.problem = null
    this.secondHand = false
    const waits = this.waiting.find((e) => 'body' in e && e.body.press === of)
    // What is on its way has left as it was.
    if (waits && 'body' in waits && !this.box.isFlying(waits)) {
      const amended = { ...waits, body: { ...waits.body, ...to, press: of } }
      this.ways.waiting.set(this.waiting.map((e) => (pressOf(e) === of ? amended : e)))
      return of
    }
    const v = await this.box.put({ cook, who: this.ways.who(), of, to: { ...to, why: '' } })
    this.secondHand = v?.waits ?? false
    return this.problem || this.secondHand ? of : to.press
  }
  isWaiting(press: string): boolean {
    return this.waiting.some((e) => pressOf(e) === press)
  }
  /**
   * Takes a press back: on this device if it has not left, else by the barn, in its turn after the
   * press. False when it was refused or waits for a second hand, and the press stands.
   */
  async undo(cook: number, press: string): Promise<boolean> {
    this.problem = null
    this.secondHand = false
    this.notUndone = null
    const sent = this.drop(press)
    if (!sent) return true
    const v = await this.box.put({ cook, who: this.ways.who(), undo: sent })
    this.secondHand = v?.waits ?? false
    return this.notUndone !== sent && !this.secondHand
  }
  /** Takes back what of a press was not sent yet; the answer is what the barn may have of it, null when that is nothing. */
  private drop(press: string): string | null {
    const e = this.waiting.find((w) => pressOf(w) === press)
    // What is on its way may get there: it is the barn's to take back.
    if (!e || this.box.isFlying(e)) return press
    this.box.remove(e)
    return 'of' in e ? this.drop(e.of) : null
  }
}
