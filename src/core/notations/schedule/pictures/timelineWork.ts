import { isoDay, whenInWords } from '../../../calendar'
import type { Day, Model, View } from '../../../model'
import { planShown, type Work } from '../plan'
import { factsOf, type Point, type Span, type TimeFacts } from './timeScale'

/** Of more tasks without groups only the first are drawn. */
const MOST_TASKS = 200

interface Told extends TimeFacts {
  /** Milestones, groups and tasks of the plan: their dates are worked out, and cannot be pulled. */
  readonly reckoned: ReadonlySet<string>
  /** Tasks that there is no room for. */
  readonly left: number
}

/**
 * What a timeline tells: events and eras, and of the plan that it names its milestones as events and its groups as eras, or its tasks where it has no groups.
 * Where a workspace has no events at all, those of its first plan. O(facts + plan)
 */
export function toldBy(model: Model, view: View, day: Day): Told {
  const own = factsOf(model, view)
  const isNamed = typeof view.scope['plan'] === 'string'
  const none = { ...own, reckoned: new Set<string>(), left: 0 }
  if (view.options['work'] === false || !(isNamed || own.points.length + own.spans.length === 0)) return none
  const { list, roots } = planShown(model, view, day)
  if (list.length === 0) return none
  const groups = roots.filter(({ kind }) => kind === 'group')
  const tasks = groups.length > 0 ? [] : roots.filter(({ kind }) => kind === 'task')
  const points = list.filter(({ kind }) => kind === 'milestone').map(pointOf)
  const spans = [...groups, ...tasks.slice(0, MOST_TASKS)].map(spanOf)
  const ends = list.flatMap(({ start, finish }) => [start, finish])
  const all = [...own.points.map(({ at }) => at), ...own.spans.flatMap(({ from, to }) => [from, to]), ...ends]
  const reach = (least: (a: number, b: number) => number) => all.reduce((a, b) => least(a, b), all[0] ?? 0)
  return {
    points: [...own.points, ...points].sort((a, b) => a.at - b.at),
    spans: [...own.spans, ...spans].sort((a, b) => a.from - b.from),
    ends: [reach(Math.min), reach(Math.max)],
    reckoned: new Set([...points, ...spans].map(({ entity }) => entity.id)),
    left: Math.max(0, tasks.length - MOST_TASKS),
  }
}

const pointOf = ({ entity, finish }: Work): Point => ({ entity, at: finish, words: whenInWords(isoDay(finish)) })
const spanOf = ({ entity, start, finish }: Work): Span => ({ entity, from: start, to: Math.max(start, finish) })
