import type { Day, Id, Model } from '../../model'
import type { Column } from '../../notation'
import { planOfWork } from './frame'
import { planOn, type Plan } from './plan'
import { durationWords, inDays, instantOf, momentText, textOf, type Work } from './work'

export const planWith = (model: Model, id: Id, day: Day): Plan => planOn(model, planOfWork(model, id), day)

const dated =
  (read: (work: Work, plan: Plan, day: Day) => string | number | undefined): Column['read'] =>
  (model, row, day) => {
    const plan = planWith(model, row, day)
    const work = plan.byId.get(row)
    return work && read(work, plan, day)
  }

/** What the columns that go by the dates of a plan say, by their id. */
export const datedColumns: Readonly<Record<string, Column['read']>> = {
  duration: dated((work) => durationWords(work) || undefined),
  early: dated(({ start, time }) => momentText(start, time, 'start')),
  finished: dated(({ finish, time }) => momentText(finish, time, 'finish')),
  float: dated(({ totalFloat, time, kind }) => (kind === 'group' ? undefined : inDays(totalFloat, time))),
  critical: dated(({ critical, kind }) => (critical && kind !== 'group' ? 'yes' : undefined)),
  late: dated(({ entity, finish, time, kind }, plan, day) => {
    if (kind === 'group') return undefined
    const now = plan.status ?? instantOf(day, time, 'start') ?? finish
    const isOpen = textOf(entity, 'actualFinish') === undefined
    const deadline = Math.min(finish, instantOf(textOf(entity, 'deadline'), time, 'finish') ?? finish)
    const overdue = isOpen && now > finish ? time.between(finish, now) : 0
    const late = Math.max(overdue, time.between(deadline, finish))
    return late > 0 ? inDays(late, time) : undefined
  }),
}
