import { durationText, isoDay, readMoment, startOf } from '../../calendar'
import type { Day, Id, Model } from '../../model'
import type { Measure, NumberSheet, SheetRow } from '../../notation'
import { assessment } from './assessment'
import { load } from './load'
import { baselineOf, slipOf } from './baseline'
import { atEnd, dayWords, inDays, momentText, plansOn, textOf, type Plan, type Work } from './plan'
import { estimateOf, normal } from './estimate'

const dates: NumberSheet = {
  id: 'dates',
  title: 'Dates',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'plan', label: 'Plan', unit: null },
    { id: 'number', label: 'No.', unit: null },
    { id: 'task', label: 'Task', unit: null },
    { id: 'earlyStart', label: 'Early start', unit: null },
    { id: 'earlyFinish', label: 'Early finish', unit: null },
    { id: 'lateStart', label: 'Late start', unit: null },
    { id: 'lateFinish', label: 'Late finish', unit: null },
    { id: 'totalFloat', label: 'Total float', unit: 'd' },
    { id: 'freeFloat', label: 'Free float', unit: 'd' },
    { id: 'critical', label: 'Critical', unit: null },
  ],
  rows: (model, day) =>
    plansOn(model, day).flatMap((plan) =>
      plan.list
        .filter(({ kind }) => kind !== 'group')
        .map((work): SheetRow => ({
          id: work.id,
          plan: plan.plan?.name ?? null,
          number: work.number,
          task: work.entity.name,
          earlyStart: momentText(work.start, work.time, work.kind === 'milestone' ? 'finish' : 'start'),
          earlyFinish: momentText(work.finish, work.time, 'finish'),
          lateStart: momentText(work.lateStart, work.time, work.kind === 'milestone' ? 'finish' : 'start'),
          lateFinish: momentText(work.lateFinish, work.time, 'finish'),
          totalFloat: inDays(work.totalFloat, work.time),
          freeFloat: inDays(work.freeFloat, work.time),
          critical: work.critical,
        })),
    ),
  counted: (_model, _day, row) => (typeof row['id'] === 'string' ? [row['id'] as Id] : []),
  chart: { sort: 'bars', key: 'id', label: 'task', values: ['totalFloat', 'freeFloat'] },
}

/** Mean and variance of the longest way by three-point estimates, and how likely the plan ends by its deadline, or by the day shown. */
const estimate: NumberSheet = {
  id: 'estimate',
  title: 'Estimate',
  columns: [
    { id: 'plan', label: 'Plan', unit: null },
    { id: 'mean', label: 'Mean', unit: 'd' },
    { id: 'variance', label: 'Variance', unit: 'd²' },
    { id: 'deviation', label: 'Standard deviation', unit: 'd' },
    { id: 'expected', label: 'Expected end', unit: null },
    { id: 'date', label: 'By', unit: null },
    { id: 'probability', label: 'Probability', unit: null },
  ],
  rows: (model, day, { by: date } = {}) =>
    plansOn(model, day)
      .filter(({ list }) => list.length > 0)
      .map((plan) => {
        const found = estimateOf(model, plan)
        const by = date === undefined ? (deadlineOf(plan) ?? startOf(day) + 1440) : startOf(date) + 1440
        const z =
          found.deviation === 0
            ? Infinity * Math.sign(plan.time.between(plan.begin, by) - found.mean)
            : (plan.time.between(plan.begin, by) - found.mean) / found.deviation
        const pace = plan.time.pace.day
        return {
          plan: plan.plan?.name ?? null,
          mean: Math.round((found.mean / pace) * 1000) / 1000,
          variance: Math.round((found.variance / pace / pace) * 10_000) / 10_000,
          deviation: Math.round((found.deviation / pace) * 1000) / 1000,
          expected: momentText(plan.time.add(plan.begin, Math.round(found.mean)), plan.time, 'finish').slice(0, 10),
          date: isoDay(by - 1),
          probability: Math.round(normal(z) * 10_000) / 10_000,
        }
      }),
}

/** The latest deadline that the plan itself states, at the end of that day. */
function deadlineOf({ list }: Plan): number | undefined {
  const stated = list.flatMap(({ entity }) => {
    const moment = readMoment(textOf(entity, 'deadline') ?? '')
    return moment ? [startOf(moment.day) + 1440] : []
  })
  return stated.length === 0 ? undefined : Math.max(...stated)
}

