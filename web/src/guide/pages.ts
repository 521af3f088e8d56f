import { words as all } from '../../../docs/guide/words.md'

/** A word of the barn's own and what it means. */
export interface Word {
  page: string
  word: string
  means: string
}
export const words: Word[] = all

/** The guide's pages in the order of the work; each is fetched when it is opened. */
export const order = [
  'start',
  'ask',
  'match',
  'plan',
  'prep',
  'fire',
  'rest',
  'table',
  'settle',
  'book',
  'practice',
  'records',
  'crew',
  'words',
] as const
const modules = import.meta.glob<{ title: string; html: string }>('../../../docs/guide/*.md')
export const load = (page: string) => modules[`../../../docs/guide/${page}.md`]?.()
