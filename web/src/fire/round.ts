/** What was said of a piece in a round, as it was typed, and what became of it. */
export interface Said {
  typed: string
  state: 'going' | 'kept' | 'refused'
}

/**
 * A round of readings: the pieces one after the other, a value each. A value is taken at once and
 * sent behind, so that the next can be typed; nothing that is typed waits for an answer.
 */
export class Round<D> {
  private place = 0
  private readonly said = new Map<number, Said>()
  constructor(
    private readonly pieces: readonly number[],
    private readonly send: (piece: number, detail: D) => Promise<boolean>,
    private readonly changed: () => void,
  ) {}
  /** The piece whose turn it is. */
  get at(): number {
    return this.place
  }
  of(piece: number): Said | undefined {
    return this.said.get(piece)
  }
  /** How many pieces have a value that was not refused. */
  get read(): number {
    return this.pieces.filter((p) => this.has(p)).length
  }
  /** Every piece has a value, and the barn, or this device for it, has them all. */
  get over(): boolean {
    return this.pieces.every((p) => this.said.get(p)?.state === 'kept')
  }
  private has(piece: number): boolean {
    const s = this.said.get(piece)
    return !!s && s.state !== 'refused'
  }
  /** Takes a value of the piece whose turn it is, and goes on to the next that has none. */
  take(typed: string, detail: D): void {
    const piece = this.pieces[this.place]
    if (piece === undefined) return
    const mine: Said = { typed, state: 'going' }
    this.said.set(piece, mine)
    const answered = (taken: boolean) => {
      mine.state = taken ? 'kept' : 'refused'
      this.changed()
    }
    this.next()
    this.send(piece, detail).then(answered, () => answered(false))
  }
  /** Goes on without a value; round to the first, where one was left out. */
  next(): void {
    const free = (from: number, to: number) => this.pieces.findIndex((p, i) => i >= from && i < to && !this.has(p))
    const later = free(this.place + 1, this.pieces.length)
    const earlier = free(0, this.place)
    if (later >= 0) this.place = later
    else if (earlier >= 0) this.place = earlier
    this.changed()
  }
  go(place: number): void {
    this.place = place
    this.changed()
  }
}
