import type { Entity, Id, Model, Relation } from '../model'
import type { Column } from './notation'
import type { Outcome, Wish } from './wish'
import type { Field } from './kind'
import { readEntry } from './entry'

const LOOK: Readonly<Record<string, Pick<Column, 'type' | 'width' | 'mono'>>> = {
  number: { type: 'number', width: 64, mono: true },
  integer: { type: 'number', width: 64, mono: true },
  duration: { type: 'text', width: 64, mono: true },
  moment: { type: 'text', width: 104, mono: true },
  when: { type: 'text', width: 104, mono: true },
  day: { type: 'day', width: 96, mono: true },
  choice: { type: 'choice', width: 110 },
  flag: { type: 'choice', width: 70 },
}

/** A register's column for a field of the row's own entity, or for its `from`, `to` or `name`. */
export function fieldColumn(field: Field, width?: number): Column {
  const look = LOOK[field.type] ?? { type: 'text' as const, width: 140 }
  const choices = field.type === 'flag' ? ['yes', 'no'] : field.choices
  return {
    id: field.id,
    label: field.label,
    ...look,
    ...(width === undefined ? {} : { width }),
    read: (model, row) => shown(valueOf(model.entities.get(row), field.id)),
    write: (wish, row, text) => writeField(wish, row, field, text),
    ...(choices ? { choices: () => choices } : {}),
  }
}

export const fromColumn: Column = fieldColumn({ id: 'from', label: 'From', type: 'day' })
export const toColumn: Column = fieldColumn({ id: 'to', label: 'To', type: 'day' })

/** The column of the names, as they are called in this register. */
export const nameColumn = (label: string, width: number): Column =>
  fieldColumn({ id: 'name', label, type: 'text' }, width)

const OWN = new Set(['name', 'from', 'to'])

/** The change that writes typed text into a field. */
export function writeField(wish: Pick<Wish, 'model'>, row: Id, field: Field, text: string): Outcome {
  const entry = readEntry(field, text)
  if ('refused' in entry) return entry
  if (field.id === 'name' && entry.value === null) return { refused: `${field.label} cannot be empty.` }
  const entity = wish.model.entities.get(row)
  if (!entity) return { refused: 'This no longer exists.' }
  const path = OWN.has(field.id) ? field.id : `fields.${field.id}`
  const label = `Set ${field.label.toLowerCase()} of “${entity.name}”`
  return { change: { label, steps: [{ do: 'set-entity', id: row, path, value: entry.value }] } }
}

/** A column for a field of a relation, or for its `from` or `to`: the rows are relations. `called` names the row in a label. */
export function relationColumn(
  field: Field,
  width: number,
  called: (model: Model, relation: Relation) => string,
): Column {
  const path = field.id === 'from' || field.id === 'to' ? field.id : `fields.${field.id}`
  return {
    ...fieldColumn(field, width),
    read: (model, row) => {
      const relation = model.relations.get(row)
      return shown(path === field.id ? relation?.[field.id as 'from' | 'to'] : relation?.fields[field.id])
    },
    write: ({ model }, row, text) => {
      const relation = model.relations.get(row)
      if (!relation) return { refused: 'This no longer exists.' }
      const entry = readEntry(field, text)
      if ('refused' in entry) return entry
      const label = `Set ${field.label.toLowerCase()} of ${called(model, relation)}`
      return { change: { label, steps: [{ do: 'set-relation', id: row, path, value: entry.value }] } }
    },
  }
}

/** The names of all entities of a kind, sorted, to be offered in a cell. */
export const namesOf =
  (kind: string) =>
  (model: Model): readonly string[] =>
    [...new Set(model.ofKind(kind).map((entity) => entity.name))].sort()

export const valueOf = (entity: Entity | undefined, field: string): unknown =>
  entity === undefined ? undefined : OWN.has(field) ? entity[field as 'name' | 'from' | 'to'] : entity.fields[field]

function shown(value: unknown): string | number | undefined {
  if (value === undefined || typeof value === 'number') return value
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return Array.isArray(value) ? value.join(', ') : String(value)
}
