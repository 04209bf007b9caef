import type { Entity, Id, Model, Step } from '../../../model'
import {
  addEntity,
  changed,
  GONE,
  lineFor,
  moved,
  placesAmong,
  readList,
  removal,
  removeRelation,
  setEntity,
  setRelation,
  tie,
  tooLongName,
  unquoted,
  writing,
  type Outcome,
  type Outline,
  type Refusal,
  type Wish,
} from '../../../notation'
import { figures } from '../kinds'
import { mapOn, type ConceptMap } from './structure'

export const NEW_CONCEPT = 'New concept'

interface Said {
  readonly phrase: string
  readonly other: string
}

/** A line under a concept: `phrase: other concept`. Without a colon it names the other concept alone. */
export function readLink(line: string): Said | Refusal {
  const { text, plain } = unquoted(line.trim())
  const [, before, after] = /^(.*?)\s*:(?:\s+(.*))?$/s.exec(text) ?? []
  const said =
    before === undefined
      ? { phrase: '', other: plain(text) }
      : { phrase: plain(before.trim()), other: plain((after ?? '').trim()) }
  return tooLongName(said.phrase, 'A phrase') ?? tooLongName(said.other) ?? said
}

const linkLine = ({ phrase, other }: Said): string =>
  lineFor(
    (text) => `${phrase === '' ? '' : text(phrase)}: ${text(other)}`,
    (text) => {
      const read = readLink(text)
      return !('refused' in read) && read.phrase === phrase && read.other === other
    },
  )

const nameOf = (line: string): string => {
  const { text, plain } = unquoted(line.trim())
  return plain(text)
}
const conceptLine = (name: string): string =>
  lineFor(
    (text) => text(name),
    (text) => nameOf(text) === name,
  )

/** Makes concepts as lines name them, each once. */
class Naming {
  readonly steps: Step[] = []
  readonly #known: Map<string, Id>
  readonly #orders: number[]
  constructor(
    private readonly wish: Wish,
    private readonly figure: Id,
    map: ConceptMap,
    after: number,
    most: number,
  ) {
    this.#known = new Map(map.concepts.map(({ id, entity }) => [entity.name.toLowerCase(), id]))
    const { orders, steps } = placesAmong(
      map.concepts.map(({ entity }) => entity),
      after,
      most,
    )
    this.#orders = [...orders]
    this.steps.push(...steps)
  }
  called(name: string): Id {
    const known = this.#known.get(name.toLowerCase())
    return known ?? this.made(name)
  }
  made(name: string): Id {
    const id = this.wish.newId()
    const order = this.#orders.shift() ?? 0
    this.steps.push(addEntity({ id, kind: 'concept', name, fields: { figure: this.figure, order } }))
    this.#known.set(name.toLowerCase(), id)
    return id
  }
}

