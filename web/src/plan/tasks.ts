import type { Task } from '../api/schema.gen'
import { letters } from '../fire/acts'

/** The letters of the fire stand for the same acts in a plan; what is only planned has its own. */
export const letterOf: Record<Task['act'], string> = {
  prepare: 'Pr',
  light: letters.lit,
  on: letters.on,
  spritz: letters.spritz,
  wood: letters.wood,
  wrap: letters.wrap,
  unwrap: letters.unwrap,
  pull: letters.pull,
  hold: letters.hold,
  sear: 'Se',
  slice: letters.carve,
  check: letters.probe,
}

/** A chance as the crew says it; the server words the same. */
export function tens(p: number): string {
  const n = Math.round(p * 10)
  if (p >= 0.975) return 'nearly always'
  if (p < 0.025) return 'hardly ever'
  if (n === 0) return 'less than 1 in 10'
  if (n === 10) return 'more than 9 in 10'
  return `${n} in 10`
}
