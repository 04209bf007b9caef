import type { Day, Entity, Id, Model, View } from '../../../model'
import { numbered, referenceName, type OutlineLine } from '../../../notation'
import { entityKinds } from '../kinds'
import { classesOn } from '../structure'
import { ownFields } from '../telling'
import type { Ref } from '../typed'
import { componentsOn, type Component, type DeploymentNode, type Offer } from './structure'
import { lineOf, typed, type Typed, type Within } from './words'

/** A fact with the line that states it. */
export interface Told {
  readonly id: Id
  readonly depth: number
  readonly typed: Typed
  readonly within: Within
  /** What it stands beneath. */
  readonly holder: Id | undefined
}

/** Components with their ports and interfaces, then nodes with what they deploy. O(facts) */
export function told(model: Model, day: Day): Told[] {
  const every = componentsOn(model, day)
  const numbers = new Map([...numbered(every.components), ...numbered(classesOn(model, day).classes)])
  const refTo = ({ id, name }: { readonly id: Id; readonly name: string }): Ref => ({ name, nth: numbers.get(id) ?? 1 })
  const lines: Told[] = []
  const put = (id: Id, depth: number, line: Typed, within: Within, holder?: Id) =>
    lines.push({ id, depth, typed: line, within, holder })
  const putOffers = (list: readonly Offer[], depth: number, within: Within, holder: Id) => {
    for (const { id, sort, relation, to } of list)
      put(id, depth, typed(sort, '', ownFields(relation), { ...datesOf(relation), target: refTo(to) }), within, holder)
  }
  const putComponent = (one: Component) => {
    put(one.id, 0, holderTyped(model, 'component', one.entity, 'system'), 'elsewhere')
    putOffers(
      one.interfaces.filter(({ port }) => !port),
      1,
      'component',
      one.id,
    )
    for (const { id, relation, a, b } of every.uses)
      if (a === one)
        put(id, 1, typed('dependency', '', {}, { ...datesOf(relation), target: refTo(b) }), 'component', one.id)
    for (const port of one.ports) {
      put(port.id, 1, typed('component-port', port.name, {}, port.entity), 'component', one.id)
      putOffers(
        one.interfaces.filter((each) => each.port === port),
        2,
        'component-port',
        port.id,
      )
    }
  }
  const putNode = (one: DeploymentNode, depth: number) => {
    put(
      one.id,
      depth,
      holderTyped(model, 'deployment-node', one.entity, 'device'),
      one.parent ? 'deployment-node' : 'elsewhere',
      one.parent?.id,
    )
    for (const { id, relation, component } of one.deploys)
      put(
        id,
        depth + 1,
        typed('deploys', '', ownFields(relation), { ...datesOf(relation), target: refTo(component) }),
        'deployment-node',
        one.id,
      )
    for (const each of one.inner) putNode(each, depth + 1)
  }
  for (const one of every.components) putComponent(one)
  for (const one of every.nodes) if (!one.parent) putNode(one, 0)
  return lines
}

const datesOf = ({ from, to }: { readonly from?: Day; readonly to?: Day }) => ({ from, to })

function holderTyped(
  model: Model,
  is: 'component' | 'deployment-node',
  entity: Entity,
  reference: 'system' | 'device',
): Typed {
  const field = entityKinds.find((one) => one.id === is)?.fields.find(({ id }) => id === reference)
  return typed(is, entity.name, field ? { [reference]: referenceName(model, entity, field) } : {}, entity)
}

export const linesOf = (model: Model, _view: View, day: Day): OutlineLine[] =>
  told(model, day).map(({ id, depth, typed: one, within }) => ({ id, depth, text: lineOf(one, within) }))
