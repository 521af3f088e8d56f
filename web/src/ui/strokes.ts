/** A key that was struck, as far as a page cares. */
export interface Stroke {
  key: string
  ctrlKey: boolean
  metaKey: boolean
  altKey: boolean
}

/** The key that a page hears, empty where the stroke is not for it: typed into a field, of the browser, or a letter that is turned off. */
export function keyHeard(s: Stroke, typing: boolean, lettersOn: boolean): string {
  if (typing || s.ctrlKey || s.metaKey || s.altKey) return ''
  if (s.key.length > 1) return s.key
  return lettersOn ? s.key.toLowerCase() : ''
}

/** Where g and a letter lead. */
const places: Record<string, string> = {
  b: '/',
  c: '/crew',
  u: '/you',
  r: '/records',
  p: '/pits',
  k: '/bench',
  h: '/book',
  y: '/pantry',
}

/** g, then a letter or the number of a step of the trial at hand, goes somewhere. */
export class Going {
  private begun = false
  /** Whether the key was ours, and where it leads. */
  hear(key: string, trial: string | undefined, steps: readonly string[]): { ours: boolean; to?: string } {
    const begun = this.begun
    this.begun = key === 'g'
    if (this.begun) return { ours: true }
    if (!begun) return { ours: false }
    const step = steps[Number(key) - 1]
    if (step && trial) return { ours: true, to: `/trials/${trial}/${step}` }
    return places[key] ? { ours: true, to: places[key] } : { ours: false }
  }
}
