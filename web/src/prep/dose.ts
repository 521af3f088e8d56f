import type { Dose, Figure } from '../api/schema.gen'
import { fixed, ounceG, poundKg } from '../ui/units'
import { reader } from '../ui/reader'

/** A number of an order, as it is read off a scale, a spoon or a ruler. */
export function figure(f: Figure): string {
  const v = f.value
  switch (f.unit) {
    case 'g':
      return grams(v)
    case 'ml':
      return `${v < 10 ? fixed(v, 1) : Math.round(v)} ml`
    case 'tsp':
      return v >= 6 ? `${fixed(v / 3, 1)} tbsp` : `${fixed(v, 1)} tsp`
    case 'cm2':
      return reader.weights === 'lb' ? `${Math.round(v / 6.4516)} sq in` : `${Math.round(v)} cm²`
    case '%':
      return `${fixed(v, 1)} %`
    default:
      return String(Math.round(v))
  }
}
/** Grams always: kitchen scales weigh salt in them; pounds for what is heavy. */
export function grams(g: number): string {
  if (g < 20) return `${fixed(g, 1)} g`
  if (g < 1000 || reader.weights === 'kg') return g < 5000 ? `${Math.round(g)} g` : `${fixed(g / 1000, 2)} kg`
  return `${fixed(g / 1000 / poundKg, 2)} lb`
}
/** The same in ounces, for a scale that shows them. */
export function ounces(f: Figure): string {
  return f.unit === 'g' && reader.weights === 'lb' && f.value < 1000 ? `${fixed(f.value / ounceG, 2)} oz` : ''
}

export const usualDose: Record<Dose['kind'], Omit<Dose, 'kind'>> = {
  brine: { name: 'brine', recipe_id: 0, share: 0.012, water: 1, strength: 0, spacing_cm: 0, g_per_m2: 0, salt: 'fine' },
  'dry brine': { name: 'salt', recipe_id: 0, share: 0.01, water: 0, strength: 0, spacing_cm: 0, g_per_m2: 0, salt: 'fine' }, // prettier-ignore
  injection: { name: 'salt water', recipe_id: 0, share: 0.1, water: 0, strength: 0.05, spacing_cm: 3, g_per_m2: 0, salt: 'fine' }, // prettier-ignore
  binder: { name: 'binder', recipe_id: 0, share: 0, water: 0, strength: 0, spacing_cm: 0, g_per_m2: 120, salt: 'fine' },
  rub: { name: 'rub', recipe_id: 0, share: 0, water: 0, strength: 0, spacing_cm: 0, g_per_m2: 500, salt: 'fine' },
}
