import { cyclicComponents } from '../../../graph'
import {
  counted,
  grouped,
  covers,
  dayInWords,
  firstOutside,
  overlap,
  freeId,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
} from '../../../model'
import { removeRelation, setRelation, COMMON, fix, judging, type Fix, type Rule } from '../../../notation'
import { isSolid, solidLine, structureOn } from '../structure'
import { quoted } from './phrases'

/** Rules about the lines of reporting. */

const NOTHING: readonly Id[] = []
const solidLines = (model: Model): readonly Relation[] => model.relationsOfKind('reports-to').filter(isSolid)

const circling = new WeakMap<Model['relations'], boolean>()

/** Whether the lines lead into a circle on whatever days, be there positions at their ends or not. O(lines), remembered as long as no relation changes. */
function mayCircle({ relations }: Model, lines: readonly Relation[]): boolean {
  const known = circling.get(relations)
  if (known !== undefined) return known
  const up = grouped(lines, ({ source }) => source)
  const found = cyclicComponents(up.keys(), (id) => up.get(id)?.map(({ target }) => target) ?? NOTHING).length > 0
  circling.set(relations, found)
  return found
}

/** O(facts) where there is no circle; else the circle’s days times its size more. */
const cycle: Rule = {
  id: 'org/cycle',
  severity: 'error',
  title: 'Reports to itself through others',
  why: 'Following the line upwards never reaches a head, so nobody decides.',
  source: COMMON,
  check: (model, day) => {
    const others = solidLines(model).filter(({ source, target }) => source !== target)
    if (!mayCircle(model, others)) return []
    const up = grouped(others, ({ source }) => source)
    const above = (id: Id) => up.get(id)?.map(({ target }) => target) ?? NOTHING
    return cyclicComponents(
      model.ofKind('position').map(({ id }) => id),
      above,
    ).flatMap((component) => {
      const lines = component.flatMap((id) => up.get(id) ?? [])
      // A circle is there on the day on which the last of its lines and members begins, or else on that on which the first ends.
      const facts = [...lines, ...component.flatMap((id) => model.entities.get(id) ?? [])]
      const turns = facts.flatMap(({ from, to }) => [from ?? [], to ?? []].flat())
      const days = [day, ...[...new Set(turns)].sort()]
      for (const at of days) {
        const inForce = (line: Relation) =>
          [line, model.entities.get(line.source), model.entities.get(line.target)].every(
            (fact) => fact && covers(fact, at),
          )
        const aboveOn = (id: Id) => (up.get(id) ?? []).filter(inForce).map(({ target }) => target)
        const circles = cyclicComponents(component, aboveOn)
        if (circles.length > 0) return circles.map((circle) => circleFinding(model, circle, at, up, inForce))
      }
      return []
    })
  },
}

function circleFinding(
  model: Model,
  circle: readonly Id[],
  day: Day,
  up: ReadonlyMap<Id, readonly Relation[]>,
  inForce: (line: Relation) => boolean,
) {
  const members = new Set(circle)
  const closing = circle.flatMap((id) => (up.get(id) ?? []).filter((line) => inForce(line) && members.has(line.target)))
  const names = circle.slice(0, 5).map((id) => quoted(model, id, day))
  const more = circle.length > 5 ? ` and ${circle.length - 5} more` : ''
  return {
    message: `${names.join(', ')}${more} report to each other in a circle on ${dayInWords(day)}.`,
    subjects: circle,
    fixes: closing.slice(0, 3).map((line) =>
      fix(`${quoted(model, line.source, day)} no longer reports to ${quoted(model, line.target, day)}`, {
        do: 'remove-relation',
        id: line.id,
      }),
    ),
  }
}

