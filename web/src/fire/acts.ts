import type { Event } from '../api/schema.gen'

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
}

export const pads: Event['act'][] = ['lit', 'on', 'spritz', 'wood', 'lid', 'wrap', 'pull', 'note']
export const more: Event['act'][] = ['vent', 'fuel', 'unwrap', 'move', 'probe', 'hold', 'carve']
export const ofPit: Event['act'][] = ['lit', 'wood', 'fuel', 'lid', 'vent']

export const label = (act: string) => act[0]!.toUpperCase() + act.slice(1)
