import type { Entity, Id, Model, Step } from '../../model'
import {
  addEntity,
  changed,
  GONE,
  removal,
  rewrite,
  setEntity,
  setField,
  tooLongLine,
  tooLongName,
  writing,
  type Outcome,
  type Wish,
} from '../../notation'
import { lastOrder, membersOf } from './edits'
import { renaming } from './renaming'
import { statedAttribute, statedOperation } from './structure'
import { readMember } from './syntax/members'
import { isFault } from './syntax/scan'
import { fieldsOf } from './words'

const called = (model: Model, id: Id): string => `“${model.entities.get(id)?.name ?? id}”`

/** What a member says, typed anew: refused with the place of the fault. */
export function writeMember({ model, day }: Wish, id: Id, text: string): Outcome {
  const entity = model.entities.get(id)
  if (!entity) return GONE
  const tooLong = tooLongLine(text)
  if (tooLong) return tooLong
  if (entity.kind === 'literal') {
    const name = text.trim()
    if (name === '') return { refused: 'It needs a name.' }
    return tooLongName(name) ?? changed(writing(text), [setEntity(id, 'name', name)])
  }
  const read = readMember(text)
  if (isFault(read)) return { refused: `At letter ${read.at + 1}: ${read.refused}` }
  const tooLongOne = tooLongName(read.name)
  if (tooLongOne) return tooLongOne
  const before = fieldsOf(entity.kind === 'operation' ? statedOperation(entity) : statedAttribute(entity))
  const after = fieldsOf(read)
  if (read.is !== entity.kind) {
    const { class: owner, order } = entity.fields
    return changed(writing(text), [
      ...removal(model, id),
      addEntity({
        ...entity,
        kind: read.is,
        name: read.name,
        fields: {
          ...after,
          ...(owner === undefined ? {} : { class: owner }),
          ...(order === undefined ? {} : { order }),
        },
      }),
    ])
  }
  return changed(writing(text), [
    ...rewrite('entity', id, { fields: before, ...dates(entity) }, { fields: after, ...dates(entity) }),
    ...renaming(model, day, entity, read.name),
  ])
}

const dates = ({ from, to }: Entity) => ({
  ...(from === undefined ? {} : { from }),
  ...(to === undefined ? {} : { to }),
})

/** Members into another class, after those that it has. */
export function moveMembers({ model }: Wish, ids: readonly Id[], into: Id): Outcome {
  let order = lastOrder(membersOf(model, into))
  const [first] = ids
  const who = ids.length === 1 && first ? called(model, first) : `${ids.length} members`
  return changed(
    `Move ${who} to ${called(model, into)}`,
    ids.flatMap((id): Step[] => [setField(id, 'class', into), setField(id, 'order', ++order)]),
  )
}
