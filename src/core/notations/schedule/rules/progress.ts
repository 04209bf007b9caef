import { startOf } from '../../../calendar'
import { dayInWords, type Day } from '../../../model'
import { fixAs, COMMON, setField, type Rule } from '../../../notation'
import { baselineOf } from '../baseline'
import { named } from '../edits'
import { dayWords, inWords, leavesOf, momentText, textOf } from '../plan'
import { clearing, dayOfInstant, finding, inEach, leaves } from './found'

export const progressWithoutStart: Rule = {
  id: 'sch/progress-without-start',
  severity: 'error',
  title: 'Done, but never begun',
  why: 'A part of it is done, and it has no day on which it began.',
  source: 'DCMA 14-point assessment, check 9',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      leaves(plan)
        .filter(
          ({ entity, done, kind }) =>
            kind === 'task' &&
            done > 0 &&
            textOf(entity, 'actualStart') === undefined &&
            textOf(entity, 'actualFinish') === undefined,
        )
        .map((work) =>
          finding(work, `${named(work)} is ${Math.round(work.done * 100)} % done, but has not begun.`, [
            fixAs(
              `Begun on ${dayWords(work, 'start')}`,
              `“${work.entity.name}” has begun`,
              setField(work.id, 'actualStart', dayOfInstant(work, 'start')),
            ),
            clearing(work, 'Not done', 'percent'),
          ]),
        ),
    ),
}

export const actualInFuture: Rule = {
  id: 'sch/actual-in-future',
  severity: 'error',
  title: 'Begun or done in the future',
  why: 'What has happened cannot lie after the status date.',
  source: 'DCMA 14-point assessment, check 9',
  check: (model, day) =>
    inEach(model, day, (plan) => {
      const status = (plan.plan && textOf(plan.plan, 'status')?.slice(0, 10)) ?? day
      return leaves(plan).flatMap((work) =>
        (['actualStart', 'actualFinish'] as const).flatMap((field) => {
          const text = textOf(work.entity, field)
          if (text === undefined || text.slice(0, 10) <= status) return []
          const words = field === 'actualStart' ? 'begun' : 'done'
          return [
            finding(
              work,
              `${named(work)} is said to be ${words} on ${inWords(text)}, after ${dayInWords(status as Day)}.`,
              [clearing(work, `Not ${words} yet`, field)],
            ),
          ]
        }),
      )
    }),
}

export const shouldHaveStarted: Rule = {
  id: 'sch/should-have-started',
  severity: 'warning',
  title: 'It should have started',
  why: 'Its day to start is past, and nothing says that it has begun.',
  source: COMMON,
  check: (model, day) =>
    inEach(model, day, (plan) => {
      const followed = leaves(plan).some(({ entity }) => textOf(entity, 'actualStart') !== undefined)
      if (!followed) return []
      const today = startOf(day)
      const base = baselineOf(model, plan, day)
      return leaves(plan)
        .filter(({ entity, done }) => textOf(entity, 'actualStart') === undefined && done === 0)
        .flatMap((work) => {
          const planned = base?.spans.get(work.id)?.[0] ?? work.start
          if (work.kind === 'milestone' || Math.min(planned, work.start) >= today) return []
          // What waits for something that is still going on could not have begun.
          const waits = work.into.some(({ source }) =>
            leavesOf(plan.byId.get(source)).some(({ entity }) => textOf(entity, 'actualFinish') === undefined),
          )
          if (waits) return []
          const due = momentText(Math.min(planned, work.start), work.time, 'start').slice(0, 10)
          return [finding(work, `${named(work)} was to start on ${inWords(due)} and has not begun.`)]
        })
    }),
}
