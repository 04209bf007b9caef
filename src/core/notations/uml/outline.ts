import type { Entity, Id, Step } from '../../model'
import {
  addEntity,
  changed,
  clip,
  GONE,
  moved,
  placedAfter,
  placesAmong,
  readList,
  removal,
  removeRelation,
  rewrite,
  setField,
  setRelation,
  writing,
  type Outcome,
  type Outline,
  type Refusal,
  type Wish,
} from '../../notation'
import { homeFor, membersOf, modelIn, removeClasses, removePackage, resolved, Scribe, type Place } from './edits'
import { renaming } from './renaming'
import { shownIn } from './structure'
import { linesOf, told, type Told } from './telling'
import { rightAfter } from './typed'
import { MEMBERS, readLine, TIES, isSigned, type Typed, type Within } from './words'

export const NEW_CLASS = 'NewClass'
const NEW_MEMBER = 'newMember'

const toldIn = (wish: Wish): Told[] => told(wish.model, modelIn(wish), shownIn(wish.model, wish.view, wish.day))

/** A class model as text: one line a fact. */
export const outline: Outline = {
  hint: 'Ticket  (abstract)',
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
    if (one.typed.is !== 'class' && one.typed.is !== 'package')
      return { refused: 'It stands beneath its class already.' }
    if (!above) return { refused: 'There is nothing above it that it could stand in.' }
    if (above.typed.is === 'package')
      return changed(`Put “${one.typed.name}” into “${above.typed.name}”`, [setField(line, 'package', above.id)])
    if (one.typed.is === 'package') return { refused: 'A package does not stand in a class.' }
    const { model } = wish
    const entity = model.entities.get(line)
    if (!entity || membersOf(model, line).length > 0 || [...model.leaving(line), ...model.reaching(line)].length > 0)
      return { refused: 'A class with members or ties is no member of another one.' }
    const kind = above.owner?.form === 'enumeration' ? 'literal' : 'attribute'
    const order = membersOf(model, above.id).length + 1
    return changed(
      `Make “${entity.name}” a member of “${above.typed.name}”`,
      [...removal(model, line), addEntity({ ...entity, kind, fields: { class: above.id, order } })],
      { select: line },
    )
  },
  outdent: (wish, line) => {
    const { one } = around(wish, line)
    if (!one) return GONE
    const { model } = wish
    const entity = model.entities.get(line)
    const { owner, home } = one
    if (one.typed.is === 'class' || one.typed.is === 'package') {
      const outer = one.typed.is === 'class' ? home : home?.parent
      if (!outer || outer === shownIn(model, wish.view, wish.day).within)
        return { refused: 'It cannot stand further out.' }
      return changed(`Take “${one.typed.name}” out of “${outer.name}”`, [
        setField(line, 'package', outer.parent?.id ?? null),
        ...(one.typed.is === 'package' ? placedAfter(packagesBeside(wish, outer.id), outer.id, line) : []),
      ])
    }
    if (!entity || one.typed.is === 'operation' || Object.keys(one.typed.fields).length > 0)
      return { refused: 'Only a member that is a mere name becomes a class.' }
    // It stands next after the class that it was a member of.
    const classes = modelIn(wish).classes.filter((each) => each.package === home)
    const siblings = classes.map((each) => each.entity)
    const { orders, steps } = placesAmong(siblings, classes.findIndex(({ id }) => id === owner?.id) + 1, 1)
    const fields = { ...(home ? { package: home.id } : {}), order: orders[0] ?? classes.length + 1 }
    return changed(
      `Make “${entity.name}” a class`,
      [...removal(model, line), ...steps, addEntity({ ...entity, kind: 'class', fields })],
      { select: line },
    )
  },
  move: (wish, line, by) => {
    const { one } = around(wish, line)
    const entity = wish.model.entities.get(line)
    if (!one || !entity) return { refused: 'Ties follow the order in which they were stated.' }
    return changed(`Move “${entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(siblingsOf(wish, one), entity, by))
  },
  remove: (wish, line) => {
    const { one } = around(wish, line)
    return one ? changed('Remove a line', removeSteps(wish, one)) : GONE
  },
  paste: pasteLines,
}

/** A line, and the nearest one above it that stands no deeper. */
function around(wish: Wish, line: Id): { one: Told | undefined; above: Told | undefined } {
  const lines = toldIn(wish)
  const at = lines.findIndex(({ id }) => id === line)
  const one = lines[at]
  return { one, above: one && lines.slice(0, at).findLast(({ depth }) => depth <= one.depth) }
}

function siblingsOf(wish: Wish, { typed: { is }, owner, home, id }: Told): readonly Entity[] {
  const all = modelIn(wish)
  if (is === 'class') return all.classes.filter((one) => one.package === home).map(({ entity }) => entity)
  if (is === 'package') return packagesBeside(wish, id)
  if (!owner) return []
  if (is === 'literal') return owner.literals
  return (is === 'attribute' ? owner.attributes : owner.operations).map(({ entity }) => entity)
}

/** The packages that stand in what a package stands in, itself among them. */
function packagesBeside(wish: Wish, id: Id): readonly Entity[] {
  const { packages, packageById } = modelIn(wish)
  return packages.filter((one) => one.parent === packageById.get(id)?.parent).map(({ entity }) => entity)
}

/** The change that makes a fact say what its line says. */
function writeLine(wish: Wish, before: Told, after: Typed, text: string): Outcome {
  const { model } = wish
  const { id, typed: was, owner, home } = before
  const place: Place = { owner: owner?.id, home: home?.id }
  if (was.is !== after.is) {
    if (was.is === 'class' || was.is === 'package' || after.is === 'class' || after.is === 'package')
      return { refused: `This line states a ${was.is}; a ${after.is} is a line of its own.` }
    const scribe = new Scribe(wish)
    const made = TIES.has(after.is) ? scribe.tie(after, owner?.id ?? home?.id ?? id, place) : scribe.make(after, place)
    return changed(
      writing(text),
      [...removeSteps(wish, before), ...scribe.steps],
      made === undefined ? {} : { select: made },
    )
  }
  const relation = model.relations.get(id)
  if (relation) {
    const scribe = new Scribe(wish)
    const target =
      after.target && JSON.stringify(after.target) === JSON.stringify(was.target)
        ? relation.target
        : scribe.target(after, place)
    return changed(writing(text), [
      ...scribe.steps,
      ...rewrite('relation', id, was, after),
      ...(target === relation.target ? [] : [setRelation(id, 'target', target)]),
    ])
  }
  const entity = model.entities.get(id)
  if (!entity) return GONE
  const asKept = (one: Typed) => ({ ...one, fields: resolved(model, one.fields) })
  return changed(writing(text), [
    ...rewrite('entity', id, asKept(was), asKept(after)),
    ...renaming(model, wish.day, entity, after.name),
  ])
}

export function removeSteps({ model }: Pick<Wish, 'model'>, { id, typed: { is } }: Pick<Told, 'id' | 'typed'>): Step[] {
  if (model.relations.has(id)) return [removeRelation(id)]
  if (is === 'package') return removePackage(model, id)
  return is === 'class' ? removeClasses(model, id) : removal(model, id)
}

/** A new line after another one, on its level. */
function insertLine(wish: Wish, line: Id | undefined, text: string): Outcome {
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const home = homeFor(wish)
  const isMember = above !== undefined && (MEMBERS.has(above.typed.is) || TIES.has(above.typed.is))
  const within: Within = above?.within ?? 'elsewhere'
  const words = text.trim() === '' ? (isMember && above.owner ? NEW_MEMBER : NEW_CLASS) : text
  const read = readLine(words, within)
  if ('refused' in read) return read
  // A class that stands after a package's own line stands beside it.
  const beside = above?.typed.is === 'package' ? above.home?.parent : above?.home
  const place: Place = { owner: isMember ? above.owner?.id : undefined, home: beside?.id ?? home.id }
  const scribe = new Scribe(wish)
  const made = TIES.has(read.is)
    ? scribe.tie(read, place.owner ?? place.home ?? wish.newId(), place)
    : scribe.make(read, place)
  const steps = [...home.steps, ...scribe.steps]
  const siblings = above && above.typed.is === read.is ? siblingsOf(wish, above) : []
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
  const home = homeFor(wish)
  const scribe = new Scribe(wish)
  const path: { readonly is: Typed['is']; readonly id: Id | undefined; readonly form: unknown }[] = []
  const ties: { typed: Typed; source: Id; place: Place }[] = []
  const outer = above && !MEMBERS.has(above.typed.is) && !TIES.has(above.typed.is) ? undefined : above?.owner
  let first: Id | undefined
  for (const [at, one] of list.entries()) {
    path.length = Math.min(path.length, one.depth)
    const holder = path.findLast(({ is }) => is === 'class' || is === 'package')
    const owner = holder?.is === 'class' ? holder.id : holder === undefined ? outer?.id : undefined
    const form = holder?.is === 'class' ? holder.form : outer?.form
    const within: Within =
      owner !== undefined ? (form === 'enumeration' ? 'enumeration' : 'class') : holder ? 'package' : 'elsewhere'
    const read = readLine(owner !== undefined && isSigned(one.raw) ? one.raw : one.text, within)
    if ('refused' in read)
      return { refused: `Line ${at + 1}, “${clip(one.raw)}”: ${read.refused} Nothing was changed.` } satisfies Refusal
    const inner = path.findLast(({ is }) => is === 'package')?.id ?? above?.home?.id ?? home.id
    const place: Place = { owner, home: inner }
    if (TIES.has(read.is)) {
      const source = owner ?? path.findLast(({ is }) => is === 'package')?.id
      if (source !== undefined) ties.push({ typed: read, source, place })
      path.push({ is: read.is, id: undefined, form: undefined })
      continue
    }
    const id = scribe.make(read, place)
    first ??= id
    path.push({ is: read.is, id, form: read.fields['form'] })
  }
  for (const { typed, source, place } of ties) scribe.tie(typed, source, place)
  return changed(`Paste ${list.length} ${list.length === 1 ? 'line' : 'lines'}`, [...home.steps, ...scribe.steps], {
    ...(first === undefined ? {} : { select: first }),
  })
}
