/** Who reads: the units, clocks and decimal mark of their choice, and the barn's time zone. */
export interface Reader {
  /** How every temperature on the screen is shown. Logs keep what was read. */
  temperatures: 'F' | 'C'
  /** How weights are shown, lengths with them: lb and in, or kg and mm. */
  weights: 'lb' | 'kg'
  /** 24 hours, or 12 with am and pm. */
  hours: '24' | '12'
  /** The decimal mark a reader is used to; a point in what is sent and kept. */
  mark: '.' | ','
  /** The barn's IANA zone: every clock on the screen shows it. */
  zone: string
}

/** The reader at this screen; ui/settings.ts lets it follow what is chosen. */
export let reader: Reader = { temperatures: 'F', weights: 'lb', hours: '24', mark: '.', zone: 'UTC' }
export const readAs = (r: Reader) => void (reader = r)
