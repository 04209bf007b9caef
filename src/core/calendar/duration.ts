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

/** Working minutes of a duration's text; undefined for what is none. */
export function readDuration(text: string, pace: Pace): number | undefined {
  const [, sign = '', count = '', unit = ''] = PART.exec(tidyDuration(text) ?? '') ?? []
  const minutes = { min: 1, h: 60, d: pace.day, w: pace.week }[unit]
  return minutes === undefined ? undefined : Math.round(Number(count) * minutes) * (sign === '-' ? -1 : 1)
}

/** Working minutes as the shortest text that is exact to the minute: `5d`, `4h`, `90min`. */
export function durationText(minutes: number, pace: Pace): string {
  const days = minutes / pace.day
  if (minutes === 0) return '0d'
  if (Number.isInteger(days * 4)) return `${days}d`
  return Number.isInteger(minutes / 30) ? `${minutes / 60}h` : `${Math.round(minutes)}min`
}
