import { descent } from '../../graph/reach'
import {
  join,
  addDays,
  covers,
  earliest,
  Succession,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
} from '../../model'

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

/** While somebody types a name, a structure differs from the one before in a post or two. */
const memory = new Succession<Structure>(4)
const MOST_RENAMED = 20

export const isSolid = (line: Relation): boolean => line.fields['line'] !== 'dotted'

/** O(facts), remembered per model and day; O(changed facts) beyond a look at each where nothing has changed since the last one that decides who stands where on that day. */
export const structureOn = (model: Model, day: Day): Structure =>
  memory.of(
    model,
    day,
    (earlier, structure) => renamed(earlier, structure, model),
    () => build(model, day),
  )

/** The structure before with some entities exchanged, where nothing has changed that decides who stands where. */
function renamed(earlier: Model, structure: Structure, model: Model): Structure | undefined {
  if (earlier.relations !== model.relations) return undefined
  const before = earlier.entities
  if (before.size !== model.entities.size) return undefined
  const changed: Entity[] = []
  for (const [id, entity] of model.entities) {
    const old = before.get(id)
    if (old === entity) continue
    if (!old || changed.length === MOST_RENAMED || !sameStanding(old, entity, structure.day)) return undefined
    changed.push(entity)
  }
  const posts = new Map(structure.posts)
  for (const entity of changed) {
    const post = posts.get(entity.id)
    if (post) posts.set(entity.id, { ...post, position: entity })
    for (const { target } of entity.kind === 'person' ? model.leaving(entity.id, 'holds') : []) {
      const held = posts.get(target)
      if (!held) continue
      const holders = held.holders.map((holder) =>
        holder.person.id === entity.id ? { ...holder, person: entity } : holder,
      )
      posts.set(target, { ...held, holders })
    }
  }
  return { ...structure, posts }
}

const sameStanding = (a: Entity, b: Entity, day: Day): boolean =>
  a.kind === b.kind && covers(a, day) === covers(b, day) && a.fields['order'] === b.fields['order']

function build(model: Model, day: Day): Structure {
  const positions = model.ofKind('position').filter((position) => covers(position, day))
  const here = new Set(positions.map(({ id }) => id))
  const inForce = (line: Relation) => covers(line, day) && here.has(line.source) && here.has(line.target)
  const lineUp = new Map<Id, Relation>()
  for (const line of model.relationsOfKind('reports-to'))
    if (isSolid(line) && line.source !== line.target && inForce(line) && !lineUp.has(line.source))
      lineUp.set(line.source, line)
  const assists = new Map<Id, Relation>()
  for (const tie of model.relationsOfKind('assists'))
    if (tie.source !== tie.target && inForce(tie) && !assists.has(tie.source)) assists.set(tie.source, tie)
  const holdersOf = new Map<Id, Holder[]>()
  for (const holds of model.relationsOfKind('holds')) {
    const person = model.entities.get(holds.source)
    if (!person || !here.has(holds.target) || !covers(holds, day) || !covers(person, day)) continue
    const known = holdersOf.get(holds.target)
    // Somebody who acted in a post and is appointed to it holds it once: as appointed.
    const same = known?.findIndex((holder) => holder.person.id === person.id) ?? -1
    if (!known) holdersOf.set(holds.target, [{ person, holds }])
    else if (same < 0) known.push({ person, holds })
    else if (known[same]?.holds.fields['acting'] === true) known[same] = { person, holds }
  }

  const upwards = (id: Id) => (assists.get(id) ?? lineUp.get(id))?.target
  const cut = firstOfEachCircle(positions, upwards)

  const order = new Map(positions.map((position, index) => [position.id, { rank: rankOf(position), index }]))
  const inOrder = (ids: readonly Id[]): readonly Id[] =>
    ids.length < 2 ? ids : [...ids].sort((a, b) => compare(order.get(a), order.get(b)))
  const reports = new Map<Id, Id[]>()
  const assistants = new Map<Id, Id[]>()
  const heads: Id[] = []
  for (const { id } of positions) {
    const up = cut.has(id) ? undefined : upwards(id)
    if (up === undefined) heads.push(id)
    else join(assists.has(id) ? assistants : reports, up, id)
  }

  const posts = new Map<Id, Post>()
  for (const position of positions) {
    const { id } = position
    const isCut = cut.has(id)
    const line = isCut ? undefined : lineUp.get(id)
    const tie = isCut ? undefined : assists.get(id)
    posts.set(id, {
      position,
      holders: holdersOf.get(id) ?? NOBODY,
      ...(line && !tie ? { line, manager: line.target } : {}),
      ...(tie ? { assists: tie.target, assistsBy: tie } : {}),
      reports: inOrder(reports.get(id) ?? NOTHING),
      assistants: inOrder(assistants.get(id) ?? NOTHING),
      cut: isCut,
    })
  }
  return { day, posts, heads: inOrder(heads) }
}

