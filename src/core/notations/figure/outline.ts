import type { Id, Step } from '../../model'
import {
  addEntity,
  changed,
  differing,
  GONE,
  moved,
  placesAmong,
  readList,
  removal,
  setEntity,
  setField,
  writing,
  type Outcome,
  type Outline,
  type Wish,
} from '../../notation'
import { figures } from './kinds'
import { linesOn, peersOf, type Lines, type Part } from './structure'
import { lineOf, readLine, saidOf, SAID } from './words'

/** The lines of a figure as an indented text. */
export const outline: Outline = {
  hint: 'Decide  (strong)',

  lines: (model, view, day) =>
    linesOn(model, view, day).all.map(({ id, depth, entity }) => ({ id, depth, text: lineOf(saidOf(entity), '') })),

  write: ({ model, view, day }, line, text) => {
    const one = linesOn(model, view, day).byId.get(line)
    if (!one) return GONE
    const said = readLine(text)
    if ('refused' in said) return said
    const { name, fields } = one.entity
    return changed(writing(text), [
      ...(said.name === name ? [] : [setEntity(line, 'name', said.name)]),
      ...differing(saidOf(one.entity).fields, said.fields)
        .filter(([key]) => SAID.some((known) => known === key))
        .map(([key, value]) => setField(line, key, value)),
      ...(fields['unit'] !== undefined && said.fields['value'] === undefined ? [setField(line, 'unit', null)] : []),
    ])
  },

  insert: (wish, line, text) => pasted(wish, line, [{ depth: 0, text }], 'Add a line'),

  indent: ({ model, view, day }, line) => {
    const lines = linesOn(model, view, day)
    const one = lines.byId.get(line)
    if (!one) return GONE
    const peers = peersOf(lines, one)
    const before = peers[peers.indexOf(one) - 1]
    if (!before) return { refused: 'There is no line above on this level that it could stand under.' }
    return changed(`Put “${one.entity.name}” a level down`, placing(one, before, before.parts, before.parts.length))
  },

  outdent: ({ model, view, day }, line) => {
    const lines = linesOn(model, view, day)
    const one = lines.byId.get(line)
    if (!one) return GONE
    if (!one.above) return { refused: 'It is on the top level.' }
    const peers = peersOf(lines, one.above)
    return changed(
      `Put “${one.entity.name}” a level up`,
      placing(one, one.above.above, peers, peers.indexOf(one.above) + 1),
    )
  },

  move: ({ model, view, day }, line, by) => {
    const lines = linesOn(model, view, day)
    const one = lines.byId.get(line)
    if (!one) return GONE
    const peers = peersOf(lines, one).map(({ entity }) => entity)
    return changed(`Move “${one.entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(peers, one.entity, by))
  },

  remove: ({ model, view, day }, line) => {
    const lines = linesOn(model, view, day)
    const one = lines.byId.get(line)
    if (!one) return GONE
    // What stood under it takes its place.
    const peers = peersOf(lines, one).filter((peer) => peer !== one)
    const at = peersOf(lines, one).indexOf(one)
    const { orders, steps } = placesAmong(
      peers.map(({ entity }) => entity),
      at,
      one.parts.length,
    )
    return changed(`Remove “${one.entity.name}”`, [
      ...steps,
      ...one.parts.flatMap(({ id }, index) => [
        setField(id, 'under', one.above?.id ?? null),
        setField(id, 'order', orders[index] ?? 0),
      ]),
      ...removal(model, line),
    ])
  },

  paste: (wish, line, text) => {
    const list = readList(text)
    if ('refused' in list) return list
    if (list.length === 0) return { refused: 'There is no line with text in this paste.' }
    return pasted(
      wish,
      line,
      list,
      list.length === 1 ? 'Paste a line' : `Paste ${list.length.toLocaleString('en')} lines`,
    )
  },
}

/** Steps that put a part under another one, at an index among those there. */
export function placing(one: Part, above: Part | undefined, peers: readonly Part[], index: number): Step[] {
  const at = peers.indexOf(one)
  const others = peers.filter((peer) => peer !== one).map(({ entity }) => entity)
  const { orders, steps } = placesAmong(others, at >= 0 && at < index ? index - 1 : index, 1)
  return [
    ...steps,
    ...(one.above?.id === above?.id ? [] : [setField(one.id, 'under', above?.id ?? null)]),
    setField(one.id, 'order', orders[0] ?? 0),
  ]
}

/** New parts after a line, on its level; without a line as the last of all. */
export function pasted(
  wish: Wish,
  after: Id | undefined,
  list: readonly { readonly depth: number; readonly text: string }[],
  label: string,
): Outcome {
  const { id: figure, steps: begun } = figures.forWish(wish)
  const lines = linesOn(wish.model, wish.view, wish.day)
  const one = after === undefined ? undefined : lines.byId.get(after)
  const spot = spotAfter(lines, one)
  const tops = list.filter(({ depth }) => depth === 0).length
  const { orders, steps } = placesAmong(
    spot.peers.map(({ entity }) => entity),
    spot.index,
    tops,
  )
  const made: Step[] = []
  const path: { id: Id; count: number }[] = []
  let top = 0
  for (const { depth, text } of list) {
    const said = readLine(text)
    if ('refused' in said) return { refused: `${said.refused} Nothing was changed.` }
    path.length = depth
    const above = path[depth - 1]
    const under = above?.id ?? spot.above?.id
    const id = wish.newId()
    const order = above ? ++above.count : (orders[top++] ?? 0)
    made.push(
      addEntity({
        id,
        kind: 'part',
        name: said.name,
        fields: { figure, ...(under === undefined ? {} : { under }), order, ...said.fields },
      }),
    )
    path.push({ id, count: 0 })
  }
  const [first] = made
  return changed(label, [...begun, ...steps, ...made], {
    ...(first?.do === 'add-entity' ? { select: first.entity.id } : {}),
  })
}

/** Right after a line, on its level. */
function spotAfter(lines: Lines, one: Part | undefined) {
  if (!one) return { above: undefined, peers: lines.tops, index: lines.tops.length }
  const peers = peersOf(lines, one)
  return { above: one.above, peers, index: peers.indexOf(one) + 1 }
}
