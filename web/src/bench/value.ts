import type { Field } from '../api/schema.gen'
import { poundKg, toC, toF } from '../ui/units'
import { reader } from '../ui/reader'

export type Value = string | number | boolean | null | Value[] | { [name: string]: Value }

/** One line of the working: in words, and with the values in it. */
export interface Step {
  words: string
  values: string
}

/** Where a field starts that nothing was filled into. */
export function emptyOf(f: Field): Value {
  switch (f.kind) {
    case 'group':
      return Object.fromEntries(f.fields.map((x) => [x.name, emptyOf(x)]))
    case 'list':
      return []
    case 'table':
      return {}
    case 'yes or no':
      return false
    case 'choice':
      return f.choices[0] ?? ''
    case 'text':
      return ''
    default:
      return f.optional ? null : 0
  }
}

/** What is optional and empty is left out. */
export function cleaned(f: Field[], v: { [name: string]: Value }): { [name: string]: Value } {
  return Object.fromEntries(
    f
      .filter((x) => v[x.name] !== undefined && !(x.optional && (v[x.name] === null || v[x.name] === '')))
      .map((x) => [x.name, v[x.name]!]),
  )
}

/** A number as a person reads it. */
export function read(v: Value): string {
  if (v === null || v === undefined) return '–'
  if (typeof v === 'boolean') return v ? 'yes' : 'no'
  if (typeof v !== 'number') return String(v)
  if (Number.isInteger(v) || v === 0) return String(v)
  const digits = Math.max(0, 3 - Math.floor(Math.log10(Math.abs(v))))
  return digits > 8 ? v.toExponential(3) : String(Number(v.toFixed(digits)))
}

/** Canonical units and what stands for them where F and lb are shown; grams stay, as kitchen scales show them. */
const shownAs: Record<string, { unit: string; to: (v: number) => number; from: (v: number) => number }> = {
  C: { unit: 'F', to: toF, from: toC },
  kg: { unit: 'lb', to: (v) => v / poundKg, from: (v) => v * poundKg },
  cm: { unit: 'in', to: (v) => v / 2.54, from: (v) => v * 2.54 },
  cm2: { unit: 'sq in', to: (v) => v / 6.4516, from: (v) => v * 6.4516 },
}
const of = (unit: string) =>
  (unit === 'C' ? reader.temperatures === 'F' : reader.weights === 'lb') ? shownAs[unit] : undefined
export const unitShown = (unit: string) => of(unit)?.unit ?? (unit === 'share' ? '' : unit)
/** To four digits that count, so that 121 C comes back as 249.8 F and not as 249.79999. */
export function toShown(unit: string, v: Value): Value {
  const u = of(unit)
  return u && typeof v === 'number' ? Number(u.to(v).toPrecision(5)) : v
}
export function fromShown(unit: string, v: number): number {
  return of(unit)?.from(v) ?? v
}
