import { reader } from './reader'
import { date, dateTime } from './time'

/** A number to so many places, with the reader's decimal mark. */
export const fixed = (v: number, digits: number) => v.toFixed(digits).replace('.', reader.mark)

export const poundKg = 0.45359237
export const ounceG = (1000 * poundKg) / 16

export const toF = (c: number) => 1.8 * c + 32
export const toC = (f: number) => (f - 32) / 1.8

export function temperature(c: number, digits = 0): string {
  return `${fixed(reader.temperatures === 'F' ? toF(c) : c, digits)} ${reader.temperatures}`
}

/** A temperature as it stands in a field, and back. */
export const fromTemperature = (c: number) => String(Number((reader.temperatures === 'F' ? toF(c) : c).toFixed(1)))
export const toTemperature = (v: number) => (reader.temperatures === 'F' ? toC(v) : v)

/** The bare number, for places that name the unit once. */
export function degrees(c: number, digits = 0): string {
  return fixed(reader.temperatures === 'F' ? toF(c) : c, digits)
}

export function difference(dc: number): string {
  const v = reader.temperatures === 'F' ? dc * 1.8 : dc
  return `${fixed(v, v < 10 ? 1 : 0)} ${reader.temperatures}`
}

/** Ounces to a quarter, as kitchen scales show them. */
export function weight(kg: number): string {
  if (reader.weights === 'kg') return kg < 1 ? `${Math.round(kg * 1000)} g` : `${fixed(kg, kg < 10 ? 3 : 2)} kg`
  const quarters = Math.round((kg / poundKg) * 64)
  const lb = Math.floor(quarters / 64)
  const oz = String((quarters - lb * 64) / 4)
  return lb === 0 ? `${oz} oz` : `${lb} lb ${oz} oz`
}

/** To the ounce, for a glance: "6 lb 2". */
export function shortWeight(kg: number): string {
  if (reader.weights === 'kg') return kg < 1 ? `${Math.round(kg * 1000)} g` : `${fixed(kg, 2)} kg`
  const oz = Math.round((kg / poundKg) * 16)
  return `${Math.floor(oz / 16)} lb ${oz % 16}`
}

/** A difference of weights, always in the small unit. */
export function weightDifference(kg: number): string {
  const v = Math.abs(kg)
  return reader.weights === 'kg' ? `${Math.round(v * 1000)} g` : `${fixed((v / poundKg) * 16, 1)} oz`
}

/** A length of a cut: tenths of an inch, eighths for a fat cap. */
export function length(m: number): string {
  return reader.weights === 'kg' ? `${Math.round(m * 1000)} mm` : `${fixed(m / 0.0254, 1)} in`
}
export function fraction(m: number): string {
  if (reader.weights === 'kg') return length(m)
  const sixteenths = Math.round((m / 0.0254) * 16)
  let [n, d] = [sixteenths % 16, 16]
  while (n > 0 && n % 2 === 0) [n, d] = [n / 2, d / 2]
  const whole = Math.floor(sixteenths / 16)
  return `${whole || (n ? '' : '0')}${whole && n ? ' ' : ''}${n ? `${n}/${d}` : ''} in`
}
export function typedLength(d: { value: number; typed: string }, shown: (m: number) => string): string {
  const metric = /\d\s*(mm|cm|m)$/i.test(d.typed)
  return metric === (reader.weights === 'kg') ? d.typed : shown(d.value)
}
export const lengthHint = () => (reader.weights === 'lb' ? 'in' : 'mm')

/** A bare number means the unit shown: "6 2 1/4" is 6 lb 2 1/4 oz, "3/8" is 3/8 in. */
export function withWeightUnit(text: string): string {
  const t = text.replace(/[*#;]/g, ' ').trim() // what a number pad has for a space
  if (reader.weights === 'kg') return /^[\d.,]+$/.test(t) ? `${t} kg` : t
  const m = /^(\d+)\s+(\d+(?:[.,]\d+)?(?:\s+\d+\/\d+)?)$/.exec(t)
  if (m) return `${m[1]} lb ${m[2]} oz`
  return /^[\d.,]+$/.test(t) ? `${t} lb` : t
}
export function withLengthUnit(text: string): string {
  return /^[\d.,\s/]+$/.test(text.trim()) && text.trim() ? `${text.trim()} ${lengthHint()}` : text
}

/** What was typed, where it was typed in the system shown; else converted. */
export function typedWeight(w: { kg: number; typed: string }): string {
  const metric = /\d\s*(k?g|kilo)/i.test(w.typed)
  return metric === (reader.weights === 'kg') ? w.typed : weight(w.kg)
}

export function typedTemperature(t: { c: number; typed: string }): string {
  return t.typed.toUpperCase().endsWith(reader.temperatures) ? t.typed : temperature(t.c)
}

/** The server's sentences carry {kg:2.41}, {m:0.012}, {C:93.3}, {dC:3.2}, {day:2026-10-04T12:00:00Z} and {time:2026-10-04T12:00:00Z} for the reader's units. */
export function sentence(text: string): string {
  return text
    .replace(/\{kg:([\d.]+)\}/g, (_, v) => weight(Number(v)))
    .replace(/\{m:([\d.]+)\}/g, (_, v) => length(Number(v)))
    .replace(/\{C:(-?[\d.]+)\}/g, (_, v) => temperature(Number(v)))
    .replace(/\{day:([^}]+)\}/g, (_, v) => date(v))
    .replace(/\{time:([^}]+)\}/g, (_, v) => dateTime(v))
    .replace(/\{dC:([\d.]+)\}/g, (_, v) => difference(Number(v)))
}

/** Which keys a phone shows for a weight: pounds and ounces want two numbers. */
export const weightKeys = () => (reader.weights === 'lb' ? 'tel' : 'decimal')
export const weightHint = () => (reader.weights === 'lb' ? 'lb oz' : 'kg')
export const temperatureHint = () => reader.temperatures

/** A bare number means the unit shown, so that gloves need not type it. */
export function withTemperatureUnit(text: string): string {
  return /^\s*[\d.,]+\s*$/.test(text) ? `${text.trim()} ${reader.temperatures}` : text
}

export function signed(v: number, digits: number): string {
  return (v > 0 ? '+' : v < 0 ? '−' : '') + fixed(Math.abs(v), digits)
}
