import type { Planned, Task } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'

const rows = new Map(vocabulary.planned.map((p) => [p.act, p]))

/** The letters of the fire stand for the same acts in a plan; what is only planned has its own. */
export const plannedLetter = (act: Task['act']) => rows.get(act)!.letter
/** What a pad logs a planned act as; undefined where none does. */
export const logsAs = (act: Task['act']): Planned['logs'] => rows.get(act)!.logs

/** A chance as the crew says it; the server words the same. */
export function tens(p: number): string {
  const n = Math.round(p * 10)
  if (p >= 0.975) return 'nearly always'
  if (p < 0.025) return 'hardly ever'
  if (n === 0) return 'less than 1 in 10'
  if (n === 10) return 'more than 9 in 10'
  return `${n} in 10`
}