const totals: NumberSheet = {
  id: 'totals',
  title: 'In total',
  columns: [
    { id: 'plan', label: 'Plan', unit: null },
    { id: 'tasks', label: 'Tasks', unit: null },
    { id: 'milestones', label: 'Milestones', unit: null },
    { id: 'starts', label: 'Starts', unit: null },
    { id: 'ends', label: 'Ends', unit: null },
    { id: 'critical', label: 'Critical', unit: 'tasks' },
    { id: 'nearCritical', label: 'Nearly critical', unit: 'tasks' },
    { id: 'done', label: 'Done', unit: '%' },
    { id: 'late', label: 'After the baseline', unit: 'd' },
  ],
  rows: (model, day) =>
    plansOn(model, day)
      .filter(({ list }) => list.length > 0)
      .map((plan) => {
        const leaves = plan.list.filter(({ kind }) => kind !== 'group')
        const tasks = leaves.filter(({ kind }) => kind === 'task')
        const work = tasks.reduce((sum, { duration }) => sum + duration, 0)
        const done = tasks.reduce((sum, task) => sum + task.duration * task.done, 0)
        const base = baselineOf(model, plan, day)
        return {
          plan: plan.plan?.name ?? null,
          tasks: tasks.length,
          milestones: leaves.length - tasks.length,
          starts: momentText(plan.begin, plan.time, 'start'),
          ends: momentText(plan.finish, plan.time, 'finish'),
          critical: leaves.filter(({ critical }) => critical).length,
          nearCritical: nearCritical(plan).length,
          done: work === 0 ? 0 : Math.round((done / work) * 100),
          late: base ? slipOf(plan, base) : null,
        }
      }),
}

/** Days of float below which a task is nearly critical. */
const NEAR_DAYS = 5
const nearCritical = ({ list }: Plan): Work[] =>
  list.filter(
    ({ kind, critical, totalFloat, time, entity }) =>
      kind !== 'group' &&
      !critical &&
      totalFloat <= NEAR_DAYS * time.pace.day &&
      textOf(entity, 'actualFinish') === undefined,
  )

export const numbers: readonly NumberSheet[] = [dates, load, assessment, estimate, totals]

export function measuresOf(
  model: Model,
  plan: Plan,
  day: Day,
  selected: Id | undefined,
): { of: string; list: Measure[] } {
  const work = selected === undefined ? undefined : plan.byId.get(selected)
  if (work) {
    const { time } = work
    const days = (minutes: number) => `${inDays(minutes, time)}d`
    return {
      of: work.number,
      list: [
        { label: 'Starts', value: dayWords(work, 'start') },
        { label: 'Ends', value: dayWords(work, 'finish') },
        { label: 'Duration', value: durationText(work.duration, time.pace) },
        { label: 'Latest end', value: momentText(work.lateFinish, time, 'finish') },
        { label: 'Total float', value: days(work.totalFloat) },
        { label: 'Free float', value: days(work.freeFloat) },
        { label: 'Done', value: `${Math.round(work.done * 100)} %` },
      ],
    }
  }
  const found = estimateOf(model, plan)
  const length = plan.time.between(plan.begin, plan.finish)
  const base = baselineOf(model, plan, day)
  const p80 = plan.time.add(plan.begin, Math.max(1, Math.round(found.mean + 0.8416 * found.deviation)))
  return {
    of: 'the plan',
    list: [
      { label: 'Ends', value: plan.list.length > 0 ? atEnd(plan) : '–' },
      { label: 'Critical path', value: `${inDays(length, plan.time)}d` },
      { label: 'Nearly critical', value: `${nearCritical(plan).length} tasks` },
      ...(found.deviation > 0 ? [{ label: 'P80', value: momentText(p80, plan.time, 'finish').slice(0, 10) }] : []),
      ...(base ? [{ label: 'Baseline', value: slipWords(slipOf(plan, base)) }] : []),
    ],
  }
}

const slipWords = (slip: number): string => (slip > 0 ? `${slip}d late` : slip < 0 ? `${-slip}d early` : 'held')
