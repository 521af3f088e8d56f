import { inject, type ComputedRef, type InjectionKey } from 'vue'
import type { Ask, Catalogue, CatalogueFactor, Factor, Level, Problem, Reading } from '../api/schema.gen'
import { fixed } from '../ui/units'

/** The ask being written, which all parts of the page change. */
export const askKey: InjectionKey<{
  ask: Ask
  catalogue: ComputedRef<Catalogue | undefined>
  reading: ComputedRef<Reading | undefined>
  shut: ComputedRef<boolean>
  problem: ComputedRef<Problem | null>
  /** Takes over another ask whole: a template, a mend, a layout. */
  take: (next: Ask) => void
  mend: (finding: string, words: string) => void
}> = Symbol('ask')

export const useAskForm = () => inject(askKey)!

/** What is offered: not retired, not merged into another. */
export const offered = (c: Catalogue | undefined) => c?.factors.filter((f) => !f.retired) ?? []

export function known(c: Catalogue | undefined, name: string): CatalogueFactor | undefined {
  return c?.factors.find((f) => f.name.toLowerCase() === name.trim().toLowerCase())
}

export const money = (cents: number) => fixed(cents / 100, 2)

/** A burn has no cuts: all that varies there is set on the pit. */
export const newFactor = (of: Ask['kind'] = ''): Factor => ({
  id: 0,
  role: '',
  name: '',
  kind: 'categorical',
  unit: '',
  set_on: of ? 'pit run' : 'cut',
})
/** A level in words; what it is to the barn's catalogue is found when it is read. */
export const newLevel = (value = ''): Level => ({ id: 0, key: '', value })

const commaList = (text: string) =>
  text
    .split(',')
    .map((a) => a.trim())
    .filter(Boolean)

/** The ask as it is sent: no empty lines. */
export function sent(ask: Ask, allergens: string, words: string, catalogue: Catalogue | undefined): Ask {
  const order = catalogue?.outcomes.map((o) => o.key) ?? []
  const place = (key: string) => (order.includes(key) ? order.indexOf(key) : order.length)
  return {
    ...ask,
    held: ask.held.filter((h) => h.name.trim() || h.value.trim()),
    outcomes: [...ask.outcomes].sort((a, b) => place(a.key) - place(b.key)),
    allergens: commaList(allergens),
    words: commaList(words),
  }
}
