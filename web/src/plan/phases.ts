import type { End, Phase } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'
import { withTemperatureUnit } from '../ui/units'

export const watchOf = (w: End['watch']) => vocabulary.watches.find((x) => x.watch === w)!
export const kindOf = (k: Phase['kind']) => vocabulary.kinds.find((x) => x.kind === k)!
export const typed = (w: End['watch']) => watchOf(w).usual !== ''
const allowed = (p: Phase) => kindOf(p.kind).ends
export const watchOptions = (p: Phase) => allowed(p).map(watchOf)
export function setWatch(c: End, w: End['watch']) {
  c.watch = w
  c.typed = watchOf(w).usual
  if (w !== 'core') c.place = undefined
}
export function setKind(p: Phase, kind: Phase['kind']) {
  p.kind = kind
  for (const c of p.ends) if (!allowed(p).includes(c.watch)) setWatch(c, 'time')
  if (!p.set_typed) p.set_typed = kindOf(kind).usual
  if (!kindOf(kind).set) p.set_typed = ''
}
/** A bare number gets the unit its field is in. */
export function tidy(watch: End['watch'], text: string): string {
  if (['core', 'cooling', 'surface', 'oil'].includes(watch)) return withTemperatureUnit(text)
  const bare = /^[\d.,]+$/.test(text)
  return bare ? `${text} ${watch === 'loss' ? '%' : 'h'}` : text
}
export const says = (p: Phase) =>
  p.ends
    .map((c) => (typed(c.watch) ? c.typed : watchOf(c.watch).words.replace('when ', '')))
    .join(p.all ? ' and ' : ' or ')
