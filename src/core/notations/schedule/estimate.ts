import { readDuration } from '../../calendar'
import type { Id, Model } from '../../model'
import { durationOf, instantOf, leavesOf, textOf, typeOfLink, type Plan, type Work } from './plan'
import { criticalPath } from './criticalPath'

/** Working minutes, and their square, of a plan's longest way by expected durations. */
export interface Estimate {
  readonly mean: number
  readonly variance: number
  readonly deviation: number
  /** The tasks of that way. */
  readonly way: readonly Id[]
}

/** Mean (a + 4m + b) / 6 and variance ((b − a) / 6)² of a task; without three estimates its duration, which is certain (Malcolm et al. 1959). */
function threePoint(model: Model, work: Work): { mean: number; variance: number } {
  const read = (field: string) => readDuration(textOf(work.entity, field) ?? '', work.time.pace)
  const [least, most] = [read('least'), read('most')]
  const likely = read('likely') ?? (work.kind === 'task' ? durationOf(model, work) : 0)
  if (work.kind !== 'task' || least === undefined || most === undefined) return { mean: likely, variance: 0 }
  return { mean: (least + 4 * likely + most) / 6, variance: ((most - least) / 6) ** 2 }
}

/**
 * The longest way by expected durations, its mean and the sum of its variances, as if its tasks' durations were independent of each other
 * (Malcolm, Roseboom, Clark, Fazar 1959). O(tasks + precedences · log days).
 */
export function estimateOf(model: Model, plan: Plan): Estimate {
  const leaves = plan.list.filter(({ kind }) => kind !== 'group')
  const index = new Map(leaves.map(({ id }, i) => [id, i]))
  const points = leaves.map((work) => threePoint(model, work))
  const activities = leaves.map((work, i) => ({
    time: work.time,
    duration: Math.round(points[i]?.mean ?? 0),
    constraint:
      textOf(work.entity, 'constraint') === 'start no earlier'
        ? ('start no earlier' as const)
        : ('as soon as possible' as const),
    on: instantOf(textOf(work.entity, 'on'), work.time, 'start'),
  }))
  const precedences = plan.links.flatMap((link) => {
    const lag = readDuration(textOf(link, 'lag') ?? '0d', plan.time.pace) ?? 0
    return leavesOf(plan.byId.get(link.source)).flatMap((source) =>
      leavesOf(plan.byId.get(link.target)).flatMap((target) => {
        const [from, to] = [index.get(source.id), index.get(target.id)]
        return from === undefined || to === undefined ? [] : [{ from, to, type: typeOfLink(link), lag }]
      }),
    )
  })
  const path = criticalPath({ activities, precedences, start: plan.begin })
  const into = new Map<number, number[]>()
  for (const { from, to } of precedences) into.set(to, [...(into.get(to) ?? []), from])
  // From the last to finish back along what holds it, as long as there is no float between.
  const critical = (i: number) => (path.totalFloat[i] ?? 1) <= 0
  let at = leaves.findIndex((_, i) => critical(i) && (path.earlyFinish[i] ?? 0) === path.finish)
  const way: number[] = []
  while (at >= 0 && !way.includes(at)) {
    way.unshift(at)
    const before = (into.get(at) ?? []).filter(critical)
    at = before.reduce(
      (best, one) => (best < 0 || (path.earlyFinish[one] ?? 0) > (path.earlyFinish[best] ?? 0) ? one : best),
      -1,
    )
  }
  const variance = way.reduce((sum, i) => sum + (points[i]?.variance ?? 0), 0)
  const mean = leaves.length === 0 ? 0 : plan.time.between(plan.begin, path.finish)
  return { mean, variance, deviation: Math.sqrt(variance), way: way.flatMap((i) => leaves[i]?.id ?? []) }
}

/** The standard normal distribution function, to seven places (Abramowitz & Stegun 1964, 7.1.26, by way of erf). */
export function normal(z: number): number {
  if (z === Infinity) return 1
  if (z === -Infinity) return 0
  const x = Math.abs(z) / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * x)
  const poly = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t
  const erf = 1 - poly * Math.exp(-x * x)
  return z >= 0 ? 0.5 * (1 + erf) : 0.5 * (1 - erf)
}
