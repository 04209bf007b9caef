import { cyclicComponents } from '../../graph'
import { addDays, asOf, covers, earliest, type Day, type Entity, type Id, type Model, type Relation } from '../../model'

/** A position as it stands on a day. */
export interface Post {
  readonly position: Entity
  readonly holders: readonly Holder[]
  /** The solid line upwards that is drawn; a second one is a finding. */
  readonly line?: Relation
  readonly manager?: Id
  readonly assists?: Id
  readonly assistsBy?: Relation
  readonly reports: readonly Id[]
  readonly assistants: readonly Id[]
  /** A head only because its line upwards closes a cycle. */
  readonly cut: boolean
}

export interface Holder {
  readonly person: Entity
  readonly holds: Relation
}

/** The organisation of one day: every position in force, each under one manager, cycles cut at their first position. */
export interface Structure {
  readonly day: Day
  readonly posts: ReadonlyMap<Id, Post>
  readonly heads: readonly Id[]
}

const memory = new WeakMap<Model, Map<Day, Structure>>()

export const isSolid = (line: Relation): boolean => line.fields['line'] !== 'dotted'

/** O(facts), remembered per model and day. */
export function structureOn(model: Model, day: Day): Structure {
  const days = memory.get(model) ?? new Map<Day, Structure>()
  memory.set(model, days)
  const known = days.get(day) ?? build(model, day)
  days.set(day, known)
  return known
}

function build(model: Model, day: Day): Structure {
  const today = asOf(model, day)
  const positions = today.ofKind('position')
  const lineUp = new Map<Id, Relation>()
  for (const line of today.relationsOfKind('reports-to'))
    if (isSolid(line) && line.source !== line.target && !lineUp.has(line.source)) lineUp.set(line.source, line)
  const assists = new Map<Id, Relation>()
  for (const tie of today.relationsOfKind('assists'))
    if (tie.source !== tie.target && !assists.has(tie.source)) assists.set(tie.source, tie)

  const upwards = (id: Id) => (assists.get(id) ?? lineUp.get(id))?.target
  const cut = new Set<Id>()
  for (const cycle of cyclicComponents(
    positions.map(({ id }) => id),
    (id) => {
      const up = upwards(id)
      return up === undefined ? [] : [up]
    },
  )) {
    const first = cycle[0]
    if (first) cut.add(first)
  }

  const order = new Map(positions.map((position, index) => [position.id, [rankOf(position), index] as const]))
  const inOrder = (ids: Id[]) =>
    ids.sort((a, b) => {
      const [x, y] = [order.get(a) ?? [0, 0], order.get(b) ?? [0, 0]]
      return x[0] === y[0] ? x[1] - y[1] : x[0] - y[0]
    })
  const reports = new Map<Id, Id[]>()
  const assistants = new Map<Id, Id[]>()
  const heads: Id[] = []
  for (const { id } of positions) {
    const up = cut.has(id) ? undefined : upwards(id)
    if (up === undefined) heads.push(id)
    else {
      const list = assists.has(id) ? assistants : reports
      const siblings = list.get(up)
      if (siblings) siblings.push(id)
      else list.set(up, [id])
    }
  }

  const posts = new Map<Id, Post>()
  for (const position of positions) {
    const { id } = position
    const isCut = cut.has(id)
    const line = isCut ? undefined : lineUp.get(id)
    const tie = isCut ? undefined : assists.get(id)
    const holders = today.reaching(id, 'holds').flatMap((holds) => {
      const person = today.entities.get(holds.source)
      return person ? { person, holds } : []
    })
    posts.set(id, {
      position,
      holders,
      ...(line && !tie ? { line, manager: line.target } : {}),
      ...(tie ? { assists: tie.target, assistsBy: tie } : {}),
      reports: inOrder(reports.get(id) ?? []),
      assistants: inOrder(assistants.get(id) ?? []),
      cut: isCut,
    })
  }
  return { day, posts, heads: inOrder(heads) }
}

const rankOf = (position: Entity): number => {
  const order = position.fields['order']
  return typeof order === 'number' ? order : Number.MAX_SAFE_INTEGER
}

/** A position and all below it, assistants included, from the top down in drawing order. O(branch). */
export function branchOf(structure: Structure, top: Id): Id[] {
  const ids: Id[] = []
  const open = [top]
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    ids.push(id)
    const post = structure.posts.get(id)
    if (post) open.push(...[...post.assistants, ...post.reports].reverse())
  }
  return ids
}

/** Every position in force in drawing order, with its depth: a head has 0. O(positions). */
export function walk(structure: Structure): { id: Id; depth: number }[] {
  const lines: { id: Id; depth: number }[] = []
  const open = structure.heads.map((id) => ({ id, depth: 0 })).reverse()
  for (let line = open.pop(); line; line = open.pop()) {
    lines.push(line)
    const post = structure.posts.get(line.id)
    const depth = line.depth + 1
    if (post) open.push(...[...post.assistants, ...post.reports].reverse().map((id) => ({ id, depth })))
  }
  return lines
}

/** The position above, by line or by assistance. */
export const aboveOf = (post: Post | undefined): Id | undefined => post?.assists ?? post?.manager

/** Whether `id` stands below `top`, or is it. O(depth). */
export function isWithin(structure: Structure, id: Id, top: Id): boolean {
  for (let at: Id | undefined = id; at !== undefined; at = aboveOf(structure.posts.get(at))) if (at === top) return true
  return false
}

/** The first day on which a vacant position was without a holder; undefined when that is not known. */
export function vacantSince(model: Model, position: Entity, day: Day): Day | undefined {
  let last: Day | undefined
  for (const holds of model.reaching(position.id, 'holds')) {
    const end = earliest(holds.to, model.entities.get(holds.source)?.to)
    if (end !== undefined && end < day && (last === undefined || end > last)) last = end
  }
  return last === undefined ? position.from : addDays(last, 1)
}

export const fteOf = (position: Entity): number => {
  const fte = position.fields['fte']
  return typeof fte === 'number' ? fte : 1
}

/** The unit's name: a unit by id or by name, or whatever text stands there. */
export function unitName(model: Model, position: Entity): string | undefined {
  const unit = position.fields['unit']
  if (typeof unit !== 'string') return undefined
  const entity = model.entities.get(unit as Id)
  return entity?.kind === 'unit' ? entity.name : unit
}

/** The solid line upwards in force on a day. */
export const solidLine = (model: Model, id: Id, day: Day): Relation | undefined =>
  model.leaving(id, 'reports-to').find((line) => isSolid(line) && covers(line, day))
