import { MINUTES_A_DAY, type Instant, type WorkingTime } from '../../../calendar'
import type { Work } from '../plan'
import type { Spacing } from '../../../notation'

/** The height of a row, which a bar of the usual one stands in the middle of. */
export const ROWS: Readonly<Record<Spacing, number>> = { tight: 25, normal: 32, airy: 44 }
export const BAR = { top: 9, height: 14 } as const

/** Work of whole days is drawn over whole days: from the midnight before its first hour to the one after its last. */
export function drawnStart(at: Instant, time: WorkingTime): Instant {
  const day = Math.floor(at / MINUTES_A_DAY)
  const [opens] = time.hoursOn(day)[0] ?? []
  return at - day * MINUTES_A_DAY === opens ? day * MINUTES_A_DAY : at
}
export function drawnFinish(at: Instant, time: WorkingTime): Instant {
  const day = Math.floor(at / MINUTES_A_DAY)
  const [, closes] = time.hoursOn(day).at(-1) ?? []
  return at - day * MINUTES_A_DAY === closes ? (day + 1) * MINUTES_A_DAY : at
}
export function drawnSpan({ start, finish, time, kind }: Work): readonly [Instant, Instant] {
  if (kind !== 'milestone') return [drawnStart(start, time), drawnFinish(finish, time)]
  const at = drawnFinish(finish, time)
  const mark = at === finish ? drawnStart(finish, time) : at
  return [mark, mark]
}
