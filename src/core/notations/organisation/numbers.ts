import { grouped, addMonths, monthOf, type Day, type Id, type Model } from '../../model'
import type { Measure, NumberSheet, SheetRow } from '../../notation'
import { branchOf, sharesOf, structureOn, unitName, walk, type Post, type Structure } from './structure'
import { countOf, titleOf } from './words'

const SUMS = [
  { id: 'headcount', label: 'Head count', unit: 'people' },
  { id: 'positions', label: 'Positions', unit: 'positions' },
  { id: 'fte', label: 'Fte', unit: 'fte' },
  { id: 'vacant', label: 'Vacant', unit: 'positions' },
  { id: 'cost', label: 'Cost', unit: 'a year, vacancies included' },
] as const

/** One row a manager: how many report directly, how many layers lie below, and what the branch amounts to, itself included. O(positions × depth). */
const spans: NumberSheet = {
  id: 'spans',
  title: 'Branches',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'position', label: 'Position', unit: null },
    { id: 'holder', label: 'Holder', unit: null },
    { id: 'span', label: 'Direct reports', unit: 'positions' },
    { id: 'layers', label: 'Layers below', unit: 'layers' },
    ...SUMS,
  ],
  chart: { sort: 'bars', key: 'id', label: 'position', values: ['headcount', 'fte', 'cost', 'vacant', 'span'] },
  rows: (model, day) => {
    const structure = structureOn(model, day)
    return walk(structure).flatMap(({ id }) => {
      const post = structure.posts.get(id)
      if (!post || post.reports.length === 0) return []
      const { layers, ...sums } = branchSums(structure, id)
      return {
        id,
        position: titleOf(model, id, day),
        holder: post.holders.map(({ person }) => person.name).join(' & ') || null,
        span: post.reports.length,
        layers: layers - 1,
        ...columnsOf(sums),
      }
    })
  },
  counted: (model, day, { id }) => branchOf(structureOn(model, day), id as Id),
}

const NO_UNIT = 'No unit'

/** One row a unit; people count where they hold most, so that the rows add up to the whole. O(positions). */
const units: NumberSheet = {
  id: 'units',
  title: 'Units',
  columns: [{ id: 'unit', label: 'Unit', unit: null }, ...SUMS],
  chart: { sort: 'bars', key: 'unit', label: 'unit', values: ['headcount', 'fte', 'cost', 'vacant'] },
  rows: (model, day) => {
    const structure = structureOn(model, day)
    return [...byUnit(model, structure)].map(([unit, ids]) => ({ unit, ...columnsOf(sumsOf(structure, ids)) }))
  },
  counted: (model, day, { unit }) => byUnit(model, structureOn(model, day)).get(String(unit)) ?? [],
}

const byUnit = (model: Model, structure: Structure): Map<string, Id[]> =>
  grouped(
    walk(structure).map(({ id }) => id),
    (id) => {
      const post = structure.posts.get(id)
      return (post && unitName(model, post.position)) ?? NO_UNIT
    },
  )

/** How many managers have how many direct reports. O(positions). */
const spanCounts: NumberSheet = {
  id: 'span-distribution',
  title: 'Spans',
  columns: [
    { id: 'span', label: 'Direct reports', unit: null },
    { id: 'managers', label: 'Managers', unit: 'positions' },
  ],
  chart: { sort: 'bars', key: 'span', label: 'span', values: ['managers'] },
  rows: (model, day) => distribution(managersOn(model, day), ({ reports }) => reports.length, 'span', 'managers'),
  counted: (model, day, { span }) =>
    managersOn(model, day)
      .filter(({ reports }) => reports.length === span)
      .map(({ position }) => position.id),
}

const managersOn = (model: Model, day: Day): Post[] =>
  [...structureOn(model, day).posts.values()].filter(({ reports }) => reports.length > 0)

