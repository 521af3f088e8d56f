import type { Page } from '../api/schema.gen'

/** What a notebook says of the taste; more would make the page too wide for a hand. */
export const tasted = ['overall', 'juiciness', 'tenderness', 'bark'] as const

type Cut = Page['cuts'][number]

/** What a line of the page notes of its cut, in the order of a notebook. */
export const columns = [
  { field: 'trimmed', head: 'Trimmed', said: 'trimmed', size: 'weight', hint: '6 lb 2 oz' },
  { field: 'on', head: 'On', said: 'on', size: 'clock', hint: '06:30' },
  { field: 'pull', head: 'Pulled', said: 'pulled', size: 'clock', hint: '15:45' },
  { field: 'core', head: 'Core then', said: 'core', size: 'clock', hint: '203 F' },
  { field: 'off', head: 'Off', said: 'off', size: 'weight', hint: '' },
  { field: 'edible', head: 'Edible', said: 'edible', size: 'weight', hint: '' },
] as const

/** A line of the page; the next one goes on where the last one was: the other arm, its pair when both are there. */
export function blankCut(last?: Cut, arms = 2): Cut {
  const arm = last ? (last.arm + 1) % arms : 0
  const pair = last ? (arm === 0 ? next(last.pair) : last.pair) : '1'
  return {
    name: pair ? `${pair}${'LRXYZW'[arm]}` : '',
    arm,
    pair,
    trimmed: '',
    off: '',
    edible: '',
    on: last?.on ?? '',
    pull: '',
    core: '',
    scores: {},
  }
}
const next = (pair: string) => (/^\d+$/.test(pair) ? String(Number(pair) + 1) : '')

export function blankPage(): Page {
  const first = blankCut()
  return {
    question: '',
    product: '',
    family: '',
    cut: '',
    species: '' as Page['species'],
    handling: '' as Page['handling'],
    factor: '',
    arms: [
      { tag: '', level: '', control: false },
      { tag: '', level: '', control: true },
    ],
    day: '',
    serve: '18:00',
    pit: '',
    set_point: '',
    cuts: [first, blankCut(first)],
    notes: '',
  }
}

/** As it is sent: the last line may be empty. */
export function fit(page: Page): Page {
  const last = page.cuts.at(-1)!
  const noted =
    [last.trimmed, last.off, last.edible, last.pull, last.core].some(Boolean) || Object.keys(last.scores).length
  return { ...page, cuts: noted || page.cuts.length <= 2 ? page.cuts : page.cuts.slice(0, -1) }
}
