import { asDay, dayInWords, type Day } from '../core/model'

const two = (n: number): string => String(n).padStart(2, '0')
const dayOf = (at: Date): Day => asDay(`${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`)

/** The day on the clock of the person's own computer. */
export const today = (): Day => dayOf(new Date())

/** When something happened, on that clock: `today 14:05`, or the day. */
export function momentInWords(moment: string): string {
  const at = new Date(moment)
  const day = dayOf(at)
  return day === today() ? `today ${two(at.getHours())}:${two(at.getMinutes())}` : dayInWords(day)
}
