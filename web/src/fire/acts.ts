import type { Detail, Event } from '../api/schema.gen'

/** Each act has one letter: the key, the pad and the flag in the lane. */
export const letters: Record<Event['act'], string> = {
  lit: 'F',
  on: 'O',
  spritz: 'S',
  wrap: 'W',
  unwrap: 'Z',
  wood: 'A',
  fuel: 'E',
  lid: 'L',
  vent: 'V',
  move: 'M',
  probe: 'R',
  note: 'N',
  pull: 'P',
  hold: 'H',
  carve: 'C',
  water: 'D',
  bark: 'B',
  spot: 'T',
  photo: 'J',
}

export const pads: Event['act'][] = ['lit', 'on', 'spritz', 'wood', 'lid', 'wrap', 'probe', 'pull', 'note']
export const more: Event['act'][] = [
  'fuel',
  'vent',
  'water',
  'unwrap',
  'move',
  'bark',
  'spot',
  'photo',
  'hold',
  'carve',
]
export const ofPit: Event['act'][] = ['lit', 'wood', 'fuel', 'lid', 'vent', 'water', 'spot']

const names: Partial<Record<string, string>> = { probe: 'Read', spot: 'Spot read' }
export const label = (act: string) => names[act] ?? act[0]!.toUpperCase() + act.slice(1)

/** What may be said of an act, in the order it is asked. */
type Asked = Exclude<keyof Detail, 'amount_ml' | 'c' | 'air_c' | 'photo_id' | 'minutes'>
export const asks: Partial<Record<Event['act'], Asked[]>> = {
  lit: ['with'],
  on: ['out_min'],
  spritz: ['with', 'amount'],
  wrap: ['with', 'liquid', 'amount'],
  wood: ['pieces', 'with'],
  fuel: ['pieces', 'with'],
  water: ['with', 'amount'],
  vent: ['damper', 'open'],
  probe: ['read', 'place', 'feel'],
  spot: ['of', 'read'],
  bark: ['look'],
  move: ['turn', 'to'],
  note: ['air', 'wind', 'sun', 'rain'],
}
/** These say nothing without a word or a number: the first field is ready at once. */
export const asksFirst: Event['act'][] = ['probe', 'spot', 'note']

/** Where a cut is read: by a probe that stays in it, or by hand. */
export const cutPlaces = ['thick', 'thin', 'near bone']
