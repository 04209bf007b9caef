import type { Instant } from '../../../calendar'
import type { View } from '../../../model'
import { instantOf, textOf, type Plan } from '../plan'
import { UNITS } from '../terms'
import { axisOf, unitFor, type Axis } from './axis'

/** Width of the table at the left, in px. */
export const TABLE = 272
/** Of which for numbers and for durations. */
export const NUMBER = 44
export const LENGTH = 52
/** Auto picks the finest unit whose picture is not wider than this. */
const AUTO_WIDTH = 1700
const PAD_DAYS = 3

/** The axis of a plan on a view. O(tasks). */
export function barsAxis(plan: Plan, view: View, more: readonly Instant[] = []): Axis {
  const stated = view.options['unit']
  let [first, last] = [plan.begin, plan.finish]
  for (const work of plan.list) {
    first = Math.min(first, work.start)
    last = Math.max(last, work.finish)
    const deadline = instantOf(textOf(work.entity, 'deadline'), work.time, 'finish')
    if (deadline !== undefined) last = Math.max(last, deadline)
  }
  for (const at of more) [first, last] = [Math.min(first, at), Math.max(last, at)]
  const unit = UNITS.find((one) => one === stated) ?? unitFor(last - first, AUTO_WIDTH)
  const pad = PAD_DAYS * 1440 * (unit === 'hours' ? 0 : 1)
  return axisOf(unit, first - pad, last + pad * 2, TABLE, 640)
}
