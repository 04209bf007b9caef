import { readMoment, startOf } from '../../calendar'
import { covers, dayInWords, type Day, type Entity, type Id, type Model } from '../../model'
import { thresholdOf, type Finding, type Fix, type Rule } from '../../notation'
import { dayWords, inWords } from './actions'
import { baselineOf } from './baseline'
import { dayName } from './calendars'
import { named, removeRelation, setField } from './edits'
import { inDays, instantOf, leavesOf, momentText, plansOn, textOf, unitsOf, type Plan, type Work } from './plan'

type Found = Omit<Finding, 'rule' | 'severity'>
const COMMON = 'Common practice'

const inEach = (model: Model, day: Day, find: (plan: Plan) => readonly Found[]): Found[] =>
  plansOn(model, day).flatMap(find)
const leaves = ({ list }: Plan): Work[] => list.filter(({ kind }) => kind !== 'group')
const finding = (work: Work, message: string, fixes: readonly Fix[] = [], more: readonly Id[] = []): Found => ({
  message,
  subjects: [work.id, ...more],
  fixes,
})
const clearing = (work: Work, label: string, ...fields: readonly string[]): Fix => ({
  label,
  change: { label: `${label}: ${work.entity.name}`, steps: fields.map((field) => setField(work.id, field, null)) },
})

const cycle: Rule = {
  id: 'sch/cycle',
  severity: 'error',
  title: 'Tasks come after each other in a circle',
  why: 'Nothing in the circle can ever start. Until a link is taken away, the links within it are left out of the dates.',
  source: 'Kelley & Walker 1959: a network has no circle',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      plan.circles.map((circle): Found => {
        const within = new Set(circle)
        const links = plan.links.filter(({ source, target }) => within.has(source) && within.has(target))
        const names = circle.flatMap((id) => plan.byId.get(id)?.entity.name ?? [])
        return {
          message: `${names
            .slice(0, 6)
            .map((name) => `“${name}”`)
            .join(', ')} come after each other in a circle.`,
          subjects: circle,
          fixes: links.slice(0, 3).map((link) => ({
            label: `Not after “${plan.byId.get(link.source)?.entity.name ?? ''}”`,
            change: { label: 'Take a link out of a circle', steps: [removeRelation(link.id)] },
          })),
        }
      }),
    ),
}

const endsBeforeStart: Rule = {
  id: 'sch/ends-before-start',
  severity: 'error',
  title: 'It ends before it starts',
  why: 'Two stated dates contradict each other.',
  source: COMMON,
  check: (model, day) => {
    const pairs = [
      ['start', 'finish'],
      ['actualStart', 'actualFinish'],
    ] as const
    const works = inEach(model, day, (plan) =>
      leaves(plan).flatMap((work) =>
        pairs.flatMap(([a, b]) => {
          const [from, to] = [textOf(work.entity, a), textOf(work.entity, b)]
          if (from === undefined || to === undefined || from <= to || (to.length === 10 && from.startsWith(to)))
            return []
          return [
            finding(work, `${named(work)} ends on ${inWords(to)}, before it starts on ${inWords(from)}.`, [
              clearing(work, 'Clear its end', b),
            ]),
          ]
        }),
      ),
    )
    const eras = model.ofKind('era').flatMap((era): Found[] => {
      const [when, until] = [textOf(era, 'when'), textOf(era, 'until')]
      if (when === undefined || until === undefined || compareWhen(when, until) <= 0) return []
      return [
        {
          message: `“${era.name}” ends in ${until}, before it begins in ${when}.`,
          subjects: [era.id],
          fixes: [
            {
              label: 'Clear its end',
              change: { label: `Clear the end of “${era.name}”`, steps: [setField(era.id, 'until', null)] },
            },
          ],
        },
      ]
    })
    return [...works, ...eras]
  },
}

