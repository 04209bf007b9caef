import type { Day, Id, Model } from '../../model'
import type { Measure, Sheet } from '../../notation'
import { branchOf, fteOf, structureOn, walk, type Structure } from './structure'
import { titleOf } from './words'

/** One row a manager: how many report directly, how many layers lie below, and what the branch amounts to, itself included. O(positions × depth). */
const spans: Sheet = {
  id: 'spans',
  title: 'Spans and layers',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'position', label: 'Position', unit: null },
    { id: 'holder', label: 'Holder', unit: null },
    { id: 'span', label: 'Direct reports', unit: 'positions' },
    { id: 'layers', label: 'Layers below', unit: 'layers' },
    { id: 'headcount', label: 'Head count', unit: 'people' },
    { id: 'positions', label: 'Positions', unit: 'positions' },
    { id: 'fte', label: 'Fte', unit: 'fte' },
  ],
  rows: (model, day) => {
    const structure = structureOn(model, day)
    return walk(structure).flatMap(({ id }) => {
      const post = structure.posts.get(id)
      if (!post || post.reports.length === 0) return []
      const sums = branchSums(structure, id)
      return {
        id,
        position: titleOf(model, id, day),
        holder: post.holders.map(({ person }) => person.name).join(' & ') || null,
        span: post.reports.length,
        layers: sums.layers - 1,
        headcount: sums.headcount,
        positions: sums.positions,
        fte: sums.fte,
      }
    })
  },
}

/** The sums of the whole organisation on the day. */
const totals: Sheet = {
  id: 'totals',
  title: 'Totals',
  columns: [
    { id: 'measure', label: 'Measure', unit: null },
    { id: 'value', label: 'Value', unit: null },
  ],
  rows: (model, day) => measuresOf(model, day, undefined).list.map(({ label, value }) => ({ measure: label, value })),
}

export const numbers: readonly Sheet[] = [spans, totals]

interface Sums {
  readonly positions: number
  readonly headcount: number
  readonly fte: number
  readonly vacant: number
  readonly layers: number
  readonly meanSpan: number | undefined
}

/** What a branch, or with no top everything, amounts to. A person holding two positions counts once; layers count the top. O(branch). */
export function branchSums(structure: Structure, top: Id | undefined): Sums {
  const lines = top === undefined ? walk(structure) : depthsBelow(structure, top)
  const people = new Set<Id>()
  let [fte, vacant, layers, managers, reports] = [0, 0, 0, 0, 0]
  for (const { id, depth } of lines) {
    const post = structure.posts.get(id)
    if (!post) continue
    for (const { person } of post.holders) people.add(person.id)
    if (post.holders.length === 0) vacant++
    else fte += fteOf(post.position)
    layers = Math.max(layers, depth + 1)
    if (post.reports.length > 0) {
      managers++
      reports += post.reports.length
    }
  }
  return {
    positions: lines.length,
    headcount: people.size,
    fte: Number(fte.toFixed(4)),
    vacant,
    layers,
    meanSpan: managers === 0 ? undefined : reports / managers,
  }
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
  return {
    of: top === undefined ? 'everything' : 'this branch',
    list: [
      { label: 'Positions', value: sums.positions.toLocaleString('en') },
      { label: 'Head count', value: sums.headcount.toLocaleString('en') },
      { label: 'Fte', value: String(Number(sums.fte.toFixed(2))) },
      { label: 'Vacant', value: String(sums.vacant) },
      { label: 'Layers', value: String(sums.layers) },
      { label: 'Mean span', value: sums.meanSpan === undefined ? '–' : sums.meanSpan.toFixed(1) },
    ],
  }
}