/** O(lines). */
const selfReport = judging<Relation>(
  {
    id: 'org/self-report',
    severity: 'error',
    title: 'Reports to itself',
    why: 'A line from a position to itself says nothing and hides that the real line is missing.',
    source: COMMON,
  },
  (model) => model.relationsOfKind('reports-to'),
  (model, { id, source, target }, day) =>
    source === target
      ? [
          {
            message: `${quoted(model, source, day)} reports to itself.`,
            subjects: [source, id],
            fixes: [fix('Remove the line', removeRelation(id))],
          },
        ]
      : [],
)

/** O(lines), and the square of the lines of one position. */
const twoManagers = judging<Entity>(
  {
    id: 'org/two-managers',
    severity: 'error',
    title: 'Two managers on one day',
    why: 'A position has one solid line upwards at a time; a second one is a dotted line, or a mistake.',
    source: COMMON,
  },
  (model) => model.ofKind('position'),
  (model, position, day) => {
    const lines = model
      .leaving(position.id, 'reports-to')
      .filter((line) => isSolid(line) && line.target !== position.id)
    for (const [index, second] of lines.entries())
      for (const first of lines.slice(0, index)) {
        const both = overlap(first, second)
        const common = both && overlap(both, position)
        if (!common || first.target === second.target) continue
        const [a, b] = [quoted(model, first.target, day), quoted(model, second.target, day)]
        const when = common.from ? ` from ${dayInWords(common.from)}` : ''
        const until = common.to ? ` until ${dayInWords(common.to)}` : ''
        return [
          {
            message: `${quoted(model, position.id, day)} reports to ${a} and to ${b}${when}${until}.`,
            subjects: [position.id, first.target, second.target],
            fixes: [
              fix(`Only ${a}`, removeRelation(second.id)),
              fix(`Only ${b}`, removeRelation(first.id)),
              fix(`Dotted to ${b}`, setRelation(second.id, 'fields.line', 'dotted')),
            ],
          },
        ]
      }
    return []
  },
)

/** O(lines). */
const managerNotInForce = judging<Relation>(
  {
    id: 'org/manager-not-in-force',
    severity: 'error',
    title: 'Manager not there for a report',
    why: 'On some day the report exists and its manager’s position does not, so the line leads nowhere.',
    source: COMMON,
  },
  (model) => model.relationsOfKind('reports-to'),
  (model, line, day) => {
    const report = model.entities.get(line.source)
    const chief = model.entities.get(line.target)
    const reporting = report && overlap(report, line)
    if (!reporting || !chief || line.source === line.target) return []
    // A beginning that nobody stated contradicts nothing; an end that is not stated means that it goes on.
    const outside = firstOutside({ from: reporting.from ?? chief.from, to: reporting.to }, chief)
    if (outside === undefined || outside === 'before') return []
    const begins = chief.from !== undefined && outside < chief.from
    const [r, c] = [quoted(model, report.id, day), quoted(model, chief.id, day)]
    const state = begins
      ? `${c} begins only on ${dayInWords(chief.from)}`
      : `${c} ends on ${chief.to ? dayInWords(chief.to) : 'an unknown day'}`
    const when = `on ${dayInWords(outside)}`
    const next = chief.to && solidLine(model, chief.id, chief.to)?.target
    const nextInForce = next !== undefined && covers(model.entities.get(next) ?? chief, outside)
    const fixes = begins
      ? [
          fix(`Begin the line on ${dayInWords(chief.from)}`, {
            do: 'set-relation',
            id: line.id,
            path: 'from',
            value: chief.from,
          }),
        ]
      : [
          ...(next !== undefined && nextInForce && chief.to ? [handOn(model, line, next, chief.to, outside, day)] : []),
          fix(reporting.to ? `Extend to ${dayInWords(reporting.to)}` : 'Leave its end open', {
            do: 'set-entity',
            id: chief.id,
            path: 'to',
            value: reporting.to ?? null,
          }),
        ]
    return [
      {
        title: begins ? 'Begins after a report does' : 'Ends before a report does',
        message: `${state}, but ${r} ${begins ? 'already' : 'still'} reports to it ${when}.`,
        subjects: [chief.id, report.id, line.id],
        fixes,
      },
    ]
  },
)

