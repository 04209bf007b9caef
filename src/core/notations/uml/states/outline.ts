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
import { rightAfter } from '../typed'
import { holderOf, removeStates, Scribe, shownTo } from './edits'
import { machine } from './structure'
import { linesOf, told, type Told } from './telling'
import { readLine, type Typed, type Within } from './words'

export const NEW_STATE = 'New state'

const toldIn = (wish: Wish): Told[] => {
  const shown = shownTo(wish)
  return shown ? told(shown) : []
}

/** A state machine as text: one line a fact. */
export const stateOutline: Outline = {
  hint: 'Draft',
  lines: linesOf,
  write: (wish, line, text) => {
    const before = toldIn(wish).find(({ id }) => id === line)
    if (!before) return GONE
    const read = readLine(text, before.within)
    return 'refused' in read ? read : writeLine(wish, before, read, text)
  },
  insert: insertLine,
  indent: (wish, line) => {
    const { one, above } = around(wish, line)
    if (!one) return GONE
    if (one.typed.is === 'transition') return { refused: 'It stands beneath the state that it leaves already.' }
    if (!above) return { refused: 'There is nothing above it that it could stand in.' }
    if (above.typed.fields['form'] !== undefined)
      return { refused: `Nothing stands in a ${String(above.typed.fields['form'])}.` }
    if (one.typed.is === 'region' && above.typed.is === 'region') return { refused: 'A region stands in a state.' }
    return changed(`Put “${one.typed.name}” into “${above.typed.name}”`, [setField(line, 'within', above.id)])
  },
  outdent: (wish, line) => {
    const { one } = around(wish, line)
    const entity = wish.model.entities.get(line)
    if (!one) return GONE
    if (!entity) return { refused: 'It stands beneath the state that it leaves.' }
    const holder = holderOf(entity)
    const outer = holder === undefined ? undefined : wish.model.entities.get(holder)
    if (!outer) return { refused: 'It cannot stand further out.' }
    const level = toldIn(wish).find(({ id }) => id === outer.id)
    return changed(`Take “${entity.name}” out of “${outer.name}”`, [
      setField(line, 'within', holderOf(outer) ?? null),
      ...(level ? placedAfter(siblingsOf(wish, level), outer.id, line) : []),
    ])
  },
  move: (wish, line, by) => {
    const { one } = around(wish, line)
    const entity = wish.model.entities.get(line)
    if (!one || !entity) return { refused: 'What leads away follows the order in which it was stated.' }
    return changed(`Move “${entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(siblingsOf(wish, one), entity, by))
  },
  remove: (wish, line) => {
    const { one } = around(wish, line)
    if (!one) return GONE
    return changed(
      'Remove a line',
      one.typed.is === 'transition' ? [removeRelation(line)] : removeStates(wish.model, line),
    )
  },
  paste: pasteLines,
}

/** A line, and the nearest one above it that stands no deeper and states no transition. */
function around(wish: Wish, line: Id): { one: Told | undefined; above: Told | undefined } {
  const lines = toldIn(wish)
  const at = lines.findIndex(({ id }) => id === line)
  const one = lines[at]
  const above =
    one && lines.slice(0, at).findLast(({ depth, typed }) => depth <= one.depth && typed.is !== 'transition')
  return { one, above: above?.depth === one?.depth ? above : undefined }
}

function siblingsOf(wish: Wish, { id, typed: { is } }: Told): readonly Entity[] {
  const entity = wish.model.entities.get(id)
  if (!entity) return []
  const holder = holderOf(entity)
  return toldIn(wish).flatMap((line) => {
    const other = line.typed.is === is ? wish.model.entities.get(line.id) : undefined
    return other && holderOf(other) === holder ? [other] : []
  })
}

/** The change that makes a fact say what its line says. */
function writeLine(wish: Wish, before: Told, after: Typed, text: string): Outcome {
  const { model } = wish
  const { id, typed: was, owner } = before
  const home = shownTo(wish)
  if (was.is !== after.is || !home)
    return { refused: `This line states a ${was.is}; a ${after.is} is a line of its own.` }
  const relation = model.relations.get(id)
  if (relation && owner) {
    const scribe = new Scribe(wish, home.id)
    const isSame = after.target && JSON.stringify(after.target) === JSON.stringify(was.target)
    const target = isSame ? relation.target : after.target ? scribe.target(after.target, owner.id) : owner.id
    return changed(writing(text), [
      ...scribe.steps,
      ...rewrite('relation', id, was, after),
      ...(target === relation.target ? [] : [setRelation(id, 'target', target)]),
    ])
  }
  const entity = model.entities.get(id)
  if (!entity) return GONE
  return changed(writing(text), [
    ...rewrite('entity', id, was, after),
    ...(after.name === entity.name ? [] : [setEntity(id, 'name', after.name)]),
  ])
}

/** A new line after another one, on its level. */
function insertLine(wish: Wish, line: Id | undefined, text: string): Outcome {
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const home = machine.forWish(wish)
  const scribe = new Scribe(wish, home.id)
  const leading = above?.typed.is === 'transition' ? above : undefined
  const isBlank = text.trim() === ''
  const read: Typed | { refused: string } = !isBlank
    ? readLine(text, above?.within ?? 'elsewhere')
    : leading
      ? { ...leading.typed, fields: { ...leading.typed.fields, trigger: 'event' } }
      : { is: 'state', name: NEW_STATE, fields: {} }
  if ('refused' in read) return read
  if (read.is === 'transition') {
    const source = above?.owner?.id
    if (source === undefined) return { refused: 'What leads away from a state stands beneath it.' }
    const made = scribe.lead(read, source)
    return changed('Add a line', [...home.steps, ...scribe.steps], { select: made })
  }
  const entity = above && wish.model.entities.get(above.id)
  const holder = leading ? leading.owner?.id : entity && holderOf(entity)
  const made = scribe.make(read, holder)
  const steps = [...home.steps, ...scribe.steps]
  const siblings = above && above.typed.is === read.is ? siblingsOf(wish, above) : []
  return changed('Add a line', [...steps, ...rightAfter(siblings, above?.id, made)], { select: made })
}

/** Lines of a list, after a line; what any of them cannot be read as is said, and nothing is changed. O(lines + facts) */
function pasteLines(wish: Wish, line: Id | undefined, text: string): Outcome {
  const list = readList(text)
  if ('refused' in list) return list
  if (list.length === 0) return { refused: 'There is no line in what was pasted.' }
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const home = machine.forWish(wish)
  const scribe = new Scribe(wish, home.id)
  const entity = above && wish.model.entities.get(above.id)
  const outer = above?.typed.is === 'transition' ? above.owner?.id : entity && holderOf(entity)
  const path: { readonly is: Typed['is']; readonly id: Id | undefined }[] = []
  const leads: { readonly typed: Typed; readonly source: Id }[] = []
  let first: Id | undefined
  for (const [at, one] of list.entries()) {
    path.length = Math.min(path.length, one.depth)
    const holder = path.findLast(({ is }) => is !== 'transition')
    const beneath = above?.typed.is === 'transition' ? above.owner?.id : undefined
    const within: Within = (holder ? holder.is === 'state' : beneath !== undefined) ? 'state' : 'elsewhere'
    // An arrow at the front says where a state leads: here it is no sign of a list.
    const read = readLine(one.raw.startsWith('→') ? one.raw : one.text, within)
    if ('refused' in read)
      return { refused: `Line ${at + 1}, “${clip(one.raw)}”: ${read.refused} Nothing was changed.` }
    if (read.is === 'transition') {
      const source = holder?.id ?? beneath
      if (source !== undefined) leads.push({ typed: read, source })
      path.push({ is: 'transition', id: undefined })
      continue
    }
    const id = scribe.make(read, holder?.id ?? outer)
    first ??= id
    path.push({ is: read.is, id })
  }
  for (const { typed, source } of leads) scribe.lead(typed, source)
  return changed(`Paste ${list.length} ${list.length === 1 ? 'line' : 'lines'}`, [...home.steps, ...scribe.steps], {
    ...(first === undefined ? {} : { select: first }),
  })
}
