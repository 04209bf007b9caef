import { addDays, covers, dayInWords, type Day, type Id, type Relation, type Step } from '../../model'
import {
  tenuresOf,
  tie,
  GONE,
  moved,
  changed,
  addRelation,
  removeRelation,
  setRelation,
  setView,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import { UNTITLED } from './kinds'
import { calledOn, endSteps, moveSteps, newPost, peersOf, placeAmong, removeSteps, unitAbove } from './edits'
import { foldedIn, foldKey } from './folds'
import { handOverAloneAsking, handOverAsking, handOverFrom, swap } from './handOver'
import { needsOne, needsSome, NOTHING, onePost, selectedPosts, type Selecting } from './selected'
import { aboveOf, isSolid, structureOn } from './structure'
import { countOf, titleOf, type TypedLine } from './words'

const NEW: TypedLine = { holders: [], title: UNTITLED, assistant: false }

function addBelow(wish: Wish, kind: 'report' | 'assistant'): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  const peers = kind === 'report' ? post.reports : post.assistants
  const place = placeAmong(wish.model, peers, peers.length)
  const above = post.position.id
  const line = { ...NEW, assistant: kind === 'assistant' }
  const made = newPost(wish, line, above, place.order, unitAbove(wish.model, above))
  if ('refused' in made) return made
  const label = `Add ${kind === 'report' ? 'a report' : 'an assistant'} to ${calledOn(wish.model, post.position.id, wish.day)}`
  return changed(label, [...place.steps, ...made.steps], { select: made.id, edit: 'holder' })
}

function addPeer(wish: Wish): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  const { id } = post.position
  const peers = peersOf(structureOn(wish.model, wish.day), id)
  const place = placeAmong(wish.model, peers, peers.indexOf(id) + 1)
  const line = { ...NEW, assistant: post.assists !== undefined }
  const made = newPost(wish, line, aboveOf(post), place.order, unitAbove(wish.model, aboveOf(post)))
  if ('refused' in made) return made
  const label = `Add a peer of ${calledOn(wish.model, id, wish.day)}`
  return changed(label, [...place.steps, ...made.steps], { select: made.id, edit: 'holder' })
}

/** A person begins in the position on the day shown; who held it so far ends the day before. */
function appoint(wish: Wish): Outcome {
  const { model, day, target, newId } = wish
  const post = onePost(wish)
  const person = target === undefined ? undefined : model.entities.get(target)
  if (!post || !person) return NOTHING
  const { id, name } = post.position
  if (post.holders.some((holder) => holder.person.id === person.id))
    return { refused: `${person.name} holds “${name}” already.` }
  const steps: Step[] = post.holders.map(({ holds }) => endOfTenure(holds, day))
  steps.push(addRelation({ id: newId(), kind: 'holds', source: person.id, target: id, fields: {}, from: day }))
  const others = tenuresOf(model, person.id).filter((held) => covers(held, day))
  const facts = [
    ...post.holders.map((holder) => `${holder.person.name} holds “${name}” to ${dayInWords(addDays(day, -1))}.`),
    ...others.map((held) => `${person.name} goes on holding “${titleOf(model, held.target, day)}” besides.`),
  ]
  const label = `Appoint ${person.name} to “${name}” from ${dayInWords(day)}`
  return changed(label, steps, { ...(facts.length > 0 ? { spreads: facts } : {}) })
}

/** A tenure that began on the day itself never was. */
const endOfTenure = (holds: Relation, day: Day): Step =>
  holds.from === day ? removeRelation(holds.id) : setRelation(holds.id, 'to', addDays(day, -1))

/** Folds a branch away in this view, with its count, or opens it again. */
function fold(wish: Wish): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  const { id } = post.position
  const folded = foldedIn(wish.view).has(id)
  const called = calledOn(wish.model, id, wish.day)
  return changed(folded ? `Unfold the branch of ${called}` : `Fold the branch of ${called}`, [
    setView(wish.view.id, `scope.${foldKey(id)}`, folded ? null : true),
  ])
}

const foldable = (wish: Selecting): boolean => {
  const post = onePost(wish)
  return post !== undefined && post.reports.length + post.assistants.length > 0
}

function addDotted(wish: Wish): Outcome {
  const { model, day, target, newId } = wish
  const post = onePost(wish)
  if (!post || target === undefined) return NOTHING
  const { id } = post.position
  if (id === target) return { refused: 'A position cannot report to itself.' }
  const lines = model.leaving(id, 'reports-to').filter((line) => line.target === target)
  if (lines.length > 0) return { refused: `There is a line to “${titleOf(model, target, day)}” already.` }
  const label = `Draw a dotted line from ${calledOn(model, id, day)} to ${calledOn(model, target, day)}`
  return changed(label, [tie(newId(), 'reports-to', id, target, { line: 'dotted' })])
}

function endOn(wish: Wish): Outcome {
  const { model, day } = wish
  const posts = selectedPosts(wish)
  const first = posts[0]
  if (!first) return NOTHING
  const steps = posts.flatMap(({ position }) => endSteps(model, position.id, day))
  const left = posts.flatMap((post) => post.reports).filter((id) => !posts.some((post) => post.position.id === id))
  const who = posts.length === 1 ? `“${first.position.name}”` : `${posts.length} positions`
  return changed(`End ${who} on ${dayInWords(day)}`, steps, {
    ...(left.length > 0
      ? { spreads: left.map((id) => `“${titleOf(model, id, day)}” has no manager after ${dayInWords(day)}.`) }
      : {}),
  })
}

