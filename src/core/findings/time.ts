import type { Day, Model } from '../model'
import type { Finding } from '../notation'

export const TIMES = ['now', 'later', 'earlier'] as const
/** When what is found comes about, seen from a day: while all its facts are in force, or before or after. */
export type Time = (typeof TIMES)[number]

/** O(subjects). */
export function timeOf({ subjects }: Pick<Finding, 'subjects'>, model: Model, day: Day): Time {
  const facts = subjects.flatMap((id) => model.entities.get(id) ?? model.relations.get(id) ?? [])
  if (facts.some(({ to }) => to !== undefined && to < day)) return 'earlier'
  return facts.some(({ from }) => from !== undefined && from > day) ? 'later' : 'now'
}
