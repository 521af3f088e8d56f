import type { AnswerInput, Problem, SealInput, TasteView } from '../api/schema.gen'
import { Outbox, type Shelf } from '../ui/outbox'

/** What is tapped of a sample and not sealed yet. */
export interface Draft {
  scores: Record<string, number>
  faults: string[]
}
/** What waits to be handed in: the seal of a sample, or the answer about a plate. */
export type Waiting =
  (SealInput & { code: string; answer?: undefined }) | { flight: number; code?: undefined; answer: AnswerInput }

export const sampleKey = (flight: number, code: string) => `${flight} ${code}`

/** What a phone does with seals. */
export interface SealWays {
  queue: Shelf<Waiting[]>
  drafts: Shelf<Record<string, Draft>>
  send: (w: Waiting) => Promise<TasteView>
  refusal: (err: unknown) => Problem | null
  took: (v: TasteView) => void
  refused: (p: Problem) => void
}

/** A taster's seals, on this phone first, handed in in their order. */
export class SealBox {
  private readonly box: Outbox<Waiting, TasteView, Problem>

  constructor(private readonly ways: SealWays) {
    this.box = new Outbox<Waiting, TasteView, Problem>({
      shelf: ways.queue,
      mine: () => true, // a page of tasting is one guest's
      key: (w) => (w.answer ? `${w.flight} answer` : sampleKey(w.flight, w.code)),
      send: ways.send,
      refusal: ways.refusal,
      took: (_, v) => ways.took(v),
      refused: (w, p) => {
        // It cannot be sealed as it is: what was tapped is open again, with the reason.
        if (!w.answer && !w.excused) this.put(w.flight, w.code, { scores: w.scores, faults: w.faults })
        ways.refused(p)
      },
    })
  }
  get sending(): boolean {
    return this.box.sending
  }
  handIn(): Promise<void> {
    return this.box.handIn()
  }
  put(flight: number, code: string, d: Draft): void {
    this.ways.drafts.set({ ...this.ways.drafts.get(), [sampleKey(flight, code)]: d })
  }
  /** Seals a sample as it was tapped. A second look starts from what was sealed. */
  async seal(flight: number, code: string, excused: boolean, secondLook: boolean): Promise<void> {
    const key = sampleKey(flight, code)
    const d = this.ways.drafts.get()[key] ?? { scores: {}, faults: [] }
    const said = excused ? { scores: {}, faults: [] } : d
    this.ways.queue.set([...this.ways.queue.get(), { flight, code, scores: said.scores, faults: said.faults, excused }])
    if (!secondLook)
      this.ways.drafts.set(Object.fromEntries(Object.entries(this.ways.drafts.get()).filter(([k]) => k !== key)))
    await this.handIn()
  }
  async answer(a: AnswerInput): Promise<void> {
    this.ways.queue.set([...this.ways.queue.get(), { flight: a.flight, answer: a }])
    await this.handIn()
  }
}
