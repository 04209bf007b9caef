import { covers, type Day, type Entity, type Fields, type Id, type Model, type Relation, type Step } from '../model'
import { everyoneCalled, oneCalled } from './called'
import { fieldColumn, namesOf } from './columns'
import { addEntity, changed, GONE, removeRelation, setField, tie } from './edit'
import { clip, readEntry } from './entry'
import type { Field } from './kind'
import { LIMITS } from './limits'
import type { Column, Register } from './notation'
import type { Wish } from './wish'

/** The entity of some kinds that a text means: by its identity, or by its name. O(entities of the kinds) */
export const entityNamed = (model: Model, kinds: readonly string[], text: string): Entity | undefined => {
  const byId = model.entities.get(text as Id)
  if (byId && kinds.includes(byId.kind)) return byId
  const [first] = everyoneCalled(model, kinds, text)
  return first
}

/** The same, asked about where several are called so. */
const knownAs = (
  asked: Pick<Wish, 'model' | 'day'>,
  kinds: readonly string[],
  text: string,
  near: (id: Id) => boolean,
) => {
  const byId = asked.model.entities.get(text as Id)
  return byId && kinds.includes(byId.kind) ? byId : oneCalled(asked, kinds, text, near)
}

/** What a reference field holds, by its name: that of the fact it means, else the text that stands there. */
export function referenceName(
  model: Model,
  entity: Entity | undefined,
  { id, refers = [] }: Field,
): string | undefined {
  const text = entity?.fields[id]
  return typeof text === 'string' ? (entityNamed(model, refers, text)?.name ?? text) : undefined
}

/** Any field as a column: what it refers to is shown and written by name. */
export const anyFieldColumn = (field: Field): Column =>
  field.type === 'reference' ? referenceColumn(field, 140) : fieldColumn(field)

/** A reference as a column: shown and written by name, kept by identity where the name is known. With `makes`, an unknown name is made an entity of that kind; else it is kept as it was typed, unless it says where something is drawn. */
export function referenceColumn(field: Field, width: number, makes?: string): Column {
  const kinds = field.refers ?? []
  return {
    ...fieldColumn(field, width),
    read: (model, row) => referenceName(model, model.entities.get(row), field),
    choices: (model) => [...new Set(kinds.flatMap((kind) => namesOf(kind)(model)))],
    write: ({ model, day, newId }, row, text) => {
      const entity = model.entities.get(row)
      if (!entity) return GONE
      const entry = readEntry(field, text)
      if ('refused' in entry) return entry
      const name = text.trim()
      const label = `Set ${field.label.toLowerCase()} of “${entity.name}”`
      if (name === '') return changed(label, [setField(row, field.id, null)])
      const known = knownAs({ model, day }, kinds, name, (id) => entity.fields[field.id] === id)
      if (known && 'refused' in known) return known
      if (!known && makes === undefined && field.place)
        return { refused: `There is no ${kinds.join(' or ')} “${clip(name)}”.` }
      if (known || makes === undefined) return changed(label, [setField(row, field.id, known?.id ?? name)])
      const id = newId()
      return changed(label, [addEntity({ id, kind: makes, name, fields: {} }), setField(row, field.id, id)])
    },
  }
}

/** A tie to one other entity, by its name: made, changed and taken away in a cell; the other is made on first use. */
export const tieColumn = (kind: string, label: string, target: string, word: string): Column => ({
  id: kind,
  label,
  type: 'text',
  width: 140,
  read: (model, row, day) =>
    tiedTo(model, row, kind, day)
      .map(({ name }) => name)
      .join(', ') || undefined,
  choices: namesOf(target),
  write: ({ model, day, newId }, row, text) => {
    const entry = readEntry({ label, type: 'text' }, text)
    if ('refused' in entry) return entry
    const name = text.trim()
    const gone = model.leaving(row, kind).filter((tied) => covers(tied, day))
    const steps: Step[] = gone.map(({ id }) => removeRelation(id))
    const words = `“${model.entities.get(row)?.name ?? row}” ${word} ${name === '' ? 'nothing' : `“${name}”`}`
    if (name === '') return changed(words, steps)
    const known = knownAs({ model, day }, [target], name, (id) => gone.some((one) => one.target === id))
    if (known && 'refused' in known) return known
    if (known?.id === row) return { refused: `“${name}” cannot be tied to itself.` }
    const made = known?.id ?? newId()
    if (!known) steps.push(addEntity({ id: made, kind: target, name, fields: {} }))
    return changed(words, [...steps, tie(newId(), kind, row, made)])
  },
})

const tiedTo = (model: Model, row: Id, kind: string, day: Day): readonly Entity[] =>
  model.leaving(row, kind).flatMap((tied) => (covers(tied, day) ? (model.entities.get(tied.target) ?? []) : []))

/** Where a relation begins or leads, by name: the rows are relations. */
export const endColumn = (
  end: 'source' | 'target',
  label: string,
  width: number,
  called: (model: Model, id: Id, day: Day) => string = (model, id) => model.entities.get(id)?.name ?? id,
): Column => ({
  id: end,
  label,
  type: 'text',
  width,
  read: (model, row, day) => {
    const tied = model.relations.get(row)
    return tied && called(model, tied[end], day)
  },
})

/** What a relation is called in a label: “A” `word` “B”. */
export const between =
  (word: string, before = '') =>
  (model: Model, { source, target }: Relation): string =>
    `${before}“${model.entities.get(source)?.name ?? source}” ${word} “${model.entities.get(target)?.name ?? target}”`

export const rowsOf =
  (kind: string): Register['rows'] =>
  (model) =>
    model.ofKind(kind).map(({ id }) => id)

/** A new row of a register: an entity of a kind, named for the time being. */
export const adding =
  (kind: string, name: string, fields: (wish: Wish) => Fields = () => ({})): Register['add'] =>
  (wish) => {
    const id = wish.newId()
    const entity: Entity = { id, kind, name: name.slice(0, LIMITS.name), fields: fields(wish) }
    return changed(`Add ${/^[aeio]/.test(kind) ? 'an' : 'a'} ${kind}`, [addEntity(entity)], { select: id })
  }
