/** How much of a difference is the road's, ms; with more the clock itself was moved. */
const road = 60_000

/**
 * The clock of a cook on this device, from what the barn said of it. What it says is late by the
 * road, never early: of two answers the one that puts the clock ahead is nearer, so that the
 * clock does not go back between two presses.
 */
export class CookClock {
  private base = { cook: -Infinity, device: 0, rate: 1 }
  constructor(private readonly device: () => number) {}

  /** The barn said that it is now, ms, and runs so many times as fast as a day does. */
  hear(now: number, rate: number): void {
    const ours = this.now()
    const day = rate === 1 && this.base.rate === 1 // a rehearsal is where the barn says it is
    if (day && ours >= now && ours - now < road) return
    this.base = { cook: now, device: this.device(), rate }
  }
  /** It was asked to run slower: from now on it does here, so that no press is ahead of the barn. */
  slow(rate: number): void {
    if (rate < this.base.rate) this.base = { cook: this.now(), device: this.device(), rate }
  }
  now(): number {
    return this.base.cook + (this.device() - this.base.device) * this.base.rate
  }
}
