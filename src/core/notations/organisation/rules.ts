import { cyclicComponents } from '../../graph'
import {
  covers,
  dayInWords,
  daysBetween,
  firstOutside,
  overlap,
  type Day,
  type Id,
  type Model,
  type Relation,
  type Step,
} from '../../model'
import { thresholdOf, type Fix, type Rule } from '../../notation'
import { branchOf, isSolid, solidLine, structureOn, vacantSince } from './structure'
import { countOf, titleOf } from './words'

const COMMON = 'Common practice'

const fix = (label: string, ...steps: Step[]): Fix => ({ label, change: { label, steps } })
const solidLines = (model: Model): readonly Relation[] => model.relationsOfKind('reports-to').filter(isSolid)
const quoted = (model: Model, id: Id, day: Day): string => `“${titleOf(model, id, day)}”`

/** O(facts) where there is no circle; else the circle’s days times its size more. */
const cycle: Rule = {
  id: 'org/cycle',
  severity: 'error',
  title: 'Reports to itself through others',
  why: 'Following the line upwards never reaches a head, so nobody decides.',
  source: COMMON,
  check: (model, day) => {
    const up = new Map<Id, Relation[]>()
    for (const line of solidLines(model))
      if (line.source !== line.target) up.set(line.source, [...(up.get(line.source) ?? []), line])
    const above = (id: Id) => (up.get(id) ?? []).map(({ target }) => target)
    return cyclicComponents(
      model.ofKind('position').map(({ id }) => id),
      above,
    ).flatMap((component) => {
      const lines = component.flatMap((id) => up.get(id) ?? [])
      const days = [day, ...new Set(lines.flatMap(({ from }) => from ?? []))]
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
const selfReport: Rule = {
  id: 'org/self-report',
  severity: 'error',
  title: 'Reports to itself',
  why: 'A line from a position to itself says nothing and hides that the real line is missing.',
  source: COMMON,
  check: (model, day) =>
    model
      .relationsOfKind('reports-to')
      .filter(({ source, target }) => source === target)
      .map(({ id, source }) => ({
        message: `${quoted(model, source, day)} reports to itself.`,
        subjects: [source, id],
        fixes: [fix('Remove the line', { do: 'remove-relation', id })],
      })),
}

/** O(lines), and the square of the lines of one position. */
const twoManagers: Rule = {
  id: 'org/two-managers',
  severity: 'error',
  title: 'Two managers on one day',
  why: 'A position has one solid line upwards at a time; a second one is a dotted line, or a mistake.',
  source: COMMON,
  check: (model, day) =>
    model.ofKind('position').flatMap((position) => {
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
                fix(`Only ${a}`, { do: 'remove-relation', id: second.id }),
                fix(`Only ${b}`, { do: 'remove-relation', id: first.id }),
                fix(`Dotted to ${b}`, { do: 'set-relation', id: second.id, path: 'fields.line', value: 'dotted' }),
              ],
            },
          ]
        }
      return []
    }),
}

/** O(lines). */
const managerNotInForce: Rule = {
  id: 'org/manager-not-in-force',
  severity: 'error',
  title: 'Ends before a report does',
  why: 'On some day the report exists and its manager’s position does not, so the line leads nowhere.',
  source: COMMON,
  check: (model, day) =>
    model.relationsOfKind('reports-to').flatMap((line) => {
      const report = model.entities.get(line.source)
      const chief = model.entities.get(line.target)
      const reporting = report && overlap(report, line)
      if (!reporting || !chief || line.source === line.target) return []
      const outside = firstOutside(reporting, chief)
      if (outside === undefined) return []
      const begins = chief.from !== undefined && (outside === 'before' || outside < chief.from)
      const [r, c] = [quoted(model, report.id, day), quoted(model, chief.id, day)]
      const state = begins
        ? `${c} begins only on ${dayInWords(chief.from)}`
        : `${c} ends on ${chief.to ? dayInWords(chief.to) : 'an unknown day'}`
      const when = outside === 'before' ? 'before that' : `on ${dayInWords(outside)}`
      const next = chief.to && solidLine(model, chief.id, chief.to)?.target
      const nextInForce =
        next !== undefined && outside !== 'before' && covers(model.entities.get(next) ?? chief, outside)
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
            ...(next !== undefined && nextInForce && chief.to
              ? [handOn(model, line, next, chief.to, outside, day)]
              : []),
            fix(reporting.to ? `Extend to ${dayInWords(reporting.to)}` : 'Leave its end open', {
              do: 'set-entity',
              id: chief.id,
              path: 'to',
              value: reporting.to ?? null,
            }),
          ]
      return [
        { message: `${state}, but ${r} still reports to it ${when}.`, subjects: [chief.id, report.id, line.id], fixes },
      ]
    }),
}

