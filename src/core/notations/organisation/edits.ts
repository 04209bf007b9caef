import { covers, type Day, type Entity, type FieldValue, type Id, type Model } from '../../model'
import type { Step } from '../../model'
import { LIMITS, type Outcome, type Refusal, type Wish } from '../../notation'
import { UNTITLED } from './kinds'
import { aboveOf, isSolid, isWithin, structureOn, type Structure } from './structure'
import { readLine, titleOf, type TypedLine } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export interface NewPost {
  readonly id: Id
  readonly steps: readonly Step[]
}

/** A position with its holder, tied to `above` as report or assistant, at `order` among its peers; in a unit, where one is given. */
export function newPost(
  newId: () => Id,
  line: TypedLine,
  above: Id | undefined,
  order: number,
  unit?: FieldValue,
): NewPost {
  const id = newId()
  const fields = { order, ...(unit === undefined ? {} : { unit }) }
  const position: Entity = { id, kind: 'position', name: line.title, fields }
  const steps: Step[] = [{ do: 'add-entity', entity: position }]
  if (above !== undefined) steps.push(tie(newId(), line.assistant ? 'assists' : 'reports-to', id, above))
  if (line.holder !== undefined) steps.push(...newHolder(newId, line.holder, id, line.acting))
  return { id, steps }
}

/** The unit that a new post takes over from the one above it. */
export const unitAbove = (model: Model, above: Id | undefined): FieldValue | undefined =>
  above === undefined ? undefined : model.entities.get(above)?.fields['unit']

export function newHolder(newId: () => Id, name: string, position: Id, acting = false): Step[] {
  const person = newId()
  return [
    { do: 'add-entity', entity: { id: person, kind: 'person', name, fields: {} } },
    tie(newId(), 'holds', person, position, acting ? { acting: true } : {}),
  ]
}

export const tie = (id: Id, kind: string, source: Id, target: Id, fields: Record<string, boolean> = {}): Step => ({
  do: 'add-relation',
  relation: { id, kind, source, target, fields },
})

/** The peers of a position, itself included: all with the same manager, all assistants of one, or all heads. */
export function peersOf(structure: Structure, id: Id): readonly Id[] {
  const post = structure.posts.get(id)
  const above = structure.posts.get(aboveOf(post) ?? id)
  if (post?.assists) return above?.assistants ?? []
  return post?.manager ? (above?.reports ?? []) : structure.heads
}

/**
 * Ascending orders for `count` positions put among peers at an index, and the steps that number the peers anew
 * where their own numbers leave no room. O(peers + count).
 */
export function placesAmong(model: Model, peers: readonly Id[], index: number, count: number) {
  const orders = peers.map((id) => model.entities.get(id)?.fields['order'])
  const numbered = orders.every((order, i) => typeof order === 'number' && (i === 0 || Number(orders[i - 1]) < order))
  const before = index > 0 ? Number(orders[index - 1]) : Number(orders[0] ?? 1) - count - 1
  const after = index < peers.length ? Number(orders[index]) : before + count + 1
  const between = Array.from({ length: count }, (_, i) => before + ((after - before) * (i + 1)) / (count + 1))
  if (numbered && between.every((order, i) => order > (between[i - 1] ?? before) && order < after))
    return { orders: between, steps: [] }
  return {
    orders: between.map((_, i) => index + i + 1),
    steps: peers.map((id, i) => setOrder(id, i < index ? i + 1 : i + count + 1)),
  }
}

/** The same for one position. */
export function placeAmong(model: Model, peers: readonly Id[], index: number): { order: number; steps: Step[] } {
  const { orders, steps } = placesAmong(model, peers, index, 1)
  return { order: orders[0] ?? 0, steps }
}

const setOrder = (id: Id, value: number): Step => ({ do: 'set-entity', id, path: 'fields.order', value })

/** Puts a position under another one (or makes it a head), last or at an index among its new peers. */
export function moveSteps(wish: Wish, id: Id, above: Id | undefined, index?: number): Step[] | Refusal {
  const { model, day, newId } = wish
  const structure = structureOn(model, day)
  const post = structure.posts.get(id)
  if (!post) return { refused: 'This position is not in force on the day shown.' }
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
  const steps: Step[] = [...place.steps, setOrder(id, place.order)]
  if (post.assistsBy) steps.push({ do: 'remove-relation', id: post.assistsBy.id })
  const line = model.leaving(id, 'reports-to').find((one) => isSolid(one) && covers(one, day))
  if (above === undefined) return line ? [...steps, { do: 'remove-relation', id: line.id }] : steps
  if (!line) return [...steps, tie(newId(), 'reports-to', id, above)]
  return line.target === above ? steps : [...steps, { do: 'set-relation', id: line.id, path: 'target', value: above }]
}

