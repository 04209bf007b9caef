import { addDays, covers, dayInWords, type Day, type Entity, type Id, type Model } from '../../../model'
import { fixAs, tenuresOf, removeRelation, COMMON, thresholdOf, type Found, type Rule } from '../../../notation'
import { named } from '../edits'
import { dayWords, plansOn, textOf, unitsOf, type Work } from '../plan'
import { dayOfInstant, eachLeaf, finding, inEach, leaves } from './found'

/** Who is on a task, with the days on which they are in a post; people who never hold one come from elsewhere. */
export const inPost: Rule = {
  id: 'sch/person-not-in-post',
  severity: 'error',
  title: 'Not in post while the work is done',
  why: 'The dates of the plan and those of the organisation contradict each other: somebody is to work when they have not begun, or have left.',
  source: COMMON,
  check: (model, day) =>
    eachLeaf(model, day, (work) =>
      model.reaching(work.id, 'assigned').flatMap((tie): Found[] => {
        const worker = model.entities.get(tie.source)
        if (!worker || textOf(work.entity, 'actualFinish') !== undefined) return []
        const gap = outOfPost(model, worker, dayOfInstant(work, 'start'), dayOfInstant(work, 'finish'))
        if (gap === undefined) return []
        return [
          finding(
            work,
            `“${worker.name}” works on ${named(work)} until ${dayWords(work, 'finish')}, but is not in post on ${dayInWords(gap)}.`,
            [
              fixAs(
                `Take “${worker.name}” off`,
                `Take “${worker.name}” off “${work.entity.name}”`,
                removeRelation(tie.id),
              ),
            ],
            [worker.id],
          ),
        ]
      }),
    ),
}

/** The first day of a span on which a person is in no post, or a position is not there; undefined when there is none. */
function outOfPost(model: Model, worker: Entity, from: Day, to: Day): Day | undefined {
  if (worker.kind !== 'person') return covers(worker, from) ? (covers(worker, to) ? undefined : to) : from
  const tenures = tenuresOf(model, worker.id)
  if (tenures.length === 0) return undefined
  // From tenure to tenure, each time to the day after the last of those that hold.
  for (let day = from; day <= to;) {
    const holding = tenures.filter((tie) => covers(tie, day))
    if (holding.length === 0) return day
    const ends = holding.map((tie) => tie.to ?? to)
    const last = ends.reduce((one, end) => (end > one ? end : one))
    if (last >= to) return undefined
    day = addDays(last, 1)
  }
  return undefined
}

export const overAllocated: Rule = {
  id: 'sch/over-allocated',
  severity: 'warning',
  title: 'More work than one person has time for',
  why: 'The shares of the tasks that fall together add up to more than all of somebody’s time.',
  source: COMMON,
  threshold: { initial: 100, label: 'Most of a person’s time, in %' },
  check: (model, day) => {
    const most = thresholdOf(model, overAllocated) / 100
    const loads = new Map<Id, { at: number; units: number; work: Work }[]>()
    for (const plan of plansOn(model, day))
      for (const work of leaves(plan)) {
        if (work.kind !== 'task' || textOf(work.entity, 'actualFinish') !== undefined) continue
        for (const tie of model.reaching(work.id, 'assigned')) {
          if (model.entities.get(tie.source)?.kind !== 'person') continue
          const list = loads.get(tie.source) ?? []
          loads.set(tie.source, list)
          list.push({ at: work.start, units: unitsOf(tie), work }, { at: work.finish, units: -unitsOf(tie), work })
        }
      }
    return [...loads].flatMap(([id, changes]): Found[] => {
      changes.sort((a, b) => a.at - b.at || a.units - b.units)
      let load = 0
      let worst: { load: number; works: Work[] } | undefined
      const open = new Set<Work>()
      for (const { units, work } of changes) {
        load += units
        if (units > 0) open.add(work)
        else open.delete(work)
        if (load > most + 1e-9 && load > (worst?.load ?? 0)) worst = { load, works: [...open] }
      }
      const first = worst?.works.at(-1)
      if (!worst || !first) return []
      const who = model.entities.get(id)?.name ?? id
      return [
        finding(
          first,
          `“${who}” has ${Math.round(worst.load * 100)} % of work at once from ${dayWords(first, 'start')}: ${worst.works.map(named).slice(0, 4).join(', ')}.`,
          [],
          [id, ...worst.works.map((work) => work.id)],
        ),
      ]
    })
  },
}

export const unassigned: Rule = {
  id: 'sch/unassigned',
  severity: 'note',
  title: 'Nobody works on it',
  why: 'A task that nobody is named for is seldom done.',
  source: COMMON,
  check: (model, day) =>
    inEach(model, day, (plan) => {
      // Where nobody is named at all, people are not what the plan is about.
      const tasks = leaves(plan).filter(({ kind }) => kind === 'task')
      const bare = tasks.filter(({ id, done }) => done < 1 && model.reaching(id, 'assigned').length === 0)
      return bare.length === tasks.length
        ? []
        : bare.map((work) => finding(work, `Nobody is named for ${named(work)}.`))
    }),
}
