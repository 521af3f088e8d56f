import type { Arm, Pair, Row, Side } from '../api/schema.gen'

/** A reach of the verdict, as the server calls it. */
export type ReachKey = 'pieces' | 'cooks' | 'next'

export const saidOf = (p: Pair, reach: ReachKey): Side | null =>
  reach === 'next' ? p.next : reach === 'pieces' ? p.pieces : p.cooks

/** The side of the widest reach that can tell. */
export const widest = (p: Pair): Side =>
  p.reach === 'next' ? p.next : p.reach === 'pieces' && p.pieces ? p.pieces : p.cooks

const capital = (s: string) => s[0]!.toUpperCase() + s.slice(1)

/** One outcome in a few words: who beats whom, or that nothing is told. */
export function outcomeWords(
  row: Row,
  arms: Arm[],
): { word?: Side['word']; text: string; within: string; but: string } {
  const tag = (i: number) => arms[i]!.tag
  const first = row.pairs[0]
  if (!first) return { text: 'Described only', within: '', but: '' }
  if (row.pairs.length === 1) {
    const s = widest(first)
    if (!s.word) return { word: s.word, text: 'No verdict', within: '', but: '' }
    return {
      word: s.word,
      text: capital(s.word) + (s.winner === null ? '' : `: ${tag(s.winner)}`),
      within: s.word === 'cannot tell' ? '' : first.within,
      but: s.but ? capital(s.but) : '',
    }
  }
  for (const word of ['clear winner', 'leaning'] as const) {
    const these = row.pairs.filter((p) => widest(p).word === word)
    if (these.length === 0) continue
    const winners = [...new Set(these.map((p) => widest(p).winner!))]
    const losers = [...new Set(these.map((p) => p.a + p.b - widest(p).winner!))].filter((l) => !winners.includes(l))
    const but = these.map((p) => widest(p).but).find(Boolean) ?? ''
    const names = winners.map(tag).join(', ')
    if (word === 'leaning') return { word, text: `Leaning: ${names}`, within: '', but: but && capital(but) }
    const verb = winners.length > 1 ? 'beat' : 'beats'
    return {
      word,
      text: losers.length ? `${names} ${verb} ${losers.map(tag).join(', ')}` : `Clear: ${names}`,
      within: '',
      but: '',
    }
  }
  if (row.pairs.every((p) => widest(p).word === 'same for our purposes'))
    return { word: 'same for our purposes', text: 'Same for our purposes', within: '', but: '' }
  return { word: 'cannot tell', text: 'Cannot tell', within: '', but: '' }
}
