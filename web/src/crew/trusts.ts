import type { Member } from '../api/schema.gen'

export type Trust = Member['trusts'][number]

/** What there is to trust somebody of the crew with. */
export const trusts: { key: Trust; words: string; short: string }[] = [
  { key: 'arms', words: 'drawing, arms, dividing', short: 'arms' },
  { key: 'pits', words: 'pits and holders', short: 'pits' },
  { key: 'pantry', words: 'the pantry', short: 'pantry' },
]

/** What somebody may do, in a few words. */
export function may(p: Member): string {
  if (p.role === 'pitmaster') return 'pitmaster'
  const with_ = trusts.filter((t) => p.trusts.includes(t.key)).map((t) => t.short)
  return with_.length ? `crew, trusted with ${with_.join(', ')}` : 'crew'
}
