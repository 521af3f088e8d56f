import { reader } from './reader'

// Making a formatter takes far longer than using one.
const formatters = new Map<string, Intl.DateTimeFormat>()
function formatter(z: string, what: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = z + JSON.stringify(what)
  let f = formatters.get(key)
  if (!f) formatters.set(key, (f = new Intl.DateTimeFormat('en-GB', { timeZone: z, ...what })))
  return f
}
const toTheSecond: Intl.DateTimeFormatOptions = {
  year: 'numeric',
  month: '2-digit',
  day: '2-digit',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
  hourCycle: 'h23',
}
const theDay: Intl.DateTimeFormatOptions = { weekday: 'short', day: 'numeric', month: 'short' }

function parts(t: Date, z: string) {
  return Object.fromEntries(
    formatter(z, toTheSecond)
      .formatToParts(t)
      .map((p) => [p.type, p.value]),
  )
}

export function clock(t: string | number | Date): string {
  const p = parts(new Date(t), reader.zone)
  return clockWords(`${p.hour}:${p.minute}`)
}
/** The hour of the day in the barn, 0 to 23. */
export const hourOf = (t: string | number | Date) => Number(parts(new Date(t), reader.zone).hour)
/** "18:05" as the reader has clocks. */
export function clockWords(time: string): string {
  const [h, m] = time.split(':')
  return reader.hours === '24' || !m ? time : `${Number(h) % 12 || 12}:${m} ${Number(h) < 12 ? 'am' : 'pm'}`
}
/** "805", "8:05", "08.05" and "8:05 am" are "08:05"; what is no time of the day is empty. */
export function clockTyped(text: string): string {
  const m = /^(\d{1,2})(?:\D?(\d{2}))?\s*(am?|pm?)?$/i.exec(text.trim())
  if (!m || (!m[2] && !m[3])) return ''
  const half = m[3]?.[0]?.toLowerCase()
  const h = half ? (Number(m[1]) % 12) + (half === 'p' ? 12 : 0) : Number(m[1])
  if (h > 23 || Number(m[2] ?? 0) > 59 || (half && Number(m[1]) > 12)) return ''
  return `${String(h).padStart(2, '0')}:${m[2] ?? '00'}`
}

export function date(t: string | number | Date): string {
  return formatter(reader.zone, theDay).format(new Date(t))
}

export function dateTime(t: string | number | Date): string {
  return `${date(t)} ${clock(t)}`
}

/** For an input of kind datetime-local. */
export function toLocal(t: string | number | Date): string {
  const p = parts(new Date(t), reader.zone)
  return `${p.year}-${p.month}-${p.day}T${p.hour}:${p.minute}`
}

/** The instant at which the barn's clocks show a local time; of two, the first. */
export function fromLocal(local: string): string {
  const wall = Date.parse(local + 'Z')
  const offset = (t: number) => {
    const p = parts(new Date(t), reader.zone)
    return Date.UTC(+p.year!, +p.month! - 1, +p.day!, +p.hour!, +p.minute!, +p.second!) - t
  }
  let t = wall - offset(wall - 86_400_000)
  if (offset(t) !== wall - t) t = wall - offset(t)
  return new Date(t).toISOString()
}

export function span(hours: number): string {
  const m = Math.round(hours * 60)
  return m < 60 ? `${m} min` : `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, '0')}`
}
