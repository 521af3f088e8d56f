import type { ActRow, Detail, Event, FieldRow } from '../api/schema.gen'
import { vocabulary } from '../api/vocabulary.gen'

type Act = Event['act']
const rows = new Map<string, ActRow>(vocabulary.acts.map((a) => [a.act, a]))

/** Who is pressed: an arm by its place, all, or the cuts of a pit run. */
export type Who = number | 'all' | `pit ${number}`

/** What is known of an act; one that an earlier page does not know is shown as other. */
export const actRow = (act: string): ActRow => rows.get(act) ?? rows.get('other')!
export const letterOf = (act: string) => actRow(act).letter
export const label = (act: string) => actRow(act).name

const padsOf = (pad: ActRow['pad']): Act[] => vocabulary.acts.filter((a) => a.pad === pad).map((a) => a.act)
export const pads = padsOf('first')
export const more = padsOf('more')
/** The pads of a screen in the hand: they keep their places whatever is due. */
export const inHand = pads.filter((a) => actRow(a).in_hand)

/** What the pads behind More are for, in the order they stand there. */
export const groupNames: Record<ActRow['group'], string> = {
  pit: 'To the pit',
  meat: 'To the meat',
  finish: 'More heat',
  rest: 'Off the fire',
  note: 'To write down',
}
/** A letter that is a key; two letters stand on flags alone. */
export const keyOf = (act: string) => (letterOf(act).length === 1 ? letterOf(act) : '')

/** The fields of an act's detail that are asked for; a photo is taken, not asked for. */
export const fieldsOf = (act: Act): (FieldRow & { name: keyof Detail })[] =>
  actRow(act).says.flatMap((name) => vocabulary.fields.filter((f) => f.name === name)) as (FieldRow & {
    name: keyof Detail
  })[]
