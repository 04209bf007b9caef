import type { Id, Step } from '../../../model'
import {
  changed,
  clip,
  GONE,
  moved,
  readList,
  rewrite,
  setEntity,
  setField,
  writing,
  type Outcome,
  type Outline,
  type Wish,
} from '../../../notation'
import { putAfter, removeParts, Scribe, shownTo, siblingsOf, withinOf } from './edits'
import { interaction, SILENT } from './structure'
import { linesOf, told, type Told } from './telling'
import { readLine, typed, type Typed } from './words'

const toldIn = (wish: Wish): Told[] => {
  const shown = shownTo(wish)
  return shown ? told(wish.model, shown) : []
}

/** A sequence as text: one line a fact. */
export const sequenceOutline: Outline = {
  hint: 'Passenger asks Booking: book(2)',
  lines: linesOf,
  write: (wish, line, text) => {
    const before = toldIn(wish).find(({ id }) => id === line)
    if (!before) return GONE
    const read = readLine(text)
    return 'refused' in read ? read : writeLine(wish, before, read, text)
  },
  insert: insertLine,
  indent: (wish, line) => {
    const { one, above } = around(wish, line)
    if (!one) return GONE
    if (one.typed.is === 'lifeline') return { refused: 'A lifeline stands in no fragment.' }
    if (above?.typed.is !== 'operand') return { refused: 'There is no fragment above it that it could stand in.' }
    const home = shownTo(wish)?.id
    if (home === undefined) return GONE
    const inner = siblingsOf(wish.model, home, above.id)
    return changed('Put it into the fragment above', [
      setField(line, 'within', above.id),
      ...putAfter(inner, inner.at(-1)?.id, [line]),
    ])
  },
  outdent: (wish, line) => {
    const { one } = around(wish, line)
    const home = shownTo(wish)?.id
    const holder = one?.within === undefined ? undefined : wish.model.entities.get(one.within)
    if (!one || home === undefined) return GONE
    if (!holder) return { refused: 'It cannot stand further out.' }
    const outer = withinOf(holder)
    return changed('Take it out of its fragment', [
      setField(line, 'within', outer ?? null),
      ...putAfter(siblingsOf(wish.model, home, outer), holder.id, [line]),
    ])
  },
  move: (wish, line, by) => {
    const { one } = around(wish, line)
    const entity = wish.model.entities.get(line)
    const shown = shownTo(wish)
    if (!one || !entity || !shown) return GONE
    const list =
      one.typed.is === 'lifeline'
        ? shown.lifelines.map((each) => each.entity)
        : siblingsOf(wish.model, shown.id, one.within)
    return changed(`Move it ${by < 0 ? 'up' : 'down'}`, moved(list, entity, by))
  },
  remove: (wish, line) => changed('Remove a line', removeParts(wish.model, line)),
  paste: pasteLines,
}

/** A line, and the nearest one above it that stands as deep. */
function around(wish: Wish, line: Id): { one: Told | undefined; above: Told | undefined } {
  const lines = toldIn(wish)
  const at = lines.findIndex(({ id }) => id === line)
  const one = lines[at]
  const above = one && lines.slice(0, at).findLast(({ depth }) => depth <= one.depth)
  return { one, above: above?.depth === one?.depth ? above : undefined }
}