/** How many positions stand on which layer; a head stands on the first. O(positions). */
const layerCounts: NumberSheet = {
  id: 'layer-distribution',
  title: 'Layers',
  columns: [
    { id: 'layer', label: 'Layer', unit: null },
    { id: 'positions', label: 'Positions', unit: 'positions' },
  ],
  chart: { sort: 'bars', key: 'layer', label: 'layer', values: ['positions'] },
  rows: (model, day) => distribution(walk(structureOn(model, day)), ({ depth }) => depth + 1, 'layer', 'positions'),
  counted: (model, day, { layer }) =>
    walk(structureOn(model, day))
      .filter(({ depth }) => depth + 1 === layer)
      .map(({ id }) => id),
}

function distribution<T>(of: readonly T[], value: (one: T) => number, key: string, count: string): SheetRow[] {
  const counts = new Map<number, number>()
  for (const one of of) counts.set(value(one), (counts.get(value(one)) ?? 0) + 1)
  return [...counts].sort(([a], [b]) => a - b).map(([at, number]) => ({ [key]: at, [count]: number }))
}

const MONTHS = { before: 36, after: 24 }

/** The whole on the first of each month, as far as anything begins or ends, three years back and two ahead at most. O(months × facts). */
const months: NumberSheet = {
  id: 'months',
  title: 'Over time',
  columns: [{ id: 'month', label: 'Month', unit: null }, ...SUMS],
  chart: { sort: 'line', key: 'month', label: 'month', values: ['headcount', 'fte', 'cost', 'vacant'] },
  rows: (model, day) =>
    monthsAround(model, day).map((month) => {
      const structure = structureOn(model, month)
      return { month: month.slice(0, 7), ...columnsOf(sumsOf(structure, structure.posts.keys())) }
    }),
}

function monthsAround(model: Model, day: Day): Day[] {
  let [first, last] = [monthOf(day), monthOf(day)]
  for (const fact of [...model.entities.values(), ...model.relations.values()])
    for (const end of [fact.from, fact.to]) {
      if (end === undefined) continue
      const month = monthOf(end)
      if (month < first) first = month
      if (month > last) last = month
    }
  const list: Day[] = []
  const from = monthOf(addMonths(day, -MONTHS.before))
  const to = monthOf(addMonths(day, MONTHS.after))
  // One more month, so that what happens within the last one shows.
  const end = addMonths(last, 1)
  for (
    let at = first < from ? from : first;
    at <= end && at <= to && at !== list.at(-1);
    at = monthOf(addMonths(at, 1))
  )
    list.push(at)
  return list
}

/** The sums of the whole organisation on the day. */
const totals: NumberSheet = {
  id: 'totals',
  title: 'Totals',
  columns: [
    { id: 'measure', label: 'Measure', unit: null },
    { id: 'value', label: 'Value', unit: null },
  ],
  rows: (model, day) => measuresOf(model, day, undefined).list.map(({ label, value }) => ({ measure: label, value })),
}

export const numbers: readonly NumberSheet[] = [units, spans, spanCounts, layerCounts, months, totals]

interface Sums {
  readonly positions: number
  /** People who hold most in one of these positions. Cost is that of all positions, vacant ones included. */
  readonly headcount: number
  readonly fte: number
  readonly vacant: number
  readonly cost: number
}

interface BranchSums extends Sums {
  readonly layers: number
  readonly meanSpan: number | undefined
}

const columnsOf = ({ headcount, positions, fte, vacant, cost }: Sums) => ({ headcount, positions, fte, vacant, cost })

/** What some positions amount to. Sums over parts that share no position add up to the sum over the whole. O(positions). */
function sumsOf(structure: Structure, ids: Iterable<Id>): Sums {
  const homes = homesIn(structure)
  let [positions, headcount, fte, vacant, cost] = [0, 0, 0, 0, 0]
  for (const id of ids) {
    const post = structure.posts.get(id)
    if (!post) continue
    positions++
    for (const { person } of post.holders) if (homes.get(person.id) === id) headcount++
    if (post.holders.length === 0) vacant++
    else fte += sharesOf(post).reduce((sum, share) => sum + share, 0)
    const own = post.position.fields['cost']
    if (typeof own === 'number') cost += own
  }
  return { positions, headcount, fte: Number(fte.toFixed(4)), vacant, cost: Number(cost.toFixed(2)) }
}

