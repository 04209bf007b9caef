import { addDays, dayInWords, type Id, type Step } from '../../model'
import type { Action, Outcome, Wish } from '../../notation'
import { UNTITLED } from './kinds'
import { calledOn, changed, endSteps, moveSteps, newPost, peersOf, placeAmong, removeSteps, unitAbove } from './edits'
import { aboveOf, isSolid, structureOn, type Post } from './structure'
import { countOf, titleOf, type TypedLine } from './words'

const NEW: TypedLine = { holder: undefined, title: UNTITLED, assistant: false, acting: false }

type Selecting = Pick<Wish, 'model' | 'day' | 'selection'>

/** The posts of the selection: a selected person stands for the position held. */
function selectedPosts({ model, day, selection }: Selecting): Post[] {
  const { posts } = structureOn(model, day)
  return selection.flatMap((id) => {
    const post = posts.get(id)
    if (post) return [post]
    return model.leaving(id, 'holds').flatMap(({ target }) => posts.get(target) ?? [])
  })
}

const onePost = (wish: Selecting): Post | undefined => {
  const posts = selectedPosts(wish)
  return posts.length === 1 ? posts[0] : undefined
}

const needsOne = (wish: Selecting): boolean => onePost(wish) !== undefined
const needsSome = (wish: Selecting): boolean => selectedPosts(wish).length > 0
const NOTHING = { refused: 'Select a position first.' }

function addBelow(wish: Wish, kind: 'report' | 'assistant'): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  const peers = kind === 'report' ? post.reports : post.assistants
  const place = placeAmong(wish.model, peers, peers.length)
  const above = post.position.id
  const line = { ...NEW, assistant: kind === 'assistant' }
  const made = newPost(wish.newId, line, above, place.order, unitAbove(wish.model, above))
  const label = `Add ${kind === 'report' ? 'a report' : 'an assistant'} to ${calledOn(wish.model, post.position.id, wish.day)}`
  return { change: { label, steps: [...place.steps, ...made.steps] }, select: made.id, edit: 'holder' }
}

function addPeer(wish: Wish): Outcome {
  const post = onePost(wish)
  if (!post) return NOTHING
  const { id } = post.position
  const peers = peersOf(structureOn(wish.model, wish.day), id)
  const place = placeAmong(wish.model, peers, peers.indexOf(id) + 1)
  const line = { ...NEW, assistant: post.assists !== undefined }
  const made = newPost(wish.newId, line, aboveOf(post), place.order, unitAbove(wish.model, aboveOf(post)))
  const label = `Add a peer of ${calledOn(wish.model, id, wish.day)}`
  return { change: { label, steps: [...place.steps, ...made.steps] }, select: made.id, edit: 'holder' }
}

/** All selected posts, with their reports, go under the target. */
export function handOver(wish: Wish): Outcome {
  const { model, day, target } = wish
  const posts = selectedPosts(wish)
  const first = posts[0]
  if (!first) return NOTHING
  if (target === undefined) return { refused: 'Say to whom.' }
  const steps: Step[] = []
  for (const post of posts) {
    if (post.line?.target === target && !post.assists && posts.length === 1)
      return {
        refused: `${calledOn(model, post.position.id, day)} reports to “${titleOf(model, target, day)}” already.`,
      }
    const moved = moveSteps(wish, post.position.id, target)
    if ('refused' in moved) return moved
    steps.push(...moved)
  }
  const who = posts.length === 1 ? calledOn(model, first.position.id, day) : `${posts.length} positions`
  return { change: { label: `Hand ${who} over to ${calledOn(model, target, day)}`, steps } }
}

/** The same, but only from the day shown on: the line so far ends the day before. */
function handOverFrom(wish: Wish): Outcome {
  const { model, day, target, newId } = wish
  const post = onePost(wish)
  if (!post || target === undefined) return NOTHING
  const { id } = post.position
  const moved = moveSteps(wish, id, target)
  if ('refused' in moved) return moved
  if (!post.line) return { refused: 'There is no line on the day shown that could end.' }
  if (post.line.target === target) return { refused: `It reports to “${titleOf(model, target, day)}” already.` }
  const { line } = post
  const steps: Step[] = [
    { do: 'set-relation', id: line.id, path: 'to', value: addDays(day, -1) },
    {
      do: 'add-relation',
      relation: { ...line, id: newId(), target, from: day, ...(line.to ? { to: line.to } : {}) },
    },
  ]
  return {
    change: {
      label: `Hand ${calledOn(model, id, day)} over to ${calledOn(model, target, day)} from ${dayInWords(day)}`,
      steps,
    },
  }
}

