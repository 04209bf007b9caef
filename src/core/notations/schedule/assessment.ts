import type { Day, Id, Model } from '../../model'
import type { NumberSheet, SheetRow } from '../../notation'
import { baselineOf } from './baseline'
import { criticalPath } from './criticalPath'
import { instantOf, leavesOf, plansOn, textOf, typeOfLink, type Plan, type Work } from './plan'

/** A check with its figure, its limit, whether it is met, and the tasks behind it. */
interface Check {
  readonly number: number
  readonly title: string
  readonly value: number
  readonly unit: '%' | 'links' | 'tasks' | 'index' | 'passed'
  readonly limit: string
  readonly met: boolean
  readonly behind: readonly Id[]
}

/** Working days beyond which a float or a duration counts as high. */
const HIGH_DAYS = 44
/** Working days that the critical path test adds. */
const TEST_DAYS = 600

/**
 * The fourteen checks of the DCMA schedule assessment (Defense Contract Management Agency, 2009; thresholds from memory), over what is not done
 * yet. O(tasks + precedences · log days).
 */
export function assess(model: Model, plan: Plan, day: Day): Check[] {
  const leaves = plan.list.filter(({ kind }) => kind !== 'group')
  const open = leaves.filter(({ entity }) => textOf(entity, 'actualFinish') === undefined)
  const tasks = open.filter(({ kind }) => kind === 'task')
  const ids = (works: readonly Work[]) => works.map(({ id }) => id)
  const share = (part: number, whole: number) => (whole === 0 ? 0 : Math.round((part / whole) * 1000) / 10)
  const inherits = (work: Work, side: 'into' | 'out'): boolean =>
    work[side].length > 0 || (work.parent !== undefined && inherits(work.parent, side))
  const most = (number: number, title: string, behind: readonly Work[], whole: number): Check => ({
    number,
    title,
    value: share(behind.length, whole),
    unit: '%',
    limit: '≤ 5 %',
    met: share(behind.length, whole) <= 5,
    behind: ids(behind),
  })
  const none = (number: number, title: string, behind: readonly Id[], unit: Check['unit'] = 'tasks'): Check => ({
    number,
    title,
    value: behind.length,
    unit,
    limit: '0',
    met: behind.length === 0,
    behind,
  })
  const lagOf = (link: Plan['links'][number]) => textOf(link, 'lag') ?? '0d'
  // A link between two that are done says nothing about what is still to come.
  const isOpen = new Set(open)
  const unfinished = new Set(
    plan.list.filter((work) => leavesOf(work).some((leaf) => isOpen.has(leaf))).map(({ id }) => id),
  )
  const links = plan.links.filter(({ source, target }) => unfinished.has(source) || unfinished.has(target))
  const lead = links.filter((link) => lagOf(link).startsWith('-'))
  const lagged = links.filter((link) => !lagOf(link).startsWith('-') && !/^0/.test(lagOf(link)))
  const plain = links.filter((link) => typeOfLink(link) === 'FS')
  const high = (minutes: (work: Work) => number) =>
    open.filter((work) => minutes(work) > HIGH_DAYS * work.time.pace.day)
  const hard = open.filter(({ entity }) =>
    ['must start', 'must finish', 'finish no later'].includes(textOf(entity, 'constraint') ?? ''),
  )
  const status = plan.status ?? instantOf(day, plan.time, 'start') ?? 0
  const invalid = leaves.filter(({ entity, time, start }) => {
    const facts = ['actualStart', 'actualFinish'].flatMap(
      (field) => instantOf(textOf(entity, field), time, 'start') ?? [],
    )
    const forecast =
      ['actualStart', 'actualFinish'].every((field) => textOf(entity, field) === undefined) && start < status
    return facts.some((at) => at > status) || (plan.status !== undefined && forecast)
  })
  const base = baselineOf(model, plan, day)
  const due = base ? leaves.filter(({ id }) => (base.finishes.get(id) ?? Infinity) <= status) : []
  const missed = due.filter(({ id, finish }) => finish > (base?.finishes.get(id) ?? Infinity))
  const finished = leaves.filter(({ entity }) => textOf(entity, 'actualFinish') !== undefined)
  const index = (value: number) => Math.round(value * 1000) / 1000
  const length = plan.time.between(Math.max(status, plan.begin), plan.finish)
  const spare = base && base.finish > -Infinity ? plan.time.between(plan.finish, base.finish) : 0
  const cpli = length <= 0 ? 1 : index((length + spare) / length)
  const bei = due.length === 0 ? 1 : index(finished.length / due.length)
  const critical = open.filter((work) => work.critical)
  return [
    most(
      1,
      'Logic: nothing before or nothing after',
      tasks.filter((work) => !inherits(work, 'into') || !inherits(work, 'out')),
      tasks.length,
    ),
    none(
      2,
      'Leads: negative lags',
      lead.map(({ target }) => target),
      'links',
    ),
    {
      ...most(3, 'Lags', [], 0),
      value: share(lagged.length, links.length),
      met: share(lagged.length, links.length) <= 5,
      behind: lagged.map(({ target }) => target),
    },
    {
      number: 4,
      title: 'Links from finish to start',
      value: links.length === 0 ? 100 : share(plain.length, links.length),
      unit: '%',
      limit: '≥ 90 %',
      met: links.length === 0 || share(plain.length, links.length) >= 90,
      behind: links.filter((link) => typeOfLink(link) !== 'FS').map(({ target }) => target),
    },
    most(5, 'Hard constraints', hard, open.length),
    most(
      6,
      `Float above ${HIGH_DAYS} working days`,
      high(({ totalFloat }) => totalFloat),
      open.length,
    ),
    none(7, 'Negative float', ids(open.filter(({ totalFloat }) => totalFloat < 0))),
    most(
      8,
      `Longer than ${HIGH_DAYS} working days`,
      high(({ duration }) => duration),
      open.length,
    ),
    none(9, 'Invalid dates', ids(invalid)),
    none(10, 'Nobody named', ids(tasks.filter(({ id }) => model.reaching(id, 'assigned').length === 0))),
    most(11, 'Missed: later than in the baseline', missed, due.length),
    criticalPathTest(plan, critical),
    {
      number: 13,
      title: 'Critical path length index',
      value: cpli,
      unit: 'index',
      limit: '≥ 0.95',
      met: cpli >= 0.95,
      behind: ids(critical),
    },
    {
      number: 14,
      title: 'Baseline execution index',
      value: bei,
      unit: 'index',
      limit: '≥ 0.95',
      met: bei >= 0.95,
      behind: ids(due.filter((work) => !finished.includes(work))),
    },
  ]
}