const homes = new WeakMap<Structure, ReadonlyMap<Id, Id>>()

/** Where each person counts: the position held with the largest share, of equal ones the first. O(positions), remembered. */
function homesIn(structure: Structure): ReadonlyMap<Id, Id> {
  const known = homes.get(structure)
  if (known) return known
  const best = new Map<Id, { id: Id; share: number }>()
  for (const [id, { position, holders }] of structure.posts) {
    const shares = sharesOf({ position, holders })
    for (const [index, { person }] of holders.entries()) {
      const share = shares[index] ?? 0
      const most = best.get(person.id)
      if (!most || share > most.share) best.set(person.id, { id, share })
    }
  }
  const found = new Map([...best].map(([person, { id }]) => [person, id]))
  homes.set(structure, found)
  return found
}

/** What a branch, or with no top everything, amounts to. Layers count the top. O(branch). */
function branchSums(structure: Structure, top: Id | undefined): BranchSums {
  const lines = top === undefined ? walk(structure) : depthsBelow(structure, top)
  let [layers, managers, reports] = [0, 0, 0]
  for (const { id, depth } of lines) {
    const span = structure.posts.get(id)?.reports.length ?? 0
    layers = Math.max(layers, depth + 1)
    if (span > 0) {
      managers++
      reports += span
    }
  }
  const ids = lines.map(({ id }) => id)
  return { ...sumsOf(structure, ids), layers, meanSpan: managers === 0 ? undefined : reports / managers }
}

/** How many layers there are from a position downwards, its own included. O(positions below). */
export function layersFrom({ posts }: Structure, top: Id): number {
  let layers = 0
  for (let row: readonly Id[] = [top]; row.length > 0; layers++)
    row = row.flatMap((id) => {
      const post = posts.get(id)
      return post ? (post.assistants.length > 0 ? [...post.reports, ...post.assistants] : post.reports) : []
    })
  return layers
}

function depthsBelow(structure: Structure, top: Id) {
  const depths = new Map<Id, number>([[top, 0]])
  return branchOf(structure, top).map((id) => {
    const depth = depths.get(id) ?? 0
    const post = structure.posts.get(id)
    for (const child of post ? [...post.reports, ...post.assistants] : []) depths.set(child, depth + 1)
    return { id, depth }
  })
}

export function measuresOf(model: Model, day: Day, selected: Id | undefined): { of: string; list: readonly Measure[] } {
  const structure = structureOn(model, day)
  const top = selected !== undefined && structure.posts.has(selected) ? selected : undefined
  const sums = branchSums(structure, top)
  const cost =
    sums.cost > 0
      ? [
          {
            label: sums.vacant > 0 ? 'Cost with vacancies' : 'Cost a year',
            value: Math.round(sums.cost).toLocaleString('en'),
          },
        ]
      : []
  return {
    of: top === undefined ? 'everything' : 'this branch',
    list: [
      { label: 'Positions', value: sums.positions.toLocaleString('en') },
      { label: 'Head count', value: sums.headcount.toLocaleString('en') },
      { label: 'Fte', value: String(Number(sums.fte.toFixed(2))) },
      { label: 'Vacant', value: String(sums.vacant) },
      ...cost,
      { label: 'Layers', value: String(sums.layers) },
      { label: 'Mean span', value: sums.meanSpan === undefined ? '–' : sums.meanSpan.toFixed(1) },
    ],
  }
}

/** “12 people, 11.5 fte, 1 vacant”. */
export function sumsInWords(structure: Structure, ids: Iterable<Id>): string {
  const { headcount, fte, vacant } = sumsOf(structure, ids)
  const words = [countOf(headcount, 'person', 'people'), `${Number(fte.toFixed(1))} fte`]
  return [...words, ...(vacant > 0 ? [`${vacant} vacant`] : [])].join(', ')
}