/** The change that makes a fact say what its line says. */
function writeLine(wish: Wish, before: Told, after: Typed, text: string): Outcome {
  const { id, typed: was } = before
  const entity = wish.model.entities.get(id)
  const home = shownTo(wish)
  if (!entity || !home) return GONE
  if (was.is !== after.is) {
    if (was.is === 'lifeline' || after.is === 'lifeline')
      return { refused: 'A lifeline is a line of its own, and so is what it says.' }
    const scribe = new Scribe(wish, home.id)
    const made = scribe.make(after, before.within)
    return changed(
      writing(text),
      [
        ...scribe.steps,
        ...putAfter(siblingsOf(wish.model, home.id, before.within), id, [made]),
        ...removeParts(wish.model, id),
      ],
      { select: made },
    )
  }
  const scribe = new Scribe(wish, home.id)
  const end = (field: 'from' | 'to', was: Typed['source'], is: Typed['source']): Step[] =>
    is && JSON.stringify(was) !== JSON.stringify(is) ? [setField(id, field, scribe.lifeline(is))] : []
  const ends = [...end('from', was.source, after.source), ...end('to', was.target, after.target)]
  const of =
    after.is === 'lifeline' && was.class !== after.class
      ? [setField(id, 'class', (scribe.classField(after)['class'] as string | undefined) ?? null)]
      : []
  return changed(writing(text), [
    ...scribe.steps,
    ...rewrite('entity', id, was, after),
    ...(after.name === entity.name ? [] : [setEntity(id, 'name', after.name)]),
    ...ends,
    ...of,
  ])
}

/** A new line after another one, on its level: what was said before goes on where nothing is typed yet. */
function insertLine(wish: Wish, line: Id | undefined, text: string): Outcome {
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const home = interaction.forWish(wish)
  const read: Typed | { refused: string } =
    text.trim() !== ''
      ? readLine(text)
      : above?.typed.is === 'call'
        ? typed('call', SILENT, {}, { source: above.typed.source, target: above.typed.target })
        : above?.typed.is === 'lifeline'
          ? typed('lifeline', 'Other', {})
          : typed('call', SILENT, {}, { source: { name: 'Somebody', nth: 1 }, target: { name: 'Something', nth: 1 } })
  if ('refused' in read) return read
  const scribe = new Scribe(wish, home.id)
  const within = above?.typed.is === 'operand' && read.is !== 'operand' ? above.id : above?.within
  const made = scribe.make(read, read.is === 'lifeline' ? undefined : within)
  const after = above?.typed.is === 'operand' && within === above.id ? undefined : above?.id
  const places =
    read.is === 'lifeline' || (above !== undefined && above.typed.is === 'lifeline')
      ? []
      : putAfter(
          siblingsOf(wish.model, home.id, within),
          after ?? (above ? undefined : siblingsOf(wish.model, home.id, within).at(-1)?.id),
          [made],
        )
  return changed('Add a line', [...home.steps, ...scribe.steps, ...places], { select: made })
}

/** Lines of a list, after a line; what any of them cannot be read as is said, and nothing is changed. O(lines + facts) */
function pasteLines(wish: Wish, line: Id | undefined, text: string): Outcome {
  const list = readList(text)
  if ('refused' in list) return list
  if (list.length === 0) return { refused: 'There is no line in what was pasted.' }
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const home = interaction.forWish(wish)
  const scribe = new Scribe(wish, home.id)
  const outer = above?.within
  const path: (Id | undefined)[] = []
  const top: Id[] = []
  let first: Id | undefined
  for (const [at, one] of list.entries()) {
    path.length = Math.min(path.length, one.depth)
    const read = readLine(one.text)
    if ('refused' in read)
      return { refused: `Line ${at + 1}, “${clip(one.raw)}”: ${read.refused} Nothing was changed.` }
    const holder = path.findLast((id) => id !== undefined) ?? outer
    const id = scribe.make(read, read.is === 'lifeline' ? undefined : holder)
    first ??= id
    if (holder === outer && read.is !== 'lifeline') top.push(id)
    path.push(read.is === 'operand' ? id : undefined)
  }
  const places =
    above && above.typed.is !== 'lifeline' ? putAfter(siblingsOf(wish.model, home.id, outer), above.id, top) : []
  return changed(
    `Paste ${list.length} ${list.length === 1 ? 'line' : 'lines'}`,
    [...home.steps, ...scribe.steps, ...places],
    {
      ...(first === undefined ? {} : { select: first }),
    },
  )
}