/** The holders of two positions change places. */
function swap(wish: Wish): Outcome {
  const { model, day, target } = wish
  const [a, b] = [onePost(wish), target === undefined ? undefined : structureOn(model, day).posts.get(target)]
  if (!a || !b || target === undefined) return NOTHING
  if (a.position.id === target) return { refused: 'A position cannot be swapped with itself.' }
  if (a.holders.length + b.holders.length === 0) return { refused: 'Nobody holds either of the two on the day shown.' }
  const moved = (post: Post, to: Id) =>
    post.holders.map(({ holds }): Step => ({ do: 'set-relation', id: holds.id, path: 'target', value: to }))
  const label = `Swap ${calledOn(model, a.position.id, day)} and ${calledOn(model, target, day)}`
  return { change: { label, steps: [...moved(a, target), ...moved(b, a.position.id)] } }
}

function addDotted(wish: Wish): Outcome {
  const { model, day, target, newId } = wish
  const post = onePost(wish)
  if (!post || target === undefined) return NOTHING
  const { id } = post.position
  if (id === target) return { refused: 'A position cannot report to itself.' }
  const lines = model.leaving(id, 'reports-to').filter((line) => line.target === target)
  if (lines.length > 0) return { refused: `There is a line to “${titleOf(model, target, day)}” already.` }
  const line = { id: newId(), kind: 'reports-to', source: id, target, fields: { line: 'dotted' } }
  const label = `Draw a dotted line from ${calledOn(model, id, day)} to ${calledOn(model, target, day)}`
  return { change: { label, steps: [{ do: 'add-relation', relation: line }] } }
}

function endOn(wish: Wish): Outcome {
  const { model, day } = wish
  const posts = selectedPosts(wish)
  const first = posts[0]
  if (!first) return NOTHING
  const steps = posts.flatMap(({ position }) => endSteps(model, position.id, day))
  const left = posts.flatMap((post) => post.reports).filter((id) => !posts.some((post) => post.position.id === id))
  const who = posts.length === 1 ? `“${first.position.name}”` : `${posts.length} positions`
  return {
    change: { label: `End ${who} on ${dayInWords(day)}`, steps },
    ...(left.length > 0
      ? { spreads: left.map((id) => `“${titleOf(model, id, day)}” has no manager after ${dayInWords(day)}.`) }
      : {}),
  }
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
  return {
    change: { label: `Remove “${name}”`, steps: removeSteps(wish, id) },
    ...(above === undefined ? {} : { select: above }),
    ...(lifted.length > 0 ? { spreads: [`“${name}” is removed, with all its dates.`, ...lifted] } : {}),
  }
}

function vacate(wish: Wish): Outcome {
  const { model, day } = wish
  const post = onePost(wish)
  if (!post) return NOTHING
  if (post.holders.length === 0) return { refused: 'Nobody holds this position on the day shown.' }
  const steps = post.holders.map(({ holds }): Step => ({ do: 'set-relation', id: holds.id, path: 'to', value: day }))
  return {
    change: {
      label: `${calledOn(model, post.position.id, day)} leaves “${post.position.name}” on ${dayInWords(day)}`,
      steps,
    },
  }
}

export function reorder(wish: Wish, id: Id, by: -1 | 1): Outcome {
  const { model, day } = wish
  const peers = peersOf(structureOn(model, day), id)
  const index = peers.indexOf(id) + by
  if (index < 0 || index >= peers.length)
    return { refused: by < 0 ? 'It is the first of its peers.' : 'It is the last of its peers.' }
  const place = placeAmong(
    model,
    peers.filter((peer) => peer !== id),
    index,
  )
  const steps: Step[] = [...place.steps, { do: 'set-entity', id, path: 'fields.order', value: place.order }]
  return changed(`Move ${calledOn(model, id, day)} ${by < 0 ? 'up' : 'down'} among its peers`, steps)
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
  const steps = dotted.map((line): Step => ({ do: 'remove-relation', id: line.id }))
  const label = `Remove ${countOf(dotted.length, 'dotted line')} of ${calledOn(wish.model, post.position.id, wish.day)}`
  return { change: { label, steps } }
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
    run: handOver,
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
