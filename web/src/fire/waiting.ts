import type { Due, Event, EventInput } from '../api/schema.gen'
import type { Entry } from './pressBox'

/** Logged on this device, and not with the barn yet. */
export const notHandedIn = (e: Pick<Event, 'id'>) => e.id < 0

/** The presses of a cook that wait, as they are amended and without those that are taken back. */
function standing(entries: Entry[], cook: number): { body: EventInput; by: string }[] {
  const back = new Set(entries.flatMap((e) => ('undo' in e ? [e.undo] : [])))
  return entries.flatMap((e) => {
    if (e.cook !== cook || !('body' in e)) return []
    let { body } = e
    for (const a of entries) if ('to' in a && a.of === body.press) body = { ...body, ...a.to, at: a.to.at ?? body.at }
    return back.has(body.press) ? [] : [{ body, by: e.who?.name ?? '' }]
  })
}

/** What the barn has of a log, with what this device did and what it took back. */
export function withWaiting(events: Event[], entries: Entry[], cooks: number[]): Event[] {
  if (entries.length === 0) return events
  const there = new Set(events.map((e) => e.press))
  const back = new Set(entries.flatMap((e) => ('undo' in e ? [e.undo] : [])))
  const amends = new Map(entries.flatMap((e) => ('to' in e ? [[e.of, e.to] as const] : [])))
  let id = -1
  const out = events
    .filter((e) => !back.has(e.press))
    .map((e) => {
      const to = amends.get(e.press) // as it is amended the barn does not have it
      return to ? { ...e, id: id--, at: to.at ?? e.at, note: to.note, detail: to.detail ?? e.detail } : e
    })
  for (const cook of cooks)
    for (const { body, by } of standing(entries, cook)) {
      if (there.has(body.press)) continue
      const at = body.at!
      const one = {
        act: body.act,
        at,
        by,
        detail: body.detail ?? {},
        note: body.note,
        press: body.press,
        recorded: at,
        said: '',
      }
      for (const cut_id of body.cut_ids) out.push({ ...one, id: id--, cook_id: null, cut_id, pit_run_id: null })
      for (const pit_run_id of body.pit_run_ids) out.push({ ...one, id: id--, cook_id: null, cut_id: null, pit_run_id })
      if (!body.cut_ids.length && !body.pit_run_ids.length)
        out.push({ ...one, id: id--, cook_id: cook, cut_id: null, pit_run_id: null })
    }
  return out.sort((a, b) => Date.parse(a.at) - Date.parse(b.at))
}

/** What is still due once what waits on this device is counted; runs are the pit runs of the cook, logsAs the pad of a task. */
export function dueAfter(
  due: Due[],
  entries: Entry[],
  cook: number,
  runs: number[],
  logsAs: (d: Due) => Event['act'] | undefined,
): Due[] {
  const pressed = standing(entries, cook)
  if (pressed.length === 0) return due
  return due
    .flatMap((d): Due[] => {
      let left = d.cuts
      let last = ''
      for (const { body } of pressed) {
        if (body.act !== logsAs(d)) continue
        const hit = d.cuts.length
          ? left.some((c) => body.cut_ids.includes(c))
          : d.pit < 0 || body.pit_run_ids.includes(runs[d.pit]!)
        if (!hit) continue
        left = left.filter((c) => !body.cut_ids.includes(c))
        last = body.at!
      }
      if (!last) return [d]
      if (left.length) return [{ ...d, cuts: left }]
      if (!d.every_s) return []
      // It comes again, from when it was done.
      const next = new Date(Date.parse(last) + d.every_s * 1000).toISOString()
      return [{ ...d, at: { early: next, middle: next, late: next } }]
    })
    .sort((a, b) => Date.parse(a.at.middle) - Date.parse(b.at.middle))
}