/** The line ends with the manager, and goes on to the manager's manager. */
function handOn(model: Model, line: Relation, next: Id, end: Day, from: Day, day: Day): Fix {
  let id = `${line.id}-on` as Id
  while (model.relations.has(id)) id = `${id}-on` as Id
  const label = `Hand over to ${quoted(model, next, day)} on ${dayInWords(from)}`
  return fix(
    label,
    { do: 'set-relation', id: line.id, path: 'to', value: end },
    { do: 'add-relation', relation: { ...line, id, target: next, from } },
  )
}

/** O(positions). */
const noHead: Rule = {
  id: 'org/no-head',
  severity: 'warning',
  title: 'Head missing, or one too many',
  why: 'Every part of an organisation has a head at its top; a position without a manager that is no head has lost its line.',
  source: COMMON,
  threshold: { initial: 1, label: 'Heads' },
  check: (model, day) => {
    const structure = structureOn(model, day)
    const headless = structure.heads.filter((id) => structure.posts.get(id)?.cut)
    const heads = structure.heads.filter((id) => !structure.posts.get(id)?.cut)
    const declared = thresholdOf(model, noHead)
    const found = headless.map((id) => ({
      message: `The part of the organisation around ${quoted(model, id, day)} has no head.`,
      subjects: [id],
      fixes: [],
    }))
    if (heads.length <= declared) return found
    const bySize = heads.map((id) => ({ id, size: branchOf(structure, id).length })).sort((a, b) => b.size - a.size)
    const chief = bySize[0]
    const surplus = bySize.slice(declared)
    const declare = fix(`Declare ${heads.length} heads`, {
      do: 'set-workspace',
      path: `thresholds.${noHead.id}`,
      value: heads.length,
    })
    return [
      ...found,
      ...surplus.map(({ id }) => {
        const newLine = `${id}-line` as Id
        const canReport = chief && declared > 0 && !model.relations.has(newLine) && !solidLine(model, id, day)
        const report = canReport
          ? [
              fix(`Report to ${quoted(model, chief.id, day)}`, {
                do: 'add-relation',
                relation: { id: newLine, kind: 'reports-to', source: id, target: chief.id, fields: {} },
              }),
            ]
          : []
        return {
          message: `${quoted(model, id, day)} has no manager, and ${countOf(declared, 'head')} ${declared === 1 ? 'is' : 'are'} declared.`,
          subjects: [id],
          fixes: [...report, declare],
        }
      }),
    ]
  },
}

/** O(positions). */
const wideSpan: Rule = {
  id: 'org/wide-span',
  severity: 'warning',
  title: 'Many direct reports',
  why: 'With many direct reports little time is left for each.',
  source: COMMON,
  threshold: { initial: 8, label: 'Most direct reports' },
  check: (model, day) => {
    const most = thresholdOf(model, wideSpan)
    return [...structureOn(model, day).posts.values()].flatMap(({ position, reports }) =>
      reports.length <= most
        ? []
        : {
            message: `${quoted(model, position.id, day)} has ${reports.length} direct reports, more than the ${most} set for this workspace.`,
            subjects: [position.id],
            fixes: [],
          },
    )
  },
}

/** O(positions). */
const vacantManager: Rule = {
  id: 'org/vacant-manager',
  severity: 'warning',
  title: 'Manager’s position vacant',
  why: 'Its reports have had nobody to turn to for longer than this workspace allows.',
  source: COMMON,
  threshold: { initial: 30, label: 'Longest vacancy of a manager, in days' },
  check: (model, day) => {
    const longest = thresholdOf(model, vacantManager)
    return [...structureOn(model, day).posts.values()].flatMap((post) => {
      if (post.holders.length > 0 || post.reports.length === 0) return []
      const since = vacantSince(model, post.position, day)
      const days = since === undefined ? Infinity : daysBetween(since, day)
      if (days <= longest) return []
      const how = since === undefined ? 'has no holder' : `has been vacant since ${dayInWords(since)}, ${days} days`
      return {
        message: `${quoted(model, post.position.id, day)} ${how}, with ${countOf(post.reports.length, 'report')}.`,
        subjects: [post.position.id],
        fixes: [],
      }
    })
  },
}

export const rules: readonly Rule[] = [
  cycle,
  selfReport,
  twoManagers,
  managerNotInForce,
  noHead,
  wideSpan,
  vacantManager,
]
