const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']

/** A day that is there, as 2026-11-30; else empty. */
function real(year: number, month: number, day: number): string {
  const d = new Date(Date.UTC(year, month - 1, day))
  const is = d.getUTCFullYear() === year && d.getUTCMonth() === month - 1 && d.getUTCDate() === day
  return is && year >= 1900 && year < 2200 ? d.toISOString().slice(0, 10) : ''
}

/**
 * A day as people type it, as 2026-11-30: that itself, 30.11.2026, 30 Nov 2026, Nov 30, 11/30/2026 where only one order
 * can be meant. Without a year it is of the one given. What is no day, or can be two, is empty.
 */
export function dayTyped(text: string, year: number): string {
  const t = text.trim().toLowerCase().replace(/\s+/g, ' ')
  const full = (y: string | undefined) => (y === undefined ? year : y.length === 2 ? 2000 + Number(y) : Number(y))
  let m = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(t)
  if (m) return real(Number(m[1]), Number(m[2]), Number(m[3]))
  m = /^(\d{1,2})\.(\d{1,2})\.(\d{4}|\d{2})?$/.exec(t)
  if (m) return real(full(m[3]), Number(m[2]), Number(m[1]))
  m = /^(\d{1,2})[-/](\d{1,2})[-/](\d{4})$/.exec(t)
  if (m) {
    const [a, b] = [Number(m[1]), Number(m[2])]
    const one = real(full(m[3]), b, a) // day first
    const other = real(full(m[3]), a, b)
    return one && other && one !== other ? '' : one || other
  }
  m = /^(\d{1,2})\.? ([a-z]{3})[a-z]*\.?,?(?: (\d{4}))?$/.exec(t)
  if (m) return real(full(m[3]), months.indexOf(m[2]!) + 1, Number(m[1]))
  m = /^([a-z]{3})[a-z]*\.? (\d{1,2}),?(?: (\d{4}))?$/.exec(t)
  if (m) return real(full(m[3]), months.indexOf(m[1]!) + 1, Number(m[2]))
  return ''
}
