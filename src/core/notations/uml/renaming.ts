import type { Day, Entity, Id, Model, Step } from '../../model'
import { changed, setEntity, setField, textOf, type Outcome, type Wish } from '../../notation'
import { interactionsOn, messageOf } from './sequences/structure'
import { ancestorsOf, classesOn, type Classifier } from './structure'
import { parted } from './syntax/scan'

/**
 * Steps that call something otherwise wherever it is named: with a class the types of members and the lifelines that name it, with an operation the
 * messages that call it. Where another class has the old name, too, what names it may mean that one and stays. O(members + messages)
 */
export function renaming(model: Model, day: Day, entity: Entity, name: string): Step[] {
  const own = setEntity(entity.id, 'name', name)
  if (entity.name === name) return []
  if (entity.kind === 'class') {
    const isOnly = model.ofKind('class').filter((one) => one.name === entity.name).length === 1
    return isOnly
      ? [own, ...typesRenamed(model, entity.name, name), ...lifelinesRenamed(model, entity.name, name)]
      : [own]
  }
  return entity.kind === 'operation' ? [own, ...callsRenamed(model, day, entity, name)] : [own]
}

/** The same as a change, which says in how many other places it is called so. */
export function renamed({ model, day }: Pick<Wish, 'model' | 'day'>, entity: Entity, name: string): Outcome {
  const steps = renaming(model, day, entity, name)
  const others = steps.length - 1
  const besides = others > 0 ? `, and in ${others} other ${others === 1 ? 'place' : 'places'}` : ''
  return changed(`Rename “${entity.name}” to “${name}”${besides}`, steps)
}

const LETTER = '[\\p{L}\\p{N}_]'
/** A name within a type, such as `Money` in `List<Money>`, but not in `MoneyOrder`. */
const within = (name: string): RegExp =>
  new RegExp(`(?<!${LETTER})${name.replace(/[.*+?^${}()|[\]\\]/g, String.raw`\$&`)}(?!${LETTER})`, 'gu')

function typesRenamed(model: Model, before: string, after: string): Step[] {
  const pattern = within(before)
  const renamed = (text: string) => text.replace(pattern, () => after)
  return ['attribute', 'operation'].flatMap((kind) =>
    model.ofKind(kind).flatMap((member): Step[] => {
      const type = textOf(member, 'type')
      const parameters = textOf(member, 'parameters')
      const others =
        parameters === undefined
          ? undefined
          : parted(parameters)
              .map((one) => parameterRenamed(one, renamed))
              .join(', ')
      // One that is written otherwise than it would be is left as it is where nothing in it changes.
      const isSame = parameters === undefined || others === parted(parameters).join(', ')
      return [
        ...(type !== undefined && renamed(type) !== type ? [setField(member.id, 'type', renamed(type))] : []),
        ...(isSame || others === undefined ? [] : [setField(member.id, 'parameters', others)]),
      ]
    }),
  )
}

/** The type of a parameter: what stands behind its colon, and before its default. */
function parameterRenamed(text: string, renamed: (text: string) => string): string {
  const [, head, type = '', rest = ''] = /^([^:]*:)([^=]*)(.*)$/s.exec(text) ?? []
  return head === undefined ? text : `${head}${renamed(type)}${rest}`
}

/** Lifelines that are of the class by their names alone: `Ticket`, `old : Ticket`. */
function lifelinesRenamed(model: Model, before: string, after: string): Step[] {
  return model.ofKind('lifeline').flatMap((one): Step[] => {
    if (textOf(one, 'class') !== undefined) return []
    const [, head = ''] = /^(.*:\s*)?[^:]*$/.exec(one.name) ?? []
    return one.name.slice(head.length).trim() === before ? [setEntity(one.id, 'name', `${head}${after}`)] : []
  })
}

function callsRenamed(model: Model, day: Day, { id, name: before }: Entity, after: string): Step[] {
  const owners = classesOn(model, day).classes.filter((one) => hasOperation(one, id))
  return [...interactionsOn(model, day).values()].flatMap(({ calls }) =>
    calls.flatMap((call): Step[] => {
      const isOf = call.to.class && owners.includes(call.to.class)
      if (!isOf || messageOf(call.text).name !== before) return []
      return [
        setEntity(
          call.id,
          'name',
          call.text.replace(within(before), () => after),
        ),
      ]
    }),
  )
}

/** Whether an operation is one of a class, its own or inherited. */
const hasOperation = (one: Classifier, id: Id): boolean =>
  [one, ...ancestorsOf(one)].some(({ operations }) => operations.some((each) => each.id === id))