/** Concepts, under each what it says of others. */
export const mapOutline: Outline = {
  hint: 'Concept',

  lines: (model, view, day) =>
    mapOn(model, view, day).concepts.flatMap(({ id, entity, says }) => [
      { id, depth: 0, text: conceptLine(entity.name) },
      ...says.map(({ relation, phrase, to }) => ({
        id: relation.id,
        depth: 1,
        text: linkLine({ phrase, other: to.entity.name }),
      })),
    ]),

  write: (wish, line, text) => {
    const { model } = wish
    const map = mapOn(model, wish.view, wish.day)
    if (map.byId.has(line)) {
      const name = nameOf(text)
      if (name.trim() === '') return { refused: 'A concept has a name.' }
      return tooLongName(name) ?? changed(writing(text), [setEntity(line, 'name', name)])
    }
    const link = map.links.find(({ relation }) => relation.id === line)
    if (!link) return GONE
    const said = readLink(text)
    if ('refused' in said) return said
    if (said.other === '') return { refused: 'Behind the colon stands the other concept.' }
    const naming = new Naming(wish, figures.of(model, wish.view) ?? line, map, map.concepts.length, 1)
    const phrase =
      said.phrase === link.phrase ? [] : [setRelation(line, 'fields.phrase', said.phrase === '' ? null : said.phrase)]
    if (said.other.toLowerCase() === link.to.entity.name.toLowerCase()) return changed(writing(text), phrase)
    const target = naming.called(said.other)
    return changed(writing(text), [...naming.steps, ...phrase, setRelation(line, 'target', target)])
  },

  insert: (wish, line, text) => {
    const map = mapOn(wish.model, wish.view, wish.day)
    const link = map.links.find(({ relation }) => relation.id === line)
    if (link) return pastedLines(wish, link.from.id, [{ depth: 1, text: text || `: ${NEW_CONCEPT}` }], 'Add a link')
    return pastedLines(wish, line, [{ depth: 0, text: text || NEW_CONCEPT }], 'Add a concept')
  },

  indent: (wish, line) => {
    const map = mapOn(wish.model, wish.view, wish.day)
    const at = map.concepts.findIndex(({ id }) => id === line)
    const [before, one] = [map.concepts[at - 1], map.concepts[at]]
    if (!one) return { refused: 'A link has one level.' }
    if (!before) return { refused: 'There is no concept above that it could be linked to.' }
    const id = wish.newId()
    return changed(`Link “${before.entity.name}” to “${one.entity.name}”`, [tie(id, 'links', before.id, one.id)], {
      select: id,
    })
  },

  outdent: (wish, line) => {
    const link = mapOn(wish.model, wish.view, wish.day).links.find(({ relation }) => relation.id === line)
    if (!link) return { refused: 'It is on the top level.' }
    return changed(`Take the link to “${link.to.entity.name}” away`, [removeRelation(line)], { select: link.to.id })
  },

  move: ({ model, view, day }, line, by) => {
    const { concepts } = mapOn(model, view, day)
    const one = concepts.find(({ id }) => id === line)
    if (!one) return { refused: 'Links stand in the order in which they were stated.' }
    const peers: Entity[] = concepts.map(({ entity }) => entity)
    return changed(`Move “${one.entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(peers, one.entity, by))
  },

  remove: ({ model }, line) => removed(model, [line]),

  paste: (wish, line, text) => {
    const list = readList(text)
    if ('refused' in list) return list
    if (list.length === 0) return { refused: 'There is no line with text in this paste.' }
    return pastedLines(
      wish,
      line,
      list,
      `Paste ${list.length.toLocaleString('en')} line${list.length === 1 ? '' : 's'}`,
    )
  },
}

/** Takes concepts with their links away, and links by themselves. */
export function removed(model: Model, ids: readonly Id[]): Outcome {
  const concepts = ids.filter((id) => model.entities.has(id))
  const links = ids.filter((id) => model.relations.has(id))
  if (concepts.length + links.length === 0) return GONE
  const [first] = concepts
  const label =
    first && ids.length === 1
      ? `Remove “${model.entities.get(first)?.name ?? ''}”`
      : ids.length === 1
        ? 'Remove a link'
        : `Remove ${ids.length}`
  const steps = removal(model, ...concepts)
  const gone = new Set(steps.flatMap((step) => (step.do === 'remove-relation' ? [step.id] : [])))
  return changed(label, [...links.filter((id) => !gone.has(id)).map(removeRelation), ...steps])
}

/** Lines on top are concepts; a line under one is what it says of another, and a line deeper what that one says. */
function pastedLines(
  wish: Wish,
  after: Id | undefined,
  list: readonly { readonly depth: number; readonly text: string }[],
  label: string,
): Outcome {
  const { id: figure, steps: begun } = figures.forWish(wish)
  const map = mapOn(wish.model, wish.view, wish.day)
  const at = map.concepts.findIndex(({ id }) => id === after)
  const naming = new Naming(wish, figure, map, at < 0 ? map.concepts.length : at + 1, 2 * list.length)
  const ties: Step[] = []
  const path: Id[] = list[0] && list[0].depth > 0 && after !== undefined ? [after] : []
  let selected: Id | undefined
  // Concepts that have a line of their own stand in the order of these, also where a link names them before.
  for (const { depth, text } of path.length === 0 ? list : []) {
    const name = nameOf(text)
    if (depth === 0 && name !== NEW_CONCEPT && name !== '' && !tooLongName(name)) naming.called(name)
  }
  for (const { depth, text } of list) {
    path.length = Math.min(path.length, depth)
    const above = path.at(-1)
    if (above === undefined) {
      const name = nameOf(text)
      const refused = tooLongName(name)
      if (refused) return { refused: `${refused.refused} Nothing was changed.` }
      const id = name === NEW_CONCEPT ? naming.made(name) : naming.called(name || NEW_CONCEPT)
      path.push(id)
      selected ??= id
      continue
    }
    const said = readLink(text)
    if ('refused' in said) return { refused: `${said.refused} Nothing was changed.` }
    const other = said.other === NEW_CONCEPT || said.other === '' ? naming.made(NEW_CONCEPT) : naming.called(said.other)
    const id = wish.newId()
    ties.push(tie(id, 'links', above, other, said.phrase === '' ? {} : { phrase: said.phrase }))
    path.push(other)
    selected ??= id
  }
  return changed(label, [...begun, ...naming.steps, ...ties], selected === undefined ? {} : { select: selected })
}
