import {
  covers,
  FactRecall,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../../model'
import { containerOf, inOrder, namedIn, textOf } from '../../../notation'
import { STATE_FORMS, type StateForm } from '../kinds'
import { transitionText, triggersIn } from '../syntax/transition'

/** A state or a pseudostate on a day. */
export interface Vertex {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly form: StateForm
  readonly machine: Machine
  readonly region: Region
  /** What stands in it, region by region: empty for a simple state. */
  readonly regions: readonly Region[]
  readonly out: readonly Transition[]
  readonly into: readonly Transition[]
  /** What it does by itself on an event, without being left. */
  readonly internal: readonly Transition[]
}

/** States that are lived through one at a time. */
export interface Region {
  /** Undefined for the one that nobody named. */
  readonly entity: Entity | undefined
  /** Undefined for those of the machine itself. */
  readonly owner: Vertex | undefined
  readonly vertices: readonly Vertex[]
}

export interface Transition {
  readonly id: Id
  readonly relation: Relation
  readonly source: Vertex
  readonly target: Vertex
  readonly triggers: readonly string[]
  readonly guard: string | undefined
  readonly effect: string | undefined
  /** As the standard writes it. */
  readonly text: string
}

export interface Machine {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly regions: readonly Region[]
  /** As they are listed: each before what stands in it. */
  readonly vertices: readonly Vertex[]
  /** Those that are internal left out. */
  readonly transitions: readonly Transition[]
  readonly byId: ReadonlyMap<Id, Vertex>
  readonly regionById: ReadonlyMap<Id, Region>
}

type Open<T> = { -readonly [K in keyof T]: T[K] extends readonly (infer E)[] ? E[] : T[K] }

export const machine = containerOf('machine', 'State machine')

const machines = new FactRecall<ReadonlyMap<Id, Machine>>()

/** All state machines of a day. O(facts) once for the facts and each day. */
export const machinesOn = (model: Model, day: Day): ReadonlyMap<Id, Machine> =>
  machines.of(model, day, () => {
    const here = (kind: string) => inOrder(model.ofKind(kind).filter((fact) => covers(fact, day)))
    const open = new Map<Id, Open<Machine>>()
    for (const entity of here('machine'))
      open.set(entity.id, {
        id: entity.id,
        entity,
        name: entity.name,
        regions: [],
        vertices: [],
        transitions: [],
        byId: new Map(),
        regionById: new Map(),
      })
    const find = namedIn([...open.values()])
    const members = new Map<Open<Machine>, Entity[]>()
    for (const entity of [...here('state'), ...here('region')]) {
      const home = find(entity.fields['machine'])
      if (home) members.set(home, [...(members.get(home) ?? []), entity])
    }
    const byId = new Map<Id, Open<Vertex>>()
    for (const [home, entities] of members) furnish(home, entities, byId)
    for (const relation of model.relationsOfKind('transition')) {
      const [source, target] = [byId.get(relation.source), byId.get(relation.target)]
      if (!source || !target || source.machine !== target.machine || !covers(relation, day)) continue
      const made = transitionOf(relation, source, target)
      if (relation.fields['internal'] === true && source === target) source.internal.push(made)
      else {
        source.out.push(made)
        target.into.push(made)
        ;(source.machine as Open<Machine>).transitions.push(made)
      }
    }
    return open
  })

function transitionOf(relation: Relation, source: Vertex, target: Vertex): Transition {
  const triggers = triggersIn(textOf(relation, 'trigger'))
  const [guard, effect] = [textOf(relation, 'guard'), textOf(relation, 'effect')]
  const text = transitionText({
    triggers,
    ...(guard === undefined ? {} : { guard }),
    ...(effect === undefined ? {} : { effect }),
  })
  return { id: relation.id, relation, source, target, triggers, guard, effect, text }
}

/** Puts the states of one machine into each other. */
function furnish(home: Open<Machine>, entities: readonly Entity[], byId: Map<Id, Open<Vertex>>): void {
  const known = new Map(entities.map((entity) => [entity.id, entity]))
  const above = (entity: Entity): Entity | undefined => {
    const text = entity.fields['within']
    const found = typeof text === 'string' ? known.get(text as Id) : undefined
    // A region stands in a state; a pseudostate holds nothing.
    return found && (found.kind === 'region' ? entity.kind === 'state' : isPlain(found)) ? found : undefined
  }
  const holderOf = new Map<Id, Entity>()
  for (const entity of entities) {
    const seen = new Set([entity.id])
    let at = above(entity)
    for (; at && !seen.has(at.id); at = above(at)) seen.add(at.id)
    const holder = above(entity)
    // What is within itself stands outside.
    if (holder && !at) holderOf.set(entity.id, holder)
  }
  const inside = new Map<Id | undefined, Entity[]>()
  for (const entity of entities) {
    const holder = holderOf.get(entity.id)?.id
    inside.set(holder, [...(inside.get(holder) ?? []), entity])
  }
  const ids = home.byId as Map<Id, Vertex>
  const regionIds = home.regionById as Map<Id, Region>
  const fill = (holder: Id | undefined, owner: Open<Vertex> | undefined): Region[] => {
    const all = inside.get(holder) ?? []
    const regions: Region[] = []
    const make = (entity: Entity | undefined, states: readonly Entity[]) => {
      const region: Open<Region> = { entity, owner, vertices: [] }
      regions.push(region)
      if (entity) regionIds.set(entity.id, region)
      for (const state of states) {
        const vertex: Open<Vertex> = {
          id: state.id,
          entity: state,
          name: state.name,
          form: STATE_FORMS.find((one) => one === state.fields['form']) ?? 'state',
          machine: home,
          region,
          regions: [],
          out: [],
          into: [],
          internal: [],
        }
        region.vertices.push(vertex)
        byId.set(state.id, vertex)
        ids.set(state.id, vertex)
        home.vertices.push(vertex)
        vertex.regions = fill(state.id, vertex)
      }
    }
    const loose = all.filter(({ kind }) => kind === 'state')
    if (loose.length > 0) make(undefined, loose)
    for (const entity of all) if (entity.kind === 'region') make(entity, inside.get(entity.id) ?? [])
    return regions
  }
  home.regions = fill(undefined, undefined)
}

const isPlain = ({ fields }: Entity): boolean => fields['form'] === undefined || fields['form'] === 'state'

/** The machine that a view shows. */
export function machineShown(model: Model, view: Pick<View, 'scope'> | undefined, day: Day): Machine | undefined {
  const id = machine.of(model, view)
  return id === undefined ? undefined : machinesOn(model, day).get(id)
}

/** The states that a vertex stands in, the nearest first. */
export function ownersOf(vertex: Vertex): readonly Vertex[] {
  const owners: Vertex[] = []
  for (let at = vertex.region.owner; at; at = at.region.owner) owners.push(at)
  return owners
}

/** Whether it is a state, simple or composite: not one that is only passed through or ended in. */
export const isState = ({ form }: Vertex): boolean => form === 'state'
/** A pseudostate of which one leaves at once. */
export const isPassing = ({ form }: Vertex): boolean => form !== 'state' && form !== 'final' && form !== 'terminate'

/** What a state that nobody named is called. */
export const isUnnamed = ({ name, form }: Pick<Vertex, 'name' | 'form'>): boolean => form !== 'state' && name === form

/** A vertex in words: by its name, or by its sort where it has none. */
export const vertexWords = (one: Pick<Vertex, 'name' | 'form'>): string =>
  one.form === 'initial' && isUnnamed(one)
    ? 'the beginning'
    : one.form === 'final' && isUnnamed(one)
      ? 'the end'
      : isUnnamed(one)
        ? `the ${one.form}`
        : `“${one.name}”`
