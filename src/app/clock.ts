import { asDay, type Day } from '../core/model'

/** The day on the clock of the person's own computer. */
export function today(): Day {
  const now = new Date()
  const two = (n: number) => String(n).padStart(2, '0')
  return asDay(`${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`)
}
