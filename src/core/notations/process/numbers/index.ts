import type { Day, Id, Model } from '../../../model'
import type { Measure, NumberSheet } from '../../../notation'
import { UNNAMED } from '../kinds'
import { inFlowOrder, numbersIn, processOn, type FlowNode, type Process } from '../structure'
import { expectedMinutes, likelyPath, minutesAt, shortestAndLongest, takesSeveral } from './paths'
import { times, visitsOf } from './visits'

const round = (value: number, digits = 4): number | null =>
  Number.isFinite(value) ? Number(value.toFixed(digits)) : null

const costAt = ({ entity }: FlowNode): number => (typeof entity.fields['cost'] === 'number' ? entity.fields['cost'] : 0)

const processes = (model: Model, day: Day): Process[] =>
  model.ofKind('process').map(({ id }) => processOn(model, id, day))

/** One row a step: how often a case comes to it, and what time and cost that makes for a case on average. O(elements³). */
const steps: NumberSheet = {
  id: 'steps',
  title: 'Steps',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'process', label: 'Process', unit: null },
    { id: 'number', label: 'No.', unit: null },
    { id: 'step', label: 'Step', unit: null },
    { id: 'visits', label: 'Visits', unit: 'a case' },
    { id: 'time', label: 'Time', unit: 'min a case' },
    { id: 'wait', label: 'Wait', unit: 'min a case' },
    { id: 'cost', label: 'Cost', unit: 'a case' },
  ],
  chart: { sort: 'bars', key: 'id', label: 'step', values: ['time', 'visits', 'cost', 'wait'] },
  rows: (model, day) =>
    processes(model, day).flatMap((process) => {
      const visits = visitsOf(process)
      const numbers = numbersIn(process)
      return inFlowOrder(process)
        .filter(({ kind }) => kind === 'step')
        .map((node) => {
          const count = visits.nodes.get(node.id) ?? 0
          const { work, wait } = minutesAt(node)
          return {
            id: node.id,
            process: process.process?.name ?? null,
            number: numbers.get(node.id) ?? null,
            step: node.entity.name === UNNAMED ? null : node.entity.name,
            visits: round(count),
            time: round(times(count, work)),
            wait: round(times(count, wait)),
            cost: round(times(count, costAt(node))),
          }
        })
    }),
  counted: (_model, _day, { id }) => [id as Id],
}

export interface Totals {
  readonly time: number
  /** Ways run at once: then the expected time is a lower bound. */
  readonly atLeast: boolean
  readonly shortest: number | undefined
  readonly likely: number
  readonly longest: number | undefined
  readonly work: number
  readonly wait: number
  readonly cost: number
  readonly handOffs: number
  readonly likelyHandOffs: number
  readonly valueShare: number | undefined
}

/** What one case amounts to on average, and at best and worst. */
export function totalsOf(process: Process): Totals {
  const visits = visitsOf(process)
  const nodes = [...process.nodes.values()].filter(({ kind }) => kind !== 'data')
  let [work, wait, cost, value] = [0, 0, 0, 0]
  let judged = false
  for (const node of nodes) {
    const count = visits.nodes.get(node.id) ?? 0
    const minutes = minutesAt(node)
    work += times(count, minutes.work)
    wait += times(count, minutes.wait)
    cost += times(count, costAt(node))
    const { worth } = node.entity.fields
    if (worth !== undefined) judged = true
    if (worth === 'adds value') value += times(count, minutes.work)
  }
  const lane = (id: Id) => process.nodes.get(id)?.lane
  const changes = (a: Id | undefined, b: Id | undefined) => a !== undefined && b !== undefined && a !== b
  const handOffs = process.flows.reduce(
    (sum, { id, source, target }) => sum + (changes(lane(source), lane(target)) ? (visits.flows.get(id) ?? 0) : 0),
    0,
  )
  const path = likelyPath(process)
  const start = path[0]
  const bounds = start && shortestAndLongest(process, start.id)
  return {
    time: start ? expectedMinutes(process, start.id) : 0,
    atLeast: nodes.some(takesSeveral),
    shortest: bounds?.least,
    likely: path.reduce((sum, node) => sum + minutesAt(node).work + minutesAt(node).wait, 0),
    longest: bounds?.most,
    work,
    wait,
    cost,
    handOffs,
    likelyHandOffs: path.filter((node, index) => changes(path[index - 1]?.lane, node.lane)).length,
    valueShare: judged && work + wait > 0 && Number.isFinite(work + wait) ? value / (work + wait) : undefined,
  }
}

