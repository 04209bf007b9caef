import type { Id } from '../../model'
import { TURNS, type Against, type Turn } from '../../notation'
import { dayWords, plansOn, type Work } from './plan'

/** What became of tasks and milestones: what they state, and the days that follow from what others state. O(work of both). */
export function workTurns(
  before: Against,
  after: Against,
  stated: ReadonlyMap<Id, readonly Turn[]>,
): Map<Id, readonly Turn[]> {
  const turns = new Map(stated)
  const then = new Map(plansOn(before.model, before.day).flatMap(({ list }) => list.map((work) => [work.id, work])))
  for (const { list } of plansOn(after.model, after.day))
    for (const work of list) {
      const earlier = then.get(work.id)
      const was = earlier && daysOf(earlier)
      if (was === undefined || was === daysOf(work)) continue
      turns.set(work.id, [...(stated.get(work.id) ?? []), { ...TURNS.moved, words: `was ${was}` }])
    }
  return turns
}

/** `24 Nov 2026`, or `24 Nov 2026 to 3 Dec 2026`. */
function daysOf(work: Work): string {
  const [first, last] = [dayWords(work, 'start'), dayWords(work, 'finish')]
  return first === last ? first : `${first} to ${last}`
}
