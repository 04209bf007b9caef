import type { Entity, Id, Step } from '../../../model'
import {
  changed,
  clip,
  GONE,
  moved,
  readList,
  removeRelation,
  rewrite,
  setEntity,
  setField,
  setRelation,
  setView,
  unbulleted,
  writing,
  type Outcome,
  type Outline,
  type Wish,
} from '../../../notation'
import { casesIn, homeFor, removeParts, resolved, Scribe } from './edits'
import { rightAfter } from '../typed'
import { linesOf, told, type Told } from './telling'
import { readLine, typed, type Typed, type Within } from './words'

const toldIn = ({ model, view, day }: Wish): Told[] => told(model, view, day)
const isTie = (one: Typed): boolean => one.target !== undefined

/** Use cases as text: one line a fact. */
export const caseOutline: Outline = {
  hint: 'Passenger: Book a trip',
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
    if (one.typed.is !== 'use-case' || one.depth > 0) return { refused: 'Only a use case stands in a subject.' }
    const above = lines.slice(0, at).findLast(({ depth }) => depth === 0)
    return above?.typed.is === 'subject'
      ? changed(`Put “${one.typed.name}” into “${above.typed.name}”`, [setField(line, 'subject', above.id)])
      : { refused: 'There is no subject above it that it could stand in.' }
  },
  outdent: (wish, line) => {
    const one = toldIn(wish).find(({ id }) => id === line)
    if (!one) return GONE
    return one.typed.is === 'use-case' && one.depth > 0
      ? changed(`Take “${one.typed.name}” out of its subject`, [setField(line, 'subject', null)])
      : { refused: 'It cannot stand further out.' }
  },
  move: (wish, line, by) => {
    const lines = toldIn(wish)
    const one = lines.find(({ id }) => id === line)
    const entity = wish.model.entities.get(line)
    if (!one || !entity) return { refused: 'Ties follow the order in which they were stated.' }
    const siblings = lines.flatMap((other): Entity[] => {
      const found =
        other.typed.is === one.typed.is && other.holder === one.holder ? wish.model.entities.get(other.id) : undefined
      return found ? [found] : []
    })
    return changed(`Move “${entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(siblings, entity, by))
  },
  remove: (wish, line) =>
    changed('Remove a line', wish.model.relations.has(line) ? [removeRelation(line)] : removeParts(wish.model, line)),
  paste: pasteLines,
}

/** The change that makes a fact say what its line says. */
function writeLine(wish: Wish, before: Told, after: Typed, text: string): Outcome {
  const { model } = wish
  const { id, typed: was } = before
  const holder = holderOf(wish, before)
  const scribe = new Scribe(wish, homeFor(wish).id)
  if (was.is !== after.is) {
    if (!isTie(was) || !isTie(after))
      return { refused: 'This line states something else; what is new is a line of its own.' }
    const made = scribe.tie(after, holder)
    return changed(writing(text), [removeRelation(id), ...scribe.steps], made === undefined ? {} : { select: made })
  }
  const relation = model.relations.get(id)
  if (relation && after.target) {
    const isSame = (a: Typed['source'], b: Typed['source']) => JSON.stringify(a) === JSON.stringify(b)
    const kind = was.is === 'generalization' ? (holder?.kind ?? 'use-case') : 'use-case'
    const ends: Step[] = [
      ...(isSame(was.target, after.target) ? [] : [setRelation(id, 'target', scribe.find(kind, after.target))]),
      ...(!after.source || isSame(was.source, after.source)
        ? []
        : [setRelation(id, 'source', scribe.find('actor', after.source))]),
    ]
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

/** The use case or the actor that a tie stands beneath. */
function holderOf(
  { model }: Wish,
  { holder }: Told,
): { readonly id: Id; readonly kind: 'use-case' | 'actor' } | undefined {
  const kind = holder === undefined ? undefined : model.entities.get(holder)?.kind
  return holder !== undefined && (kind === 'use-case' || kind === 'actor') ? { id: holder, kind } : undefined
}

/** A new line after another one, on its level. */
function insertLine(wish: Wish, line: Id | undefined, text: string): Outcome {
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  const home = homeFor(wish)
  const within: Within = above?.typed.is === 'subject' ? 'subject' : (above?.within ?? 'elsewhere')
  const read: Typed | { refused: string } =
    text.trim() !== ''
      ? readLine(text, within)
      : above && isTie(above.typed)
        ? { ...above.typed, target: { name: 'New use case', nth: 1 } }
        : above?.typed.is === 'actor'
          ? typed('actor', 'Somebody', {})
          : typed('use-case', 'New use case', {})
  if ('refused' in read) return read
  const scribe = new Scribe(wish, home.id)
  const subject = within === 'subject' ? (above?.typed.is === 'subject' ? above.id : above?.holder) : home.id
  const made = isTie(read) ? scribe.tie(read, above ? holderOf(wish, above) : undefined) : scribe.make(read, subject)
  const steps = [...home.steps, ...scribe.steps]
  const siblings = above && above.typed.is === read.is && !isTie(read) ? siblingsIn(wish, above) : []
  return changed(
    'Add a line',
    [...steps, ...rightAfter(siblings, above?.id, made)],
    made === undefined ? {} : { select: made },
  )
}

function siblingsIn(wish: Wish, one: Told): readonly Entity[] {
  const { cases, actors, subjects } = casesIn(wish)
  if (one.typed.is === 'use-case')
    return cases.filter(({ subject }) => subject?.id === one.holder).map(({ entity }) => entity)
  return (one.typed.is === 'actor' ? actors : subjects).map(({ entity }) => entity)
}

/** Lines of a list, after a line; what any of them cannot be read as is said, and nothing is changed. O(lines + facts) */
function pasteLines(wish: Wish, line: Id | undefined, text: string): Outcome {
  const list = readList(text)
  if ('refused' in list) return list
  if (list.length === 0) return { refused: 'There is no line in what was pasted.' }
  const above = line === undefined ? undefined : toldIn(wish).find(({ id }) => id === line)
  // A list that names its subjects needs no other one.
  const isOwn =
    wish.view.scope['subject'] === '' && list.some(({ depth, text: line }) => depth === 0 && isSubject(line))
  const home = isOwn ? { id: undefined, steps: [setView(wish.view.id, 'scope.subject', null)] } : homeFor(wish)
  const scribe = new Scribe(wish, home.id)
  const path: { readonly is: Typed['is']; readonly id: Id | undefined }[] = []
  const ties: { readonly typed: Typed; readonly holder: Parameters<Scribe['tie']>[1] }[] = []
  let first: Id | undefined
  for (const [at, one] of list.entries()) {
    path.length = Math.min(path.length, one.depth)
    const holder = path.findLast(({ id }) => id !== undefined)
    const outer: Within = above?.within === 'subject' ? 'subject' : 'elsewhere'
    const within: Within =
      holder === undefined ? outer : holder.is === 'subject' ? 'subject' : holder.is === 'actor' ? 'actor' : 'use-case'
    const read = readLine(one.text, within)
    if ('refused' in read)
      return { refused: `Line ${at + 1}, “${clip(one.raw)}”: ${read.refused} Nothing was changed.` }
    if (isTie(read)) {
      const kind = holder?.is === 'actor' ? 'actor' : 'use-case'
      ties.push({ typed: read, holder: holder?.id === undefined ? undefined : { id: holder.id, kind } })
      path.push({ is: read.is, id: undefined })
      continue
    }
    const subject = holder?.is === 'subject' ? holder.id : outer === 'subject' ? above?.holder : home.id
    const id = scribe.make(read, subject)
    first ??= id
    path.push({ is: read.is, id })
  }
  for (const { typed: one, holder } of ties) scribe.tie(one, holder)
  return changed(`Paste ${list.length} ${list.length === 1 ? 'line' : 'lines'}`, [...home.steps, ...scribe.steps], {
    ...(first === undefined ? {} : { select: first }),
  })
}

const isSubject = (line: string): boolean => {
  const read = readLine(unbulleted(line), 'elsewhere')
  return !('refused' in read) && read.is === 'subject'
}