/** One row a process. */
const total: NumberSheet = {
  id: 'total',
  title: 'In total',
  columns: [
    { id: 'process', label: 'Process', unit: null },
    { id: 'time', label: 'Expected time', unit: 'min, at least' },
    { id: 'shortest', label: 'Shortest', unit: 'min' },
    { id: 'likely', label: 'Likely', unit: 'min' },
    { id: 'longest', label: 'Longest', unit: 'min, no loop repeated' },
    { id: 'work', label: 'Work', unit: 'min' },
    { id: 'wait', label: 'Wait', unit: 'min' },
    { id: 'cost', label: 'Cost', unit: 'a case' },
    { id: 'handOffs', label: 'Hand-offs', unit: 'a case' },
    { id: 'valueShare', label: 'Adds value', unit: 'of the time' },
  ],
  rows: (model, day) =>
    processes(model, day).map((process) => {
      const { time, shortest, likely, longest, work, wait, cost, handOffs, valueShare } = totalsOf(process)
      return {
        process: process.process?.name ?? null,
        time: round(time),
        shortest: shortest === undefined ? null : round(shortest),
        likely: round(likely),
        longest: longest === undefined ? null : round(longest),
        work: round(work),
        wait: round(wait),
        cost: round(cost),
        handOffs: round(handOffs),
        valueShare: valueShare === undefined ? null : round(valueShare),
      }
    }),
}

/** Every way through a decision: how often it is taken. */
const ways: NumberSheet = {
  id: 'ways',
  title: 'Lines',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'from', label: 'From', unit: null },
    { id: 'label', label: 'Label', unit: null },
    { id: 'to', label: 'To', unit: null },
    { id: 'taken', label: 'Taken', unit: 'a case' },
  ],
  rows: (model, day) =>
    processes(model, day).flatMap((process) => {
      const visits = visitsOf(process)
      return process.flows.map(({ id, source, target, fields }) => ({
        id,
        from: process.nodes.get(source)?.entity.name ?? null,
        label: typeof fields['label'] === 'string' ? fields['label'] : null,
        to: process.nodes.get(target)?.entity.name ?? null,
        taken: round(visits.flows.get(id) ?? 0),
      }))
    }),
  counted: (_model, _day, { id }) => [id as Id],
}

export const numbers: readonly NumberSheet[] = [steps, total, ways]

/** `31 min`, `2 h 5 min`, `3 d 4 h`. */
function inTime(minutes: number | undefined): string {
  if (minutes === undefined || !Number.isFinite(minutes)) return '–'
  const whole = Math.round(minutes)
  if (whole < 60) return minutes < 10 && minutes % 1 !== 0 ? `${Number(minutes.toFixed(1))} min` : `${whole} min`
  const [h, min] = [Math.floor(whole / 60), whole % 60]
  if (h < 48) return min === 0 ? `${h} h` : `${h} h ${min} min`
  return `${Math.floor(h / 24)} d ${h % 24} h`
}

export function measuresOf(selected: Id | undefined, process: Process): { of: string; list: readonly Measure[] } {
  const node = selected === undefined ? undefined : process.nodes.get(selected)
  if (node && node.kind === 'step') {
    const count = visitsOf(process).nodes.get(node.id) ?? 0
    const { work, wait } = minutesAt(node)
    return {
      of: 'this step, one case',
      list: [
        { label: 'Visits', value: String(round(count, 2) ?? '–') },
        { label: 'Time', value: inTime(times(count, work)) },
        { label: 'Wait', value: inTime(times(count, wait)) },
        { label: 'Cost', value: String(round(times(count, costAt(node)), 2) ?? '–') },
      ],
    }
  }
  const totals = totalsOf(process)
  return {
    of: 'one case',
    list: [
      {
        label: 'Expected',
        value: `${totals.atLeast && Number.isFinite(totals.time) ? '≥ ' : ''}${inTime(totals.time)}`,
      },
      { label: 'Shortest', value: inTime(totals.shortest) },
      { label: 'Likely', value: inTime(totals.likely) },
      { label: 'Longest', value: inTime(totals.longest) },
      { label: 'Hand-offs', value: String(round(totals.handOffs, 1) ?? '–') },
      { label: 'Cost', value: String(round(totals.cost, 2) ?? '–') },
      ...(totals.valueShare === undefined
        ? []
        : [{ label: 'Adds value', value: `${Math.round(totals.valueShare * 100)} %` }]),
    ],
  }
}
