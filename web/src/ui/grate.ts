import type { PitRun } from '../api/schema.gen'

/** The columns of a grate, lettered. */
export const grateColumns = (r: PitRun) =>
  Array.from({ length: r.grate_columns }, (_, i) => String.fromCharCode(65 + i))

/** The rows of a grate, numbered. */
export const grateRows = (r: PitRun) => Array.from({ length: r.grate_rows }, (_, i) => i + 1)

/** Its places: A1, B1 and so on. */
export const gratePositions = (r: PitRun) => grateRows(r).flatMap((n) => grateColumns(r).map((k) => `${k}${n}`))
