import type { Shelf } from './outbox'

/** Something typed that is not kept yet. */
export interface Kept {
  base: string // what it began from, as text
  value: unknown
  name: string // of the page
  path: string
}

const copy = <T>(v: T) => JSON.parse(JSON.stringify(v)) as T

/** What is typed on this device and not kept yet, by a key each. */
export class Drafts {
  constructor(private readonly shelf: Shelf<Record<string, Kept>>) {}

  /** What was typed before, and whether what it began from is another since. */
  find<T>(key: string, base: string): { value: T; changed: boolean } | null {
    const was = this.shelf.get()[key]
    return was ? { value: copy(was.value) as T, changed: was.base !== base } : null
  }
  /** Keeps what is typed; false where that is nothing, or just what it began from: then it is let go. */
  keep(key: string, typed: unknown, what: Omit<Kept, 'value'>): boolean {
    const differs = typed !== null && JSON.stringify(typed) !== what.base
    if (differs) this.shelf.set({ ...this.shelf.get(), [key]: { ...what, value: copy(typed) } })
    else this.letGo(key)
    return differs
  }
  letGo(key: string): void {
    const all = this.shelf.get()
    if (!(key in all)) return
    this.shelf.set(Object.fromEntries(Object.entries(all).filter(([k]) => k !== key)))
  }
  /** One a page. */
  pages(): Kept[] {
    return [...new Map(Object.values(this.shelf.get()).map((k) => [k.path, k])).values()]
  }
}