function remove(wish: Wish): Outcome {
  const { model, day } = wish
  const posts = selectedPosts(wish)
  const first = posts[0]
  if (!first) return NOTHING
  if (posts.length > 1)
    return { refused: 'Remove positions one at a time, so that it is clear where their reports go.' }
  const { id, name } = first.position
  const above = aboveOf(first)
  const where = above === undefined ? 'has no manager any more' : `reports to “${titleOf(model, above, day)}”`
  const lifted = [...first.reports, ...first.assistants].map((report) => `“${titleOf(model, report, day)}” ${where}.`)
  return changed(`Remove “${name}”`, removeSteps(wish, id), {
    ...(above === undefined ? {} : { select: above }),
    ...(lifted.length > 0 ? { spreads: [`“${name}” is removed, with all its dates.`, ...lifted] } : {}),
  })
}

function vacate(wish: Wish): Outcome {
  const { model, day } = wish
  const post = onePost(wish)
  if (!post) return NOTHING
  if (post.holders.length === 0) return { refused: 'Nobody holds this position on the day shown.' }
  const steps = post.holders.map(({ holds }): Step => setRelation(holds.id, 'to', day))
  return changed(
    `${calledOn(model, post.position.id, day)} leaves “${post.position.name}” on ${dayInWords(day)}`,
    steps,
  )
}

export function reorder({ model, day }: Wish, id: Id, by: -1 | 1): Outcome {
  const peers = peersOf(structureOn(model, day), id).flatMap((peer) => model.entities.get(peer) ?? [])
  const one = model.entities.get(id)
  return one
    ? changed(`Move ${calledOn(model, id, day)} ${by < 0 ? 'up' : 'down'} among its peers`, moved(peers, one, by))
    : GONE
}

const shift =
  (by: -1 | 1) =>
  (wish: Wish): Outcome => {
    const post = onePost(wish)
    return post ? reorder(wish, post.position.id, by) : NOTHING
  }

const solidAbove = (wish: Selecting): boolean => onePost(wish)?.line !== undefined

function makeHead(wish: Wish): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  return changed(`Make “${post.position.name}” a head`, moveSteps(wish, post.position.id, undefined))
}

function removeDotted(wish: Wish): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  const dotted = wish.model.leaving(post.position.id, 'reports-to').filter((line) => !isSolid(line))
  const steps = dotted.map((line): Step => removeRelation(line.id))
  const label = `Remove ${countOf(dotted.length, 'dotted line')} of ${calledOn(wish.model, post.position.id, wish.day)}`
  return changed(label, steps)
}

const hasDotted = (wish: Selecting): boolean => {
  const post = onePost(wish)
  return post !== undefined && wish.model.leaving(post.position.id, 'reports-to').some((line) => !isSolid(line))
}

export const actions: readonly Action[] = [
  { id: 'report', label: 'Report', key: 'n', verb: true, applies: needsOne, run: (wish) => addBelow(wish, 'report') },
  { id: 'peer', label: 'Peer', key: 'p', verb: true, applies: needsOne, run: addPeer },
  {
    id: 'assistant',
    label: 'Assistant',
    key: 'a',
    verb: true,
    applies: needsOne,
    run: (wish) => addBelow(wish, 'assistant'),
  },
  {
    id: 'hand-over',
    label: 'Hand over',
    key: 'h',
    verb: true,
    picks: { kinds: ['position'], prompt: 'Hand over to which position?' },
    applies: needsSome,
    run: handOverAsking,
  },
  { id: 'fold', label: 'Fold', key: 'c', verb: true, applies: foldable, run: fold },
  {
    id: 'hand-over-alone',
    label: 'Hand over alone, without its reports',
    picks: { kinds: ['position'], prompt: 'Hand over to which position, leaving its reports behind?' },
    applies: foldable,
    run: handOverAloneAsking,
  },
  {
    id: 'appoint',
    label: 'Appoint from the day shown…',
    key: 'i',
    picks: { kinds: ['person'], prompt: 'Appoint whom?' },
    applies: needsOne,
    run: appoint,
  },
  {
    id: 'hand-over-from',
    label: 'Hand over from the day shown',
    picks: { kinds: ['position'], prompt: 'Hand over, from the day shown on, to which position?' },
    applies: solidAbove,
    run: handOverFrom,
  },
  {
    id: 'dotted',
    label: 'Dotted line to…',
    key: 'l',
    picks: { kinds: ['position'], prompt: 'Dotted line to which position?' },
    applies: needsOne,
    run: addDotted,
  },
  {
    id: 'swap',
    label: 'Swap people with…',
    key: 's',
    picks: { kinds: ['position'], prompt: 'Swap people with which position?' },
    applies: needsOne,
    run: swap,
  },
  { id: 'undotted', label: 'Remove dotted lines', applies: hasDotted, run: removeDotted },
  { id: 'head', label: 'Make it a head', applies: solidAbove, run: makeHead },
  { id: 'up', label: 'Earlier among its peers', key: 'Alt+ArrowUp', applies: needsOne, run: shift(-1) },
  { id: 'down', label: 'Later among its peers', key: 'Alt+ArrowDown', applies: needsOne, run: shift(1) },
  { id: 'vacate', label: 'Holder leaves on the day shown', applies: needsOne, run: vacate },
  { id: 'end', label: 'End on the day shown', key: 'e', applies: needsSome, run: endOn },
  { id: 'remove', label: 'Remove', key: 'Delete', applies: needsSome, run: remove },
]