/** Removes a position. Its reports and assistants go to the position above; people tied to nothing else go with it. */
export function removeSteps(wish: Wish, id: Id): Step[] {
  const { model, day } = wish
  const structure = structureOn(model, day)
  const post = structure.posts.get(id)
  const above = aboveOf(post)
  const steps: Step[] = []
  const people = new Set<Id>()
  for (const relation of [...model.leaving(id), ...model.reaching(id)]) {
    const lifted =
      relation.target === id && (relation.kind === 'reports-to' ? isSolid(relation) : relation.kind === 'assists')
    if (lifted && above !== undefined && relation.source !== above)
      steps.push({ do: 'set-relation', id: relation.id, path: 'target', value: above })
    else steps.push({ do: 'remove-relation', id: relation.id })
    if (relation.kind === 'holds') people.add(relation.source)
  }
  steps.push({ do: 'remove-entity', id })
  for (const person of people) {
    const others = [...model.leaving(person), ...model.reaching(person)].filter((tied) => tied.target !== id)
    if (others.length === 0) steps.push({ do: 'remove-entity', id: person })
  }
  for (const view of model.views.values())
    if (view.scope['root'] === id) steps.push({ do: 'set-view', id: view.id, path: 'scope.root', value: null })
  return uniqueRemovals(steps)
}

/** A relation from a position to itself is met at both ends. */
function uniqueRemovals(steps: readonly Step[]): Step[] {
  const gone = new Set<string>()
  return steps.filter((step) => {
    if (step.do !== 'remove-relation') return true
    const first = !gone.has(step.id)
    gone.add(step.id)
    return first
  })
}

/** Ends a position on a day, and with it what leaves it and who holds it. */
export function endSteps(model: Model, id: Id, day: Day): Step[] {
  const own = [...model.leaving(id), ...model.reaching(id, 'holds')]
  return [
    { do: 'set-entity', id, path: 'to', value: day },
    ...own
      .filter((relation) => covers(relation, day) && relation.to !== day)
      .map((relation): Step => ({ do: 'set-relation', id: relation.id, path: 'to', value: day })),
  ]
}

/** Makes a position read as the typed line says. */
export function writeLineSteps(wish: Wish, id: Id, text: string): Step[] | Refusal {
  const { model, day, newId } = wish
  const post = structureOn(model, day).posts.get(id)
  if (!post) return { refused: 'This position is not in force on the day shown.' }
  const line = readLine(text)
  const tooLong = lengthRefusal(line)
  if (tooLong) return tooLong
  const steps: Step[] = []
  if (line.title !== post.position.name) steps.push({ do: 'set-entity', id, path: 'name', value: line.title })
  const held = post.holders.map(({ person }) => person.name).join(' & ')
  if (line.holder === undefined) {
    for (const { holds, person } of post.holders) {
      steps.push({ do: 'remove-relation', id: holds.id })
      const tied = model.leaving(person.id).length + model.reaching(person.id).length
      if (tied === 1 && Object.keys(person.fields).length === 0) steps.push({ do: 'remove-entity', id: person.id })
    }
  } else if (line.holder !== held) {
    const [only, second] = post.holders
    if (second)
      return { refused: `${post.holders.length} people hold this position. Change them in the register of people.` }
    if (only) steps.push({ do: 'set-entity', id: only.person.id, path: 'name', value: line.holder })
    else steps.push(...newHolder(newId, line.holder, id, line.acting))
  }
  const only = post.holders[0]
  if (only && line.holder !== undefined && line.acting !== (only.holds.fields['acting'] === true))
    steps.push({ do: 'set-relation', id: only.holds.id, path: 'fields.acting', value: line.acting ? true : null })
  return [...steps, ...assistSteps(wish, id, line.assistant)]
}

/** Turns a report into an assistant of the same position, or back. */
function assistSteps({ model, day, newId }: Wish, id: Id, assistant: boolean): Step[] {
  const post = structureOn(model, day).posts.get(id)
  if (!post || assistant === (post.assists !== undefined)) return []
  if (assistant) {
    if (!post.line) return []
    return [{ do: 'remove-relation', id: post.line.id }, tie(newId(), 'assists', id, post.line.target)]
  }
  if (!post.assistsBy) return []
  const steps: Step[] = [{ do: 'remove-relation', id: post.assistsBy.id }]
  const line = model.leaving(id, 'reports-to').find((one) => isSolid(one) && covers(one, day))
  return line ? steps : [...steps, tie(newId(), 'reports-to', id, post.assistsBy.target)]
}

export function lengthRefusal(line: TypedLine): Refusal | undefined {
  const longest = Math.max(line.title.length, line.holder?.length ?? 0)
  if (longest <= LIMITS.name) return undefined
  return {
    refused: `A name or title of ${longest.toLocaleString('en')} characters is not taken; ${LIMITS.name} is the most.`,
  }
}

export const changed = (label: string, steps: readonly Step[] | Refusal, more: Partial<Outcome> = {}): Outcome =>
  'refused' in steps ? steps : { change: { label, steps }, ...more }

/** A post’s words for a label: its holder, else its title. */
export function calledOn(model: Model, id: Id, day: Day): string {
  const post = structureOn(model, day).posts.get(id)
  const title = model.entities.get(id)?.name ?? id
  return post?.holders[0]?.person.name ?? (title === UNTITLED ? 'an untitled position' : title)
}
