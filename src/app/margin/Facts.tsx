import { useId, useState } from 'react'
import { counted, type Entity, type Relation } from '../../core/model'
import {
  anyFieldColumn,
  fieldColumn,
  fieldsOfKind,
  fieldsOfRelation,
  fromColumn,
  linkColumn,
  linkOf,
  nameLabel,
  relationColumn,
  toColumn,
  type Column,
  type Field,
} from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { currentNotation } from '../actions'
import { follow } from '../follow'
import { Chips } from '../registers/Chips'
import { IconField } from './IconField'
import { Photo } from './Photo'
import { carryOut, wish } from '../store/changes'
import { useFolds } from '../store/folds'
import { useParts } from '../store/state'

/** The fields of an entity, generated from its kind: dates first, then ties, then the rest. Each is edited in place. */
export function Facts({ entity }: { entity: Entity }) {
  const { model, day } = useParts('model', 'day')
  const all = useFolds(({ showsAllFields }) => showsAllFields)
  const kind = handlings.kinds.get(entity.kind)
  const ties = currentNotation()?.ties(model, entity) ?? []
  const tied = new Set(ties.map(({ id }) => id))
  const fields = kind ? fieldsOfKind(kind).filter(({ id, hidden }) => !hidden && !tied.has(id)) : []
  // A small picture may stand on anything: its place is shown where there is one, or all is.
  const images = fields.filter(
    ({ id, type }) => type === 'image' && (id !== 'badge' || all || entity.fields[id] !== undefined),
  )
  // Where a name stands in other facts, too, the notation writes it.
  const own = ties.find(({ id }) => id === 'name')
  const name = {
    ...(own ?? fieldColumn({ id: 'name', label: '', type: 'text' })),
    label: nameLabel(handlings, entity),
  }
  const rest = fields
    .filter(({ id, type }) => type !== 'image' && id !== 'icon')
    .map((field) => (field.id === 'link' ? linkColumn : anyFieldColumn(field)))
  const stated = rest.filter((column) => all || column.read(model, entity.id, day) !== undefined)
  const columns = [fromColumn, toColumn, name, ...ties.filter((one) => one !== own), ...stated]
  return (
    <section aria-labelledby="facts-title" className="border-b border-hairline px-4 py-2.5">
      <h3 id="facts-title" className="caps">
        {kind?.title ?? 'Facts'}
      </h3>
      <dl className="mt-1 grid grid-cols-[96px_1fr] items-center gap-y-px" data-testid="facts">
        {columns.map((column) => (
          <FactField key={`${entity.id} ${column.id}`} entity={entity} column={column} />
        ))}
        {(all || entity.fields['icon'] !== undefined) && <IconField entity={entity} />}
      </dl>
      {images.map((field) => (
        <Photo key={`${entity.id} ${field.id}`} entity={entity} field={field} />
      ))}
      {(all || stated.length < rest.length) && (
        <button
          type="button"
          aria-expanded={all}
          className="verb text-[12px]"
          onClick={() => useFolds.setState({ showsAllFields: !all })}
        >
          {all ? 'Only what is stated' : counted(rest.length - stated.length, 'more field')}
        </button>
      )}
    </section>
  )
}

/** The fields of a tie between two entities, its dates first. */
export function RelationFacts({ relation }: { relation: Relation }) {
  const kind = handlings.relationKinds.get(relation.kind)
  const fields = kind ? fieldsOfRelation(kind).filter(({ hidden }) => !hidden) : []
  const days: Field[] = [
    { id: 'from', label: 'From', type: 'day' },
    { id: 'to', label: 'To', type: 'day' },
  ]
  const columns = [...fields, ...days].map((field) => relationColumn(field, 100, () => 'a tie'))
  return (
    <section aria-labelledby="facts-title" className="border-b border-hairline px-4 py-2.5">
      <h3 id="facts-title" className="caps">
        Facts
      </h3>
      <dl className="mt-1 grid grid-cols-[96px_1fr] items-center gap-y-px" data-testid="facts">
        {columns.map((column) => (
          <FactField key={`${relation.id} ${column.id}`} entity={relation} column={column} />
        ))}
      </dl>
    </section>
  )
}

function FactField({ entity, column }: { entity: Pick<Entity, 'id'>; column: Column }) {
  const { model, day, notes } = useParts('model', 'day', 'notes')
  const [typed, setTyped] = useState<string | undefined>(undefined)
  const id = useId()
  const reckoned = notes?.reckoned?.of === entity.id ? notes.reckoned.values[column.id] : undefined
  const value = column.read(model, entity.id, day) ?? reckoned
  const shown = value === undefined ? '' : String(value)
  const choices = column.choices?.(model, day) ?? []
  const chips = column.chips?.(model, entity.id, day) ?? []
  const link = column.id === 'link' ? linkOf(model, entity.id) : undefined
  const keep = () => {
    const asked = wish()
    if (typed !== undefined && typed !== shown && asked && column.write) carryOut(column.write(asked, entity.id, typed))
    setTyped(undefined)
  }
  return (
    <>
      <dt className={`text-quiet ${chips.length > 0 ? 'self-start pt-[3px]' : ''}`}>
        <label htmlFor={id}>{column.label}</label>
      </dt>
      <dd className="min-w-0">
        <input
          id={id}
          data-field={column.id}
          list={choices.length > 0 ? `${id}-list` : undefined}
          readOnly={!column.write}
          className={`h-[24px] w-full border-b border-transparent bg-transparent hover:border-hairline focus:border-primary focus:outline-none ${column.mono ? 'numeric text-[12px]' : ''}`}
          value={typed ?? shown}
          placeholder="–"
          onChange={(event) => setTyped(event.target.value)}
          onFocus={(event) => event.target.select()}
          onBlur={keep}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur()
            if (event.key === 'Escape') {
              event.stopPropagation()
              setTyped(undefined)
            }
          }}
        />
        {choices.length > 0 && typed !== undefined && (
          <datalist id={`${id}-list`}>
            {choices.slice(0, 500).map((choice) => (
              <option key={choice} value={choice} />
            ))}
          </datalist>
        )}
        {link !== undefined && (
          <button
            type="button"
            className="verb text-[12px]"
            title="Follow it (Ctrl Enter on the sheet)"
            onClick={() => follow(link)}
          >
            Follow
          </button>
        )}
        {chips.length > 0 && (
          <span className="flex flex-wrap gap-1 pb-1">
            <Chips chips={chips} named />
          </span>
        )}
      </dd>
    </>
  )
}
