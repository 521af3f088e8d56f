/** Calls one after the other: a second while one is on its way waits, and never passes it. */
export class Turns {
  private last: Promise<unknown> = Promise.resolve()
  take<T>(call: () => Promise<T>): Promise<T> {
    const mine = this.last.then(call)
    this.last = mine.catch(() => undefined) // a call that failed holds up none
    return mine
  }
}
