import { reader } from './reader'

/** What is worked out of a key once, as far as lately asked for: a page asks for its times at each drawing. */
function remembered<K, V>(most: number, of: (key: K) => V): (key: K) => V {
  const known = new Map<K, V>()
  return (key) => {
    let v = known.get(key)
    if (v === undefined) {
      if (known.size >= most) known.clear()
      known.set(key, (v = of(key)))
    }
    return v
  }
}
const formatting = (what: Intl.DateTimeFormatOptions) =>
  remembered(20, (timeZone: string) => new Intl.DateTimeFormat('en-GB', { timeZone, ...what }))
const toTheSecond = formatting({
  year: 'numeric',
  month: '2-digit',
  day: '2-digit',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
  hourCycle: 'h23',
})
const theDay = formatting({ weekday: 'short', day: 'numeric', month: 'short' })

function parts(t: Date, z: string) {
  return Object.fromEntries(
    toTheSecond(z)
      .formatToParts(t)
      .map((p) => [p.type, p.value]),
  )
}

/** "18:05" of a minute since 1970, in each zone. */
const minutes = remembered(20, (z: string) =>
  remembered(5000, (minute: number) => {
    const p = parts(new Date(60_000 * minute), z)
    return `${p.hour}:${p.minute}`
  }),
)
export function clock(t: string | number | Date): string {
  return clockWords(minutes(reader.zone)(Math.floor(new Date(t).getTime() / 60_000)))
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
  return theDay(reader.zone).format(new Date(t))
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
