/** How long a working day and a working week are, in minutes: a duration in days or weeks is that much work. */
export interface Pace {
  readonly day: number
  readonly week: number
}

const PART = /^([+-]?)(\d+(?:[.,]\d+)?)\s*(min|m|h|d|w)$/i
const WORDS: Readonly<Record<string, string>> = {
  minute: 'min',
  minutes: 'min',
  mins: 'min',
  hour: 'h',
  hours: 'h',
  hrs: 'h',
  hr: 'h',
  day: 'd',
  days: 'd',
  week: 'w',
  weeks: 'w',
}

/** A duration as it is kept: `5d`, `4h`, `30min`, `2w`, `-2d`; undefined for what is none. Long words and spaces are taken too. */
export function tidyDuration(text: string): string | undefined {
  const plain = text
    .trim()
    .toLowerCase()
    .replace(/(minutes?|mins|hours?|hrs?|days?|weeks?)$/, (word) => WORDS[word] ?? word)
    .replace(/\s+/g, '')
  const [, sign = '', count = '', unit = ''] = PART.exec(plain) ?? []
  if (unit === '') return undefined
  return `${sign === '-' ? '-' : ''}${Number(count.replace(',', '.'))}${unit === 'm' ? 'min' : unit}`
}

/** The longest working time that is reckoned with: forty years. */
const LONGEST = { min: 4_800_000, h: 80_000, d: 10_000, w: 2000 } as const
export const LONGEST_IN_WORDS = '2 000 weeks (10 000 days)'

/** Whether a duration is short enough to be reckoned with. */
export function isReckonable(text: string): boolean {
  const found = read(text)
  return found === undefined || Math.abs(found.count) <= LONGEST[found.unit]
}

interface Read {
  readonly count: number
  readonly unit: 'min' | 'h' | 'd' | 'w'
}
/** The same few texts are read over and over. */
const remembered = new Map<string, Read | undefined>()
const MOST_REMEMBERED = 10_000

function read(text: string): Read | undefined {
  const tidy = tidyDuration(text)
  const [, sign = '', count = '', unit] = PART.exec(tidy ?? '') ?? []
  return unit === undefined ? undefined : { count: Number(`${sign}${count}`), unit: unit as Read['unit'] }
}

/** Working minutes of a duration's text; undefined for what is none. */
export function readDuration(text: string, pace: Pace): number | undefined {
  if (text === '') return undefined
  const known = remembered.get(text)
  const found = known ?? read(text)
  if (!known && remembered.size < MOST_REMEMBERED) remembered.set(text, found)
  return found && Math.round(found.count * { min: 1, h: 60, d: pace.day, w: pace.week }[found.unit])
}

/** Working minutes as the shortest text that is exact to the minute: `5d`, `4h`, `90min`. */
export function durationText(minutes: number, pace: Pace): string {
  const days = minutes / pace.day
  if (minutes === 0) return '0d'
  if (Number.isInteger(days * 4)) return `${days}d`
  return Number.isInteger(minutes / 30) ? `${minutes / 60}h` : `${Math.round(minutes)}min`
}