/** Dates of any precision in the order of their years, those before our era first. */
function compareWhen(a: string, b: string): number {
  const year = (text: string) => Number(/^-?\d+/.exec(text)?.[0] ?? 0)
  const rest = (text: string) => text.replace(/^-?\d+/, '')
  return year(a) - year(b) || (rest(a) && rest(b) ? rest(a).localeCompare(rest(b)) : 0)
}

const violatesLink: Rule = {
  id: 'sch/violates-link',
  severity: 'error',
  title: 'Stated dates break a link',
  why: 'The dates are stated, and what it comes after does not let it happen then.',
  source: 'Wiest 1981: precedence relations are inequalities that all dates meet',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      plan.broken.flatMap((link) => {
        const [before, after] = [plan.byId.get(link.source), plan.byId.get(link.target)]
        if (!before || !after) return []
        const free = ['fixed', 'start', 'finish', 'constraint', 'on'].filter(
          (field) => after.entity.fields[field] !== undefined,
        )
        return [
          finding(
            after,
            `${named(after)} is set to ${dayWords(after, 'start')}, but ${named(before)}, which comes before it, ends on ${dayWords(before, 'finish')}.`,
            [
              clearing(after, 'Let it be computed', ...free),
              { label: 'Take the link away', change: { label: 'Take a link away', steps: [removeRelation(link.id)] } },
            ],
            [before.id],
          ),
        ]
      }),
    ),
}

const negativeFloat: Rule = {
  id: 'sch/negative-float',
  severity: 'error',
  title: 'It cannot be done in time',
  why: 'A timing that is set leaves less time than the work before it takes: with these durations and links it cannot be met.',
  source: 'DCMA 14-point assessment, check 7',
  check: (model, day) =>
    inEach(model, day, (plan) => {
      // The work that states the timing is named; what leads to it has the same float.
      const late = leaves(plan).filter(
        ({ totalFloat, entity }) => totalFloat < 0 && textOf(entity, 'actualFinish') === undefined,
      )
      return late
        .filter(({ entity }) => textOf(entity, 'on') !== undefined)
        .map((work) =>
          finding(
            work,
            `${named(work)} is set to “${textOf(work.entity, 'constraint')} ${inWords(textOf(work.entity, 'on') ?? '')}”; that is ${-inDays(work.totalFloat, work.time)} working days too early.`,
            [clearing(work, 'Let it be computed', 'constraint', 'on')],
          ),
        )
    }),
}

const deadlineMissed: Rule = {
  id: 'sch/deadline-missed',
  severity: 'error',
  title: 'A deadline is missed',
  why: 'By its computed dates it is done after the day that was promised.',
  source: COMMON,
  check: (model, day) =>
    inEach(model, day, (plan) =>
      leaves(plan).flatMap((work) => {
        const deadline = instantOf(textOf(work.entity, 'deadline'), work.time, 'finish')
        if (deadline === undefined || work.finish <= deadline) return []
        const late = inDays(work.time.between(deadline, work.finish), work.time)
        return [
          finding(
            work,
            `${named(work)} ends on ${dayWords(work, 'finish')}, ${late} working days after its deadline, ${inWords(textOf(work.entity, 'deadline') ?? '')}.`,
          ),
        ]
      }),
    ),
}

const nonWorkingDay: Rule = {
  id: 'sch/non-working-day',
  severity: 'warning',
  title: 'A date is not a working day',
  why: 'Work cannot start or end on a day on which nobody works; the dates move on to the next day that does.',
  source: COMMON,
  check: (model, day) =>
    inEach(model, day, (plan) =>
      leaves(plan).flatMap((work) =>
        (['on', 'start', 'finish', 'deadline'] as const).flatMap((field) => {
          const text = textOf(work.entity, field)
          const moment = text === undefined ? undefined : readMoment(text)
          if (!moment || text === undefined) return []
          const number = startOf(moment.day) / 1440
          if (work.time.worksOn(number)) return []
          const next = momentText(work.time.opening(startOf(moment.day)), work.time, 'start')
          const name = dayName(plan.calendar, number)
          return [
            finding(
              work,
              `${named(work)} has the date ${inWords(text)}, ${name ? `which is ${name}` : 'on which nobody works'}.`,
              [
                {
                  label: `Take ${inWords(next.slice(0, 10))}`,
                  change: {
                    label: `Move a date of “${work.entity.name}”`,
                    steps: [setField(work.id, field, next.slice(0, 10))],
                  },
                },
              ],
            ),
          ]
        }),
      ),
    ),
}

