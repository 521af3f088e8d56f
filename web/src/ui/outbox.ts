/** Where something is kept on this device. */
export interface Shelf<T> {
  get(): T
  set(v: T): void
}

/** Answers after which an entry waits and is sent again: no answer, a stumble, a proxy's word, nobody signed in. */
export const waits = (status: number) =>
  status === 0 || status === 401 || status === 408 || status === 429 || status >= 500

/** What an outbox does with entries E, whose answers are A and whose refusals are P. */
export interface Ways<E, A, P extends { status: number }> {
  shelf: Shelf<E[]>
  /** Whether it may go out as whoever is here now: what another did waits for them. */
  mine: (e: E) => boolean
  /** Tells one entry from all others. */
  key: (e: E) => string
  send: (e: E) => Promise<A>
  /** What the barn said of a call that failed; null for what is no refusal. */
  refusal: (err: unknown) => P | null
  /** An entry was taken: what it made is to be shown before the entry goes. */
  took: (e: E, answer: A) => void
  /** It can never get through as it is. */
  refused: (e: E, p: P) => void
}

/**
 * What a hand did, kept on this device first and sent in its order, the oldest first. What cannot
 * get through now waits, and all behind it; what the barn refuses lets the others by.
 */
export class Outbox<E, A, P extends { status: number }> {
  /** The key of the entry that is on its way. */
  private flying: string | null = null
  private handing = false // one after the other, also between two of them
  constructor(private readonly ways: Ways<E, A, P>) {}

  get sending(): boolean {
    return this.handing || this.flying !== null
  }
  isFlying(e: E): boolean {
    return this.flying === this.ways.key(e)
  }
  /** Takes the oldest entry of its key away: a second look is sealed under the same. */
  remove(e: E): void {
    const { shelf, key } = this.ways
    const all = shelf.get()
    const i = all.findIndex((w) => key(w) === key(e))
    shelf.set(all.filter((_, n) => n !== i))
  }
  /** Sends what waits, until one does not get through. */
  async handIn(): Promise<void> {
    if (this.sending) return
    this.handing = true
    try {
      for (let e = this.next(); e !== undefined; e = this.next()) if (!(await this.deliver(e))) return
    } finally {
      this.handing = false
    }
  }
  /** The oldest that may go out. */
  private next(): E | undefined {
    return this.ways.shelf.get().find(this.ways.mine)
  }
  /** Keeps an entry and, if nothing waits before it, sends it. The answer is undefined when it waits or was refused. */
  async put(e: E): Promise<A | undefined> {
    const { shelf, mine } = this.ways
    const alone = mine(e) && !this.next() && !this.sending
    shelf.set([...shelf.get(), e])
    if (!alone) return undefined
    const went = await this.deliver(e)
    if (went) void this.handIn() // what was kept meanwhile
    return went && 'answer' in went ? went.answer : undefined
  }
  /** False when it waits; no answer when it was refused. */
  private async deliver(e: E): Promise<{ answer: A } | object | false> {
    this.flying = this.ways.key(e)
    try {
      const answer = await this.ways.send(e)
      this.ways.took(e, answer)
      this.remove(e)
      return { answer }
    } catch (err) {
      const p = this.ways.refusal(err)
      if (!p) throw err
      if (waits(p.status)) return false
      this.remove(e)
      this.ways.refused(e, p)
      return {}
    } finally {
      this.flying = null
    }
  }
}