/** Every position has one way up at most, so a walk up either ends or meets itself. O(positions). */
function firstOfEachCircle(positions: readonly Entity[], upwards: (id: Id) => Id | undefined): Set<Id> {
  const walkOf = new Map<Id, number>()
  const cut = new Set<Id>()
  positions.forEach(({ id: start }, walkNumber) => {
    let at: Id | undefined = start
    while (at !== undefined && !walkOf.has(at)) {
      walkOf.set(at, walkNumber)
      at = upwards(at)
    }
    if (at !== undefined && walkOf.get(at) === walkNumber) cut.add(earliestIn(positions, at, upwards))
  })
  return cut
}

function earliestIn(positions: readonly Entity[], member: Id, upwards: (id: Id) => Id | undefined): Id {
  const circle = new Set<Id>()
  for (let at: Id | undefined = member; at !== undefined && !circle.has(at); at = upwards(at)) circle.add(at)
  return positions.find(({ id }) => circle.has(id))?.id ?? member
}

const NOBODY: readonly Holder[] = []
const NOTHING: readonly Id[] = []

interface Rank {
  readonly rank: number
  readonly index: number
}
const compare = (a: Rank | undefined, b: Rank | undefined): number =>
  a && b ? (a.rank === b.rank ? a.index - b.index : a.rank - b.rank) : 0

const rankOf = (position: Entity): number => {
  const order = position.fields['order']
  return typeof order === 'number' ? order : Number.MAX_SAFE_INTEGER
}

/** A position and all below it, assistants included, from the top down in drawing order. O(branch). */
export const branchOf = ({ posts }: Structure, top: Id): Id[] => [...descent([top], (id) => belowOf(posts.get(id)))]

const belowOf = (post: Post | undefined): readonly Id[] => (post ? [...post.assistants, ...post.reports] : NOTHING)

/** Every position in force in drawing order, with its depth: a head has 0. O(positions). */
export function walk(structure: Structure): { id: Id; depth: number }[] {
  const lines: { id: Id; depth: number }[] = []
  const open = structure.heads.map((id) => ({ id, depth: 0 })).reverse()
  for (let line = open.pop(); line; line = open.pop()) {
    lines.push(line)
    const depth = line.depth + 1
    const below = belowOf(structure.posts.get(line.id))
    open.push(...below.map((id) => ({ id, depth })).reverse())
  }
  return lines
}

/** A position with one of its holders, as directories know people: under an identity of its own, and under the nearest position that is held. */
interface HeldPost {
  /** The position's, for its first holder; for the others made from it. */
  readonly id: Id
  readonly post: Post
  readonly person: Entity
  readonly above: Id | undefined
}

/** Every holder of every position, in drawing order. O(positions × depth of vacancies). */
export function heldPosts(structure: Structure): HeldPost[] {
  return walk(structure).flatMap(({ id }) => {
    const post = structure.posts.get(id)
    if (!post) return []
    let above = aboveOf(post)
    while (above !== undefined && structure.posts.get(above)?.holders.length === 0)
      above = aboveOf(structure.posts.get(above))
    return post.holders.map(({ person }, index) => ({
      id: index === 0 ? id : (`${id.slice(0, 58)}~${index + 1}` as Id),
      post,
      person,
      above,
    }))
  })
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

/** How much of a position each of its holders gives: as stated; what is left is shared by the others. */
export function sharesOf({ position, holders }: Pick<Post, 'position' | 'holders'>): readonly number[] {
  const stated = holders.map(({ holds }) => (typeof holds.fields['fte'] === 'number' ? holds.fields['fte'] : undefined))
  const left = fteOf(position) - stated.reduce<number>((sum, share) => sum + (share ?? 0), 0)
  const open = stated.filter((share) => share === undefined).length
  return stated.map((share) => share ?? Math.max(0, left) / open)
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