/** A critical task that is made so much longer has to move the end by as much: else the path is broken somewhere. */
function criticalPathTest({ list, stated, finish, time }: Plan, critical: readonly Work[]): Check {
  const leaves = list.filter(({ kind }) => kind !== 'group')
  const first =
    critical.find(({ kind, entity }) => kind === 'task' && textOf(entity, 'actualStart') === undefined) ??
    critical.find(({ kind }) => kind === 'task')
  const at = first ? leaves.indexOf(first) : -1
  const more = TEST_DAYS * time.pace.day
  const activities = stated.activities.map((one, i) =>
    i === at
      ? {
          ...one,
          duration: one.duration + more,
          ...(one.remaining === undefined ? {} : { remaining: one.remaining + more }),
        }
      : one,
  )
  const moved = at < 0 ? 0 : time.between(finish, criticalPath({ ...stated, activities }).finish)
  const met = at < 0 || Math.abs(moved - more) < time.pace.day
  return {
    number: 12,
    title: `Critical path test: ${TEST_DAYS} days more move the end as far`,
    value: Math.round((moved / time.pace.day) * 10) / 10,
    unit: 'passed',
    limit: `${TEST_DAYS} d`,
    met,
    behind: first ? [first.id] : [],
  }
}

export const assessment: NumberSheet = {
  id: 'assessment',
  title: 'Assessment',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'plan', label: 'Plan', unit: null },
    { id: 'check', label: 'Check', unit: null },
    { id: 'value', label: 'Found', unit: null },
    { id: 'limit', label: 'Limit', unit: null },
    { id: 'met', label: 'Met', unit: null },
    { id: 'tasks', label: 'Tasks behind it', unit: null },
  ],
  rows: (model, day) =>
    plansOn(model, day)
      .filter(({ list }) => list.some(({ kind }) => kind !== 'group'))
      .flatMap((plan) =>
        assess(model, plan, day).map(({ number, title, value, unit, limit, met, behind }): SheetRow => ({
          id: `${plan.plan?.id ?? ''} ${number}`,
          plan: plan.plan?.name ?? null,
          check: `${number}. ${title}`,
          value: unit === '%' ? `${value} %` : unit === 'passed' ? `${value} d` : value,
          limit,
          met,
          tasks: behind.length,
        })),
      ),
  counted: (model, day, row) => {
    const [plan, number] = String(row['id']).split(' ')
    const found = plansOn(model, day).find((one) => (one.plan?.id ?? '') === plan)
    return found ? (assess(model, found, day).find((check) => String(check.number) === number)?.behind ?? []) : []
  },
}
