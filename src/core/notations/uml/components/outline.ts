import type { Entity, Id } from '../../../model'
import {
  changed,
  clip,
  GONE,
  moved,
  placedAfter,
  readList,
  removeRelation,
  rewrite,
  setEntity,
  setField,
  setRelation,
  writing,
  type Outcome,
  type Outline,
  type Wish,
} from '../../../notation'
import { removeParts, resolved, Scribe } from './edits'
import { rightAfter } from '../typed'
import { linesOf, told, type Told } from './telling'
import { readLine, typed, type Typed, type Within } from './words'

const toldIn = ({ model, day }: Wish): Told[] => told(model, day)
const isTie = (one: Typed): boolean => one.target !== undefined

/** Components and nodes as text: one line a fact. */
export const componentOutline: Outline = {
  hint: 'Booking  (component)',
  lines: linesOf,
  write: (wish, line, text) => {
    const before = toldIn(wish).find(({ id }) => id === line)
    if (!before) return GONE
    const read = readLine(text, before.within)
    return 'refused' in read ? read : writeLine(wish, before, read, text)
  },
  insert: insertLine,
  indent: (wish, line) => {
    const lines = toldIn(wish)
    const at = lines.findIndex(({ id }) => id === line)
    const one = lines[at]
    if (!one) return GONE
    const above = lines
      .slice(0, at)
      .findLast(({ depth, typed: { is } }) => depth === one.depth && is === 'deployment-node')
    return one.typed.is === 'deployment-node' && above
      ? changed(`Put “${one.typed.name}” into “${above.typed.name}”`, [setField(line, 'within', above.id)])
      : { refused: 'Only a node stands in another one.' }
  },
  outdent: (wish, line) => {
    const lines = toldIn(wish)
    const one = lines.find(({ id }) => id === line)
    const level = lines.find(({ id }) => id === one?.holder)
    if (!one) return GONE
    return one.typed.is === 'deployment-node' && level
      ? changed(`Take “${one.typed.name}” out of “${level.typed.name}”`, [
          setField(line, 'within', level.holder ?? null),
          ...placedAfter(siblingsIn(wish, level), level.id, line),
        ])
      : { refused: 'It cannot stand further out.' }
  },
  move: (wish, line, by) => {
    const lines = toldIn(wish)
    const one = lines.find(({ id }) => id === line)
    const entity = wish.model.entities.get(line)
    if (!one || !entity) return { refused: 'Ties follow the order in which they were stated.' }
    return changed(`Move “${entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(siblingsIn(wish, one), entity, by))
  },
  remove: (wish, line) =>
    changed('Remove a line', wish.model.relations.has(line) ? [removeRelation(line)] : removeParts(wish.model, line)),
  paste: pasteLines,
}

const siblingsIn = (wish: Wish, one: Told): readonly Entity[] =>
  toldIn(wish).flatMap((other) => {
    const found =
      other.typed.is === one.typed.is && other.holder === one.holder ? wish.model.entities.get(other.id) : undefined
    return found ? [found] : []
  })

/** The change that makes a fact say what its line says. */
function writeLine(wish: Wish, before: Told, after: Typed, text: string): Outcome {
  const { model } = wish
  const { id, typed: was, holder } = before
  const scribe = new Scribe(wish)
  if (was.is !== after.is) {
    if (!isTie(was) || !isTie(after) || holder === undefined)
      return { refused: 'This line states something else; what is new is a line of its own.' }
    const made = scribe.tie(after, holder)
    return changed(writing(text), [removeRelation(id), ...scribe.steps], made === undefined ? {} : { select: made })
  }
  const relation = model.relations.get(id)
  if (relation && after.target) {
    const isSame = JSON.stringify(was.target) === JSON.stringify(after.target)
    const ends = isSame ? [] : [setRelation(id, 'target', scribe.target(after.is, after.target))]
    return changed(writing(text), [...scribe.steps, ...rewrite('relation', id, was, after), ...ends])
  }
  const entity = model.entities.get(id)
  if (!entity) return GONE
  const asKept = (one: Typed) => ({ ...one, fields: resolved(model, one.fields) })
  return changed(writing(text), [
    ...rewrite('entity', id, asKept(was), asKept(after)),
    ...(after.name === entity.name ? [] : [setEntity(id, 'name', after.name)]),
  ])
}

/** A new line after another one, on its level. */
function insertLine(wish: Wish, line: Id | undefined, text: string): Outcome {
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const within: Within = above?.within ?? 'elsewhere'
  const read: Typed | { refused: string } =
    text.trim() !== ''
      ? readLine(text, within)
      : above && isTie(above.typed)
        ? {
            ...above.typed,
            target: {
              name: above.typed.is === 'provides' || above.typed.is === 'requires' ? 'NewInterface' : 'New component',
              nth: 1,
            },
          }
        : typed(
            above?.typed.is ?? 'component',
            above?.typed.is === 'deployment-node'
              ? 'New node'
              : above?.typed.is === 'component-port'
                ? 'port'
                : 'New component',
            {},
          )
  if ('refused' in read) return read
  const scribe = new Scribe(wish)
  const made = isTie(read)
    ? above?.holder === undefined
      ? undefined
      : scribe.tie(read, above.holder)
    : scribe.make(read, above?.holder)
  const steps = [...scribe.steps]
  const siblings = above && above.typed.is === read.is && !isTie(read) ? siblingsIn(wish, above) : []
  return changed(
    'Add a line',
    [...steps, ...rightAfter(siblings, above?.id, made)],
    made === undefined ? {} : { select: made },
  )
}

/** Lines of a list, after a line; what any of them cannot be read as is said, and nothing is changed. O(lines + facts) */
function pasteLines(wish: Wish, line: Id | undefined, text: string): Outcome {
  const list = readList(text)
  if ('refused' in list) return list
  if (list.length === 0) return { refused: 'There is no line in what was pasted.' }
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const scribe = new Scribe(wish)
  const path: { readonly is: Typed['is']; readonly id: Id | undefined }[] = []
  const ties: { readonly typed: Typed; readonly holder: Id }[] = []
  let first: Id | undefined
  for (const [at, one] of list.entries()) {
    path.length = Math.min(path.length, one.depth)
    const holder = path.findLast(({ id }) => id !== undefined)
    const within: Within = holder === undefined ? (above?.within ?? 'elsewhere') : (holder.is as Within)
    const read = readLine(one.text, within)
    if ('refused' in read)
      return { refused: `Line ${at + 1}, “${clip(one.raw)}”: ${read.refused} Nothing was changed.` }
    const home = holder?.id ?? above?.holder
    if (isTie(read)) {
      if (home !== undefined) ties.push({ typed: read, holder: home })
      path.push({ is: read.is, id: undefined })
      continue
    }
    const id = scribe.make(read, home)
    first ??= id
    path.push({ is: read.is, id })
  }
  for (const { typed: one, holder } of ties) scribe.tie(one, holder)
  return changed(`Paste ${list.length} ${list.length === 1 ? 'line' : 'lines'}`, scribe.steps, {
    ...(first === undefined ? {} : { select: first }),
  })
}
