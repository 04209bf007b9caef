import { covers, type Day, type Entity, type FieldValue, type Id, type Model, type Relation } from '../../model'
import type { Step } from '../../model'
import {
  NOT_IN_FORCE,
  tiesAt,
  tie,
  setField,
  placesAmong,
  addEntity,
  calledKey,
  oneCalled,
  removeEntity,
  setEntity,
  removeRelation,
  setRelation,
  setView,
  LIMITS,
  type Refusal,
  type Wish,
} from '../../notation'
import { UNTITLED } from './kinds'
import { aboveOf, isSolid, isWithin, structureOn, type Post, type Structure } from './structure'
import { isActing, titleOf, type TypedHolder, type TypedLine } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

interface NewPost {
  readonly id: Id
  readonly steps: readonly Step[]
}

/** A position with its holder, tied to `above` as report or assistant, at `order` among its peers; in a unit, where one is given. */
export function newPost(
  wish: Pick<Wish, 'model' | 'day' | 'newId'>,
  line: TypedLine,
  above: Id | undefined,
  order: number,
  unit?: FieldValue,
  made = new Map<string, Id>(),
): NewPost | Refusal {
  const { newId } = wish
  const id = newId()
  const fields = { order, ...(unit === undefined ? {} : { unit }) }
  const position: Entity = { id, kind: 'position', name: line.title, fields }
  const steps: Step[] = [addEntity(position)]
  if (above !== undefined) steps.push(tie(newId(), line.assistant ? 'assists' : 'reports-to', id, above))
  for (const { name, acting } of line.holders) {
    const holder = newHolder(wish, name, id, acting, made)
    if ('refused' in holder) return holder
    steps.push(...holder)
  }
  return { id, steps }
}

/** The unit that a new post takes over from the one above it. */
export const unitAbove = (model: Model, above: Id | undefined): FieldValue | undefined =>
  above === undefined ? undefined : model.entities.get(above)?.fields['unit']

/** Who of those who are there on the day shown is called so: whoever has left is somebody else by now. */
export function personCalled(
  wish: Pick<Wish, 'model' | 'day'>,
  name: string,
  near?: (id: Id) => boolean,
): Entity | Refusal | undefined {
  const one = oneCalled(wish, ['person'], name, near)
  return one && !('refused' in one) && !covers(one, wish.day) ? undefined : one
}

/** Who is called so holds a position: who is there by that name, else somebody new. `made` holds those who were made for it before. */
export function newHolder(
  wish: Pick<Wish, 'model' | 'day' | 'newId'>,
  name: string,
  position: Id,
  acting = false,
  made = new Map<string, Id>(),
): Step[] | Refusal {
  const key = calledKey('person', name)
  const called = made.has(key) ? undefined : personCalled(wish, name)
  if (called && 'refused' in called) return called
  const known = made.get(key) ?? called?.id
  const person = known ?? wish.newId()
  made.set(key, person)
  return [
    ...(known ? [] : [addEntity({ id: person, kind: 'person', name, fields: {} })]),
    tie(wish.newId(), 'holds', person, position, acting ? { acting: true } : {}),
  ]
}

/** The peers of a position, itself included: all with the same manager, all assistants of one, or all heads. */
export function peersOf(structure: Structure, id: Id): readonly Id[] {
  const post = structure.posts.get(id)
  const above = structure.posts.get(aboveOf(post) ?? id)
  if (post?.assists) return above?.assistants ?? []
  return post?.manager ? (above?.reports ?? []) : structure.heads
}

/** Orders for `count` positions put among peers at an index, with the steps that make room for them. O(peers + count) */
export const ordersAmong = (model: Model, peers: readonly Id[], index: number, count: number) =>
  placesAmong(
    peers.flatMap((id) => model.entities.get(id) ?? []),
    index,
    count,
  )

/** The same for one position. */
export function placeAmong(model: Model, peers: readonly Id[], index: number): { order: number; steps: Step[] } {
  const { orders, steps } = ordersAmong(model, peers, index, 1)
  return { order: orders[0] ?? 0, steps }
}

/** Puts a position under another one (or makes it a head), last or at an index among its new peers. */
export function moveSteps(wish: Wish, id: Id, above: Id | undefined, index?: number): Step[] | Refusal {
  const { model, day, newId } = wish
  const structure = structureOn(model, day)
  const post = structure.posts.get(id)
  if (!post) return NOT_IN_FORCE
  if (above === id) return { refused: `“${post.position.name}” cannot report to itself.` }
  if (above !== undefined && isWithin(structure, above, id)) {
    const chief = titleOf(model, above, day)
    return {
      refused: `“${chief}” reports to “${post.position.name}”, directly or through others. That would be a circle.`,
    }
  }
  const peers = (above === undefined ? structure.heads : (structure.posts.get(above)?.reports ?? [])).filter(
    (peer) => peer !== id,
  )
  const place = placeAmong(model, peers, Math.min(index ?? peers.length, peers.length))
  const steps: Step[] = [...place.steps, setField(id, 'order', place.order)]
  if (post.assistsBy) steps.push(removeRelation(post.assistsBy.id))
  const line = model.leaving(id, 'reports-to').find((one) => isSolid(one) && covers(one, day))
  if (above === undefined) return line ? [...steps, removeRelation(line.id)] : steps
  if (!line) return [...steps, tie(newId(), 'reports-to', id, above)]
  return line.target === above ? steps : [...steps, setRelation(line.id, 'target', above)]
}

