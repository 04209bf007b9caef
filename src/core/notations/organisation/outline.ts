import type { Id, Step } from '../../model'
import { GONE, changed, writing, readList, type ListLine, type Outcome, type Outline, type Wish } from '../../notation'
import { reorder } from './actions'
import {
  calledOn,
  lengthRefusal,
  moveSteps,
  newPost,
  peersOf,
  ordersAmong,
  placeAmong,
  removeSteps,
  unitAbove,
  writeLineSteps,
} from './edits'
import { aboveOf, structureOn, walk } from './structure'
import { titled } from './titled'
import { countOf, lineOf, readLine } from './words'

export const outline: Outline = {
  hint: 'Name — Title',

  lines: (model, _view, day) => {
    const structure = structureOn(model, day)
    return walk(structure).flatMap(({ id, depth }) => {
      const post = structure.posts.get(id)
      return post ? { id, depth, text: lineOf(post) } : []
    })
  },

  write: (wish, line, text) => changed(writing(text), writeLineSteps(wish, line, readLine(text))),

  insert: (wish, line, text) => {
    const read = readLine(text)
    const refusal = lengthRefusal(read)
    if (refusal) return refusal
    const spot = spotAfter(wish, line)
    const place = placeAmong(wish.model, spot.peers, spot.index)
    const made = newPost(wish, read, spot.above, place.order, unitAbove(wish.model, spot.above))
    if ('refused' in made) return made
    return changed('Add a line', [...place.steps, ...made.steps], { select: made.id })
  },

  indent: (wish, line) => {
    const peers = peersOf(structureOn(wish.model, wish.day), line)
    const before = peers[peers.indexOf(line) - 1]
    if (!before) return { refused: 'There is no line above on this level that it could report to.' }
    return changed(`Put ${calledOn(wish.model, line, wish.day)} a level down`, moveSteps(wish, line, before))
  },

  outdent: (wish, line) => {
    const structure = structureOn(wish.model, wish.day)
    const above = aboveOf(structure.posts.get(line))
    if (above === undefined) return { refused: 'It is on the top level.' }
    const next = aboveOf(structure.posts.get(above))
    const peers = next === undefined ? structure.heads : (structure.posts.get(next)?.reports ?? [])
    return changed(
      `Put ${calledOn(wish.model, line, wish.day)} a level up`,
      moveSteps(wish, line, next, peers.indexOf(above) + 1),
    )
  },

  move: reorder,

  remove: (wish, line) => {
    const post = structureOn(wish.model, wish.day).posts.get(line)
    if (!post) return GONE
    const label = `Remove ${calledOn(wish.model, line, wish.day)}`
    return changed(label, removeSteps(wish, line))
  },

  paste: (wish, line, text) => {
    const lines = readList(text)
    if ('refused' in lines) return lines
    if (lines.length === 0) return { refused: 'There is no line with text in this paste.' }
    return pasted(wish, line, titled(lines))
  },
}

function pasted(wish: Wish, after: Id | undefined, lines: readonly ListLine[]): Outcome {
  const tops = lines.filter(({ depth }) => depth === 0).length
  const spot = spotAfter(wish, after)
  const { orders, steps } = ordersAmong(wish.model, spot.peers, spot.index, tops)
  const made: Step[] = [...steps]
  const path: { id: Id; reports: number }[] = []
  const people = new Map<string, Id>()
  let top = 0
  for (const { depth, text } of lines) {
    const read = readLine(text)
    const refusal = lengthRefusal(read)
    if (refusal) return { refused: `${refusal.refused} Nothing was changed.` }
    path.length = depth
    const parent = path[depth - 1]
    const order = parent ? ++parent.reports : (orders[top++] ?? 0)
    const post = newPost(wish, read, parent?.id ?? spot.above, order, undefined, people)
    if ('refused' in post) return { refused: `${post.refused} Nothing was changed.` }
    made.push(...post.steps)
    path.push({ id: post.id, reports: 0 })
  }
  const first = made.find((step) => step.do === 'add-entity')
  return changed(`Paste ${countOf(lines.length, 'line')}`, made, { ...(first ? { select: first.entity.id } : {}) })
}

/** Where something stands that comes right after a line, on its level; without a line, as the last head. */
function spotAfter(wish: Wish, line: Id | undefined) {
  const structure = structureOn(wish.model, wish.day)
  const post = line === undefined ? undefined : structure.posts.get(line)
  if (line === undefined || !post) return { above: undefined, peers: structure.heads, index: structure.heads.length }
  if (post.assists) return { above: post.assists, peers: structure.posts.get(post.assists)?.reports ?? [], index: 0 }
  const peers = peersOf(structure, line)
  return { above: post.manager, peers, index: peers.indexOf(line) + 1 }
}