/** Who is on a task, with the days on which they are in a post; people who never hold one come from elsewhere. */
const inPost: Rule = {
  id: 'sch/person-not-in-post',
  severity: 'error',
  title: 'Not in post while the work is done',
  why: 'The dates of the plan and those of the organisation contradict each other: somebody is to work when they have not begun, or have left.',
  source: COMMON,
  check: (model, day) =>
    inEach(model, day, (plan) =>
      leaves(plan).flatMap((work) =>
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
                {
                  label: `Take “${worker.name}” off`,
                  change: { label: `Take “${worker.name}” off “${work.entity.name}”`, steps: [removeRelation(tie.id)] },
                },
              ],
              [worker.id],
            ),
          ]
        }),
      ),
    ),
}

const dayOfInstant = (work: Work, end: 'start' | 'finish'): Day =>
  momentText(work[end], work.time, end).slice(0, 10) as Day

/** The first of two days on which a person is in no post, or a position is not there; undefined when there is none. */
function outOfPost(model: Model, worker: Entity, from: Day, to: Day): Day | undefined {
  if (worker.kind !== 'person') return covers(worker, from) ? (covers(worker, to) ? undefined : to) : from
  const tenures = model.leaving(worker.id, 'holds')
  if (tenures.length === 0) return undefined
  const held = (day: Day) => tenures.some((tie) => covers(tie, day))
  return held(from) ? (held(to) ? undefined : to) : from
}

const overAllocated: Rule = {
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

const unassigned: Rule = {
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

const progressWithoutStart: Rule = {
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
            {
              label: `Begun on ${dayWords(work, 'start')}`,
              change: {
                label: `“${work.entity.name}” has begun`,
                steps: [setField(work.id, 'actualStart', dayOfInstant(work, 'start'))],
              },
            },
            clearing(work, 'Not done', 'percent'),
          ]),
        ),
    ),
}

const actualInFuture: Rule = {
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

const shouldHaveStarted: Rule = {
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

const summaryLinked: Rule = {
  id: 'sch/summary-linked',
  severity: 'note',
  title: 'A group has a link',
  why: 'A link at a group holds for each of its tasks; what really has to wait is seldom all of them.',
  source: 'DCMA 14-point assessment, guidance on logic',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      plan.list
        .filter(({ kind, into, out }) => kind === 'group' && into.length + out.length > 0)
        .map((work) =>
          finding(work, `The group ${named(work)} has ${work.into.length + work.out.length} links of its own.`),
        ),
    ),
}

const orphan: Rule = {
  id: 'sch/orphan',
  severity: 'warning',
  title: 'Nothing before and nothing after',
  why: 'A task without links does not move when others do, and moves nothing.',
  source: 'DCMA 14-point assessment, check 1',
  check: (model, day) =>
    inEach(model, day, (plan) => {
      if (plan.links.length === 0) return []
      const tied = (work: Work | undefined): boolean =>
        work !== undefined && (work.into.length + work.out.length > 0 || tied(work.parent))
      return leaves(plan)
        .filter((work) => !tied(work) && textOf(work.entity, 'actualFinish') === undefined)
        .map((work) => finding(work, `${named(work)} comes after nothing and before nothing.`))
    }),
}

export const rules: readonly Rule[] = [
  cycle,
  endsBeforeStart,
  violatesLink,
  negativeFloat,
  deadlineMissed,
  nonWorkingDay,
  inPost,
  overAllocated,
  unassigned,
  progressWithoutStart,
  actualInFuture,
  shouldHaveStarted,
  summaryLinked,
  orphan,
]