/** Removes a position. Its reports and assistants go to the position above; people tied to nothing else go with it. */
export function removeSteps(wish: Wish, id: Id): Step[] {
  const { model, day } = wish
  const structure = structureOn(model, day)
  const post = structure.posts.get(id)
  const above = aboveOf(post)
  const steps: Step[] = []
  const people = new Set<Id>()
  for (const relation of tiesAt(model, id)) {
    const lifted =
      relation.target === id && (relation.kind === 'reports-to' ? isSolid(relation) : relation.kind === 'assists')
    if (lifted && above !== undefined && relation.source !== above)
      steps.push(setRelation(relation.id, 'target', above))
    else steps.push(removeRelation(relation.id))
    if (relation.kind === 'holds') people.add(relation.source)
  }
  steps.push(removeEntity(id))
  for (const person of people) {
    const others = [...model.leaving(person), ...model.reaching(person)].filter((tied) => tied.target !== id)
    if (others.length === 0) steps.push(removeEntity(person))
  }
  for (const view of model.views.values())
    if (view.scope['root'] === id) steps.push(setView(view.id, 'scope.root', null))
  return steps
}

/** Ends a position on a day, and with it what leaves it and who holds it. */
export function endSteps(model: Model, id: Id, day: Day): Step[] {
  const own = [...model.leaving(id), ...model.reaching(id, 'holds')]
  return [
    setEntity(id, 'to', day),
    ...own
      .filter((relation) => covers(relation, day) && relation.to !== day)
      .map((relation): Step => setRelation(relation.id, 'to', day)),
  ]
}

/** Makes a position read as the typed line says. */
export function writeLineSteps(wish: Wish, id: Id, line: TypedLine): Step[] | Refusal {
  const post = structureOn(wish.model, wish.day).posts.get(id)
  if (!post) return NOT_IN_FORCE
  const tooLong = lengthRefusal(line)
  if (tooLong) return tooLong
  const held = holderSteps(wish, post, line.holders)
  if ('refused' in held) return held
  return [
    ...(line.title === post.position.name ? [] : [setEntity(id, 'name', line.title)]),
    ...held,
    ...assistSteps(wish, id, line.assistant),
  ]
}

/** Holders who are named stay; who is named and there already takes the place of another; others are renamed in their order, and who is then over begins or leaves. */
function holderSteps(wish: Wish, { position, holders }: Post, wanted: readonly TypedHolder[]): Step[] | Refusal {
  const { model } = wish
  const left = [...holders]
  const take = (at: number) => (at < 0 ? undefined : left.splice(at, 1)[0])
  const named = wanted.map((one) => ({ one, holder: take(left.findIndex(({ person }) => person.name === one.name)) }))
  const steps: Step[] = []
  for (const { one, holder } of named) {
    if (holder) {
      steps.push(...actingSteps(holder.holds, one.acting))
      continue
    }
    const called = personCalled(wish, one.name, (id) => left.some(({ person }) => person.id === id))
    if (called && 'refused' in called) return called
    const there = called && take(left.findIndex(({ person }) => person.id === called.id))
    // Somebody else who is there is no other name of who holds it.
    const renamed = called ? there : left.shift()
    // “Ruth Abel #2” says which of them, and is nobody’s name.
    const isName = !called || calledKey('person', called.name) === calledKey('person', one.name)
    if (renamed)
      steps.push(...(isName ? setName(renamed.person, one.name) : []), ...actingSteps(renamed.holds, one.acting))
    else {
      const begins = newHolder(wish, one.name, position.id, one.acting)
      if ('refused' in begins) return begins
      steps.push(...begins)
    }
  }
  const gone = left.flatMap(({ person, holds }): Step[] => {
    const isNobodyElse = tiesAt(model, person.id).length === 1 && Object.keys(person.fields).length === 0
    return [removeRelation(holds.id), ...(isNobodyElse ? [removeEntity(person.id)] : [])]
  })
  return [...steps, ...gone]
}

const setName = ({ id, name }: Entity, wanted: string): Step[] =>
  name === wanted ? [] : [setEntity(id, 'name', wanted)]

const actingSteps = (holds: Relation, acting: boolean): Step[] =>
  acting === isActing(holds) ? [] : [setRelation(holds.id, 'fields.acting', acting ? true : null)]

/** Turns a report into an assistant of the same position, or back. */
function assistSteps({ model, day, newId }: Wish, id: Id, assistant: boolean): Step[] {
  const post = structureOn(model, day).posts.get(id)
  if (!post || assistant === (post.assists !== undefined)) return []
  if (assistant) {
    if (!post.line) return []
    return [removeRelation(post.line.id), tie(newId(), 'assists', id, post.line.target)]
  }
  if (!post.assistsBy) return []
  const steps: Step[] = [removeRelation(post.assistsBy.id)]
  const line = model.leaving(id, 'reports-to').find((one) => isSolid(one) && covers(one, day))
  return line ? steps : [...steps, tie(newId(), 'reports-to', id, post.assistsBy.target)]
}

export function lengthRefusal(line: TypedLine): Refusal | undefined {
  const longest = Math.max(line.title.length, ...line.holders.map(({ name }) => name.length))
  if (longest <= LIMITS.name) return undefined
  return {
    refused: `A name or title of ${longest.toLocaleString('en')} characters is not taken; ${LIMITS.name} is the most.`,
  }
}

/** A post’s words for a label: its holder, else its title. */
export function calledOn(model: Model, id: Id, day: Day): string {
  const post = structureOn(model, day).posts.get(id)
  const title = model.entities.get(id)?.name ?? id
  return post?.holders[0]?.person.name ?? (title === UNTITLED ? 'an untitled position' : title)
}
