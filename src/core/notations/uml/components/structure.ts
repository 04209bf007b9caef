import { covers, FactRecall, type Day, type Entity, type Id, type Model, type Relation } from '../../../model'
import { inOrder, namedIn } from '../../../notation'
import { classesOn, type Classifier } from '../structure'

export interface Component {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly ports: readonly Port[]
  /** What it provides and requires itself, or by a port of it. */
  readonly interfaces: readonly Offer[]
  /** The nodes that deploy it, in their order. */
  readonly nodes: readonly DeploymentNode[]
}

/** Where a component is met from outside. */
export interface Port {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly component: Component
}

export interface Offer {
  readonly id: Id
  readonly sort: 'provides' | 'requires'
  readonly relation: Relation
  readonly component: Component
  readonly port: Port | undefined
  readonly to: Classifier
}

export interface DeploymentNode {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly parent: DeploymentNode | undefined
  readonly inner: readonly DeploymentNode[]
  readonly deploys: readonly Deployment[]
}

export interface Deployment {
  readonly id: Id
  readonly relation: Relation
  readonly node: DeploymentNode
  readonly component: Component
}

export interface Use {
  readonly id: Id
  readonly relation: Relation
  readonly a: Component
  readonly b: Component
}

/** What software consists of and where it runs, on a day (UML 2.5.1, 11.6 and 19). */
export interface Components {
  readonly components: readonly Component[]
  readonly offers: readonly Offer[]
  readonly uses: readonly Use[]
  /** Each before what stands in it. */
  readonly nodes: readonly DeploymentNode[]
  readonly deployments: readonly Deployment[]
  readonly byId: { readonly components: ReadonlyMap<Id, Component>; readonly nodes: ReadonlyMap<Id, DeploymentNode> }
}

type Open<T> = { -readonly [K in keyof T]: T[K] extends readonly (infer E)[] ? E[] : T[K] }

const all = new FactRecall<Components>()

/** O(facts) once for the facts and each day. */
export const componentsOn = (model: Model, day: Day): Components =>
  all.of(model, day, () => {
    const here = (kind: string) => inOrder(model.ofKind(kind).filter((fact) => covers(fact, day)))
    const ties = (kind: string) => model.relationsOfKind(kind).filter((tie) => covers(tie, day))
    const classes = classesOn(model, day)
    const components = here('component').map((entity): Open<Component> => ({
      id: entity.id,
      entity,
      name: entity.name,
      ports: [],
      interfaces: [],
      nodes: [],
    }))
    const byId = new Map<Id, Open<Component>>(components.map((one) => [one.id, one]))
    const find = namedIn(components)
    const ports = new Map<Id, Port>()
    for (const entity of here('component-port')) {
      const component = find(entity.fields['component'])
      if (!component) continue
      const port: Port = { id: entity.id, entity, name: entity.name, component }
      ports.set(port.id, port)
      component.ports.push(port)
    }
    const offers = (['provides', 'requires'] as const).flatMap((sort) =>
      ties(sort).flatMap((relation): Offer[] => {
        const port = ports.get(relation.source)
        const component = port ? byId.get(port.component.id) : byId.get(relation.source)
        const to = classes.byId.get(relation.target)
        if (!component || !to) return []
        const offer: Offer = { id: relation.id, sort, relation, component, port, to }
        component.interfaces.push(offer)
        return [offer]
      }),
    )
    const nodes = nodesOf(here('deployment-node'))
    const nodeById = new Map(nodes.map((one) => [one.id, one]))
    const deployments = ties('deploys').flatMap((relation): Deployment[] => {
      const [node, component] = [nodeById.get(relation.source), byId.get(relation.target)]
      if (!node || !component) return []
      const made: Deployment = { id: relation.id, relation, node, component }
      node.deploys.push(made)
      component.nodes.push(node)
      return [made]
    })
    const uses = ties('dependency').flatMap((relation): Use[] => {
      const [a, b] = [byId.get(relation.source), byId.get(relation.target)]
      return a && b ? [{ id: relation.id, relation, a, b }] : []
    })
    return { components, offers, uses, nodes, deployments, byId: { components: byId, nodes: nodeById } }
  })

/** Nodes within one another, each before what stands in it; one that is within itself stands outside. */
function nodesOf(entities: readonly Entity[]): Open<DeploymentNode>[] {
  const find = namedIn(entities)
  const parentOf = new Map<Id, Entity>()
  for (const entity of entities) {
    const seen = new Set([entity.id])
    const parent = find(entity.fields['within'])
    let above = parent
    for (; above && !seen.has(above.id); above = find(above.fields['within'])) seen.add(above.id)
    if (parent && !above) parentOf.set(entity.id, parent)
  }
  const list: Open<DeploymentNode>[] = []
  const put = (entity: Entity, parent: Open<DeploymentNode> | undefined) => {
    const made: Open<DeploymentNode> = { id: entity.id, entity, name: entity.name, parent, inner: [], deploys: [] }
    parent?.inner.push(made)
    list.push(made)
    for (const each of entities) if (parentOf.get(each.id) === entity) put(each, made)
  }
  for (const entity of entities) if (!parentOf.has(entity.id)) put(entity, undefined)
  return list
}

/** A node with what it stands in, the outermost first. */
export function pathOf(node: DeploymentNode): readonly DeploymentNode[] {
  const path: DeploymentNode[] = []
  for (let at: DeploymentNode | undefined = node; at; at = at.parent) path.unshift(at)
  return path
}
