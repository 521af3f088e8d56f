import { ref } from 'vue'

/** The barn's time zone: every clock on the screen shows it. */
export const zone = ref('UTC')

function parts(t: Date, z: string) {
  const f = new Intl.DateTimeFormat('en-GB', {
    timeZone: z,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    hourCycle: 'h23',
  })
  return Object.fromEntries(f.formatToParts(t).map((p) => [p.type, p.value]))
}

export function clock(t: string | number | Date): string {
  const p = parts(new Date(t), zone.value)
  return `${p.hour}:${p.minute}`
}

export function date(t: string | number | Date): string {
  return new Intl.DateTimeFormat('en-GB', {
    timeZone: zone.value,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
  }).format(new Date(t))
}

export function dateTime(t: string | number | Date): string {
  return `${date(t)} ${clock(t)}`
}

/** For an input of kind datetime-local. */
export function toLocal(t: string | number | Date): string {
  const p = parts(new Date(t), zone.value)
  return `${p.year}-${p.month}-${p.day}T${p.hour}:${p.minute}`
}

/** The instant at which the barn's clocks show a local time; of two, the first. */
export function fromLocal(local: string): string {
  const wall = Date.parse(local + 'Z')
  const offset = (t: number) => {
    const p = parts(new Date(t), zone.value)
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