/** The line ends with the manager, and goes on to the manager's manager. */
function handOn(model: Model, line: Relation, next: Id, end: Day, from: Day, day: Day): Fix {
  const id = freeId(model.relations, `${line.id}-on`)
  const label = `Hand over to ${quoted(model, next, day)} on ${dayInWords(from)}`
  return fix(label, setRelation(line.id, 'to', end), {
    do: 'add-relation',
    relation: { ...line, id, target: next, from },
  })
}

/** O(positions). */
const assistantWithReports: Rule = {
  id: 'org/assistant-with-reports',
  severity: 'warning',
  title: 'Assistant with reports',
  why: 'An assistant stands beside the line; who leads others stands in it.',
  source: COMMON,
  check: (model, day) =>
    [...structureOn(model, day).posts.values()].flatMap(({ position, assists, assistsBy, reports }) => {
      if (assists === undefined || !assistsBy || reports.length === 0) return []
      const id = freeId(model.relations, `${assistsBy.id}-line`)
      return {
        message: `${quoted(model, position.id, day)} assists ${quoted(model, assists, day)} and has ${counted(reports.length, 'report')} of its own.`,
        subjects: [position.id],
        fixes: [
          fix('Make it a report', removeRelation(assistsBy.id), {
            do: 'add-relation',
            relation: { id, kind: 'reports-to', source: position.id, target: assists, fields: {} },
          }),
        ],
      }
    }),
}

/** O(lines). */
const dottedDuplicatesSolid = judging<Relation>(
  {
    id: 'org/dotted-duplicates-solid',
    severity: 'note',
    title: 'Dotted beside solid',
    why: 'A dotted line to the manager who has the solid one says nothing more.',
    source: COMMON,
  },
  (model) => model.relationsOfKind('reports-to'),
  (model, line, day) => {
    if (isSolid(line)) return []
    const solid = model
      .leaving(line.source, 'reports-to')
      .find((one) => isSolid(one) && one.target === line.target && overlap(one, line))
    if (!solid) return []
    return [
      {
        message: `${quoted(model, line.source, day)} has a dotted and a solid line to ${quoted(model, line.target, day)}.`,
        subjects: [line.source, line.id],
        fixes: [fix('Remove the dotted line', removeRelation(line.id))],
      },
    ]
  },
)

/** Grades of one lettering are compared by their number; the higher is the senior. O(positions). */
const gradeInversion: Rule = {
  id: 'org/grade-inversion',
  severity: 'warning',
  title: 'Reports to a lower grade',
  why: 'A manager of a lower grade than the report’s is unusual enough to be a slip.',
  source: COMMON,
  check: (model, day) => {
    const { posts } = structureOn(model, day)
    return [...posts.values()].flatMap(({ position, manager }) => {
      const above = manager === undefined ? undefined : posts.get(manager)?.position
      const [own, other] = [gradeOf(position.fields['grade']), gradeOf(above?.fields['grade'])]
      if (!above || !own || !other || own.letters !== other.letters || own.number <= other.number) return []
      return {
        message: `${quoted(model, position.id, day)} (${position.fields['grade']}) reports to ${quoted(model, above.id, day)} (${above.fields['grade']}).`,
        subjects: [position.id, above.id],
        fixes: [],
      }
    })
  },
}

function gradeOf(value: unknown): { letters: string; number: number } | undefined {
  const [, letters, digits] = typeof value === 'string' ? (/^\s*([^\d]*?)\s*(\d+)\s*$/.exec(value) ?? []) : []
  return digits === undefined ? undefined : { letters: (letters ?? '').toLowerCase(), number: Number(digits) }
}

export const lineRules: readonly Rule[] = [cycle, selfReport, twoManagers, managerNotInForce, dottedDuplicatesSolid]
/** Those that ask who stands under whom. */
export const orderRules: readonly Rule[] = [assistantWithReports, gradeInversion]
