import type { Problem } from '../api/schema.gen'
import { reader } from './reader'

/** Three digits in each group, whatever stands between the groups. */
const grouped = (whole: string, mark: string) => new RegExp(`^-?\\d{1,3}(\\${mark}\\d{3})+$`).test(whole)

/**
 * A number as people type one: with a decimal point or comma, and thousands marked or not. What is
 * none, or can be read in two ways, comes back as words that say so and how to write it.
 */
export function numberIn(text: string, mark: '.' | ',' = reader.mark): number | string {
  const typed = text.trim()
  const t = typed.replace(/(?<=\d)[\s\u00a0\u202f'’](?=\d{3})/g, '').replace(/^−/, '-')
  const none = `“${typed}” is no number`
  if (!/^-?[\d.,]*\d[.,]?$/.test(t)) return none
  const last = Math.max(t.lastIndexOf('.'), t.lastIndexOf(','))
  if (last < 0) return Number(t)
  const decimal = t[last]!
  const other = decimal === '.' ? ',' : '.'
  const whole = t.slice(0, last)
  const rest = t.slice(last + 1)
  if (whole.includes(decimal)) return grouped(t, decimal) ? Number(t.replaceAll(decimal, '')) : none
  if (whole.includes(other)) return grouped(whole, other) ? Number(`${whole.replaceAll(other, '')}.${rest}`) : none
  if (decimal !== mark && grouped(t, decimal) && !/^-?0/.test(t))
    return `“${typed}” can be read in two ways: write ${whole}${rest} or ${whole}${mark}${rest}0`
  return Number(`${whole}.${rest}`)
}

/** The refusal of what is no number, at its field. */
export const noNumber = (field: string, words: string): Problem => ({
  status: 422,
  title: words,
  remedy: '',
  errors: [{ field, problem: words, remedy: '' }],
})

/** Reads the numbers of a form: what is none is the form's problem, and nothing is sent. */
export class Numbers {
  problem: Problem | null = null
  of<E extends number | null = 0>(field: string, text: string, empty: E = 0 as E): number | E {
    if (!text.trim()) return empty
    const v = numberIn(text)
    if (typeof v === 'number') return v
    this.problem ??= noNumber(field, v)
    return empty
  }
}

/** False, and the field has the focus, while something that was typed on the page is no number. */
export function allNumbers(page: ParentNode = document): boolean {
  const first = page.querySelector<HTMLElement>('[data-no-number]')
  first?.focus()
  return first === null
}
