import { descent } from '../../graph/reach'
import {
  grouped,
  covers,
  Recall,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../model'
import { entityNamed, peopleBehind } from '../../notation'
import { processes, UNNAMED } from './kinds'

type NodeKind = 'step' | 'event' | 'gateway' | 'data'

/** An element of a process on a day, with the flows that reach it and leave it, in their order. */
export interface FlowNode {
  readonly id: Id
  readonly entity: Entity
  readonly kind: NodeKind
  /** The finer kind: “user task”, “start”, “parallel”. */
  readonly type: string
  readonly lane: Id | undefined
  readonly phase: Id | undefined
  readonly into: readonly Relation[]
  readonly out: readonly Relation[]
  /** Of an event that happens during a step: what says so. */
  readonly during: Relation | undefined
}

/** A process as it stands on a day: one level of it, a subprocess being one step of the level above. */
export interface Process {
  readonly process: Entity | undefined
  readonly inside: Id | undefined
  readonly nodes: ReadonlyMap<Id, FlowNode>
  readonly flows: readonly Relation[]
  readonly messages: readonly Relation[]
  /** In the order in which they are drawn: pool by pool. */
  readonly lanes: readonly Entity[]
  readonly pools: readonly Entity[]
  readonly phases: readonly Entity[]
}

const KINDS: readonly NodeKind[] = ['step', 'event', 'gateway', 'data']
const memory = new Recall<Process>()

export const processOf = processes.of

export const insideOf = (view: Pick<View, 'scope'>): Id | undefined =>
  typeof view.scope['inside'] === 'string' && view.scope['inside'] !== '' ? (view.scope['inside'] as Id) : undefined

export const processShown = (model: Model, view: View, day: Day): Process =>
  processOn(model, processOf(model, view), day, insideOf(view))

/** O(facts), remembered per model, process, level and day. */
export const processOn = (model: Model, process: Id | undefined, day: Day, inside?: Id): Process =>
  memory.of(model, `${process ?? ''} ${inside ?? ''} ${day}`, () => build(model, process, day, inside))

function build(model: Model, process: Id | undefined, day: Day, inside: Id | undefined): Process {
  // Events of timelines belong to no process either.
  const belongs = (entity: Entity) =>
    entity.fields['process'] === process && entity.fields['when'] === undefined && covers(entity, day)
  const own = KINDS.flatMap((kind) =>
    process === undefined
      ? []
      : model.ofKind(kind).filter((entity) => belongs(entity) && (entity.fields['inside'] ?? undefined) === inside),
  ).sort(byOrder)
  const here = new Set(own.map(({ id }) => id))
  const flows = model
    .relationsOfKind('flow')
    .filter((flow) => here.has(flow.source) && here.has(flow.target) && covers(flow, day))
    .sort(byOrder)
  const into = grouped(flows, ({ target }) => target)
  const out = grouped(flows, ({ source }) => source)
  const pools = process === undefined ? [] : model.ofKind('pool').filter(belongs).sort(byOrder)
  const rank = new Map(pools.map(({ id }, index) => [id as string, index]))
  const poolOf = (lane: Entity) => rank.get(String(lane.fields['pool'] ?? '')) ?? -1
  const lanes = (process === undefined ? [] : model.ofKind('lane').filter(belongs))
    .sort(byOrder)
    .sort((a, b) => poolOf(a) - poolOf(b))
  const phases = process === undefined ? [] : model.ofKind('phase').filter(belongs).sort(byOrder)
  const known = new Set([...lanes, ...phases].map(({ id }) => id))
  const nodes = new Map<Id, FlowNode>()
  for (const entity of own) {
    const lane = model.leaving(entity.id, 'performed-in').find((tie) => covers(tie, day) && known.has(tie.target))
    const phase = entity.fields['phase']
    nodes.set(entity.id, {
      id: entity.id,
      entity,
      kind: entity.kind as NodeKind,
      type: typeOf(entity),
      lane: lane?.target,
      phase: typeof phase === 'string' && known.has(phase as Id) ? (phase as Id) : undefined,
      into: into.get(entity.id) ?? NONE,
      out: out.get(entity.id) ?? NONE,
      during:
        entity.kind === 'event'
          ? model.leaving(entity.id, 'attached-to').find((tie) => covers(tie, day) && here.has(tie.target))
          : undefined,
    })
  }
  const ends = new Set<Id>([...here, ...pools.map(({ id }) => id)])
  const messages = model
    .relationsOfKind('message')
    .filter((message) => ends.has(message.source) && ends.has(message.target) && covers(message, day))
  return {
    process: process === undefined ? undefined : model.entities.get(process),
    inside,
    nodes,
    flows,
    messages,
    lanes,
    pools,
    phases,
  }
}

const NONE: readonly Relation[] = []

const orderOf = ({ fields }: Entity | Relation): number =>
  typeof fields['order'] === 'number' ? fields['order'] : Number.MAX_SAFE_INTEGER
const byOrder = (a: Entity | Relation, b: Entity | Relation): number => orderOf(a) - orderOf(b)

function typeOf({ kind, fields }: Entity): string {
  const type = fields['type']
  if (typeof type === 'string') return type
  return kind === 'step' ? 'task' : kind === 'event' ? 'intermediate' : kind === 'gateway' ? 'exclusive' : 'document'
}

/** What an element is called in a sentence. */
export const calledNode = ({ entity, kind, type }: FlowNode): string =>
  entity.name !== UNNAMED ? `“${entity.name}”` : kind === 'gateway' ? `the ${type} gateway` : `the ${type} event`

/** Events that happen during each step: a case may leave by them as it may by the step's own lines. O(nodes) */
export function eventsDuring({ nodes }: Pick<Process, 'nodes'>): ReadonlyMap<Id, readonly FlowNode[]> {
  const events = [...nodes.values()].flatMap((node) => (node.during ? [{ node, step: node.during.target }] : []))
  return new Map([...grouped(events, ({ step }) => step)].map(([step, list]) => [step, list.map(({ node }) => node)]))
}

/** A lane for each pool that has none of its own: it is drawn as a band without a head, for messages to end at. */
export const lanesDrawn = ({ lanes, pools }: Process): readonly Entity[] =>
  pools.length === 0
    ? lanes
    : [
        ...pools.flatMap((pool) => {
          const own = lanes.filter((lane) => lane.fields['pool'] === pool.id)
          return own.length > 0 ? own : [{ id: pool.id, kind: 'pool', name: pool.name, fields: { pool: pool.id } }]
        }),
        ...lanes.filter((lane) => !pools.some((pool) => lane.fields['pool'] === pool.id)),
      ]

/** The nodes in the order in which the flow reaches them, branches in their order; what cannot be reached comes last. O(nodes + flows). */
export function inFlowOrder({ nodes }: Process): readonly FlowNode[] {
  const during = eventsDuring({ nodes })
  const all = [...nodes.values()].filter(({ kind }) => kind !== 'data')
  const firsts = [
    ...all.filter(({ kind, type }) => kind === 'event' && type === 'start'),
    ...all.filter((node) => node.into.length === 0 && !node.during),
    ...all,
  ]
  const walked = descent(firsts, (node) => [
    ...node.out.flatMap(({ target }) => nodes.get(target) ?? []),
    ...(during.get(node.id) ?? []),
  ])
  return [...walked, ...[...nodes.values()].filter(({ kind }) => kind === 'data')]
}

const numbered = new WeakMap<Process, ReadonlyMap<Id, string>>()

/** The number of each element, which follows the flow: S for steps, E for events, G for gateways, D for data. */
export function numbersIn(process: Process): ReadonlyMap<Id, string> {
  const known = numbered.get(process)
  if (known) return known
  const counts: Record<string, number> = {}
  const letters: Readonly<Record<NodeKind, string>> = { step: 'S', event: 'E', gateway: 'G', data: 'D' }
  const numbers = new Map(
    inFlowOrder(process).map(({ id, kind }) => {
      const letter = letters[kind]
      counts[letter] = (counts[letter] ?? 0) + 1
      return [id, `${letter}${counts[letter]}`] as const
    }),
  )
  numbered.set(process, numbers)
  return numbers
}

/** The kinds that a lane can stand for. */
const BEHIND = ['role', 'position', 'unit', 'system']

interface LaneHolders {
  readonly of: Entity | undefined
  readonly people: readonly Entity[]
  /** The people’s names, the unit’s or system’s, or “nobody” where a role has no holder. */
  readonly words: string
  readonly empty: boolean
}

/** Who stands behind a lane on a day: the holders of its role or position. */
export function laneHolders(model: Model, lane: Entity, day: Day): LaneHolders {
  const named = lane.fields['of']
  const of = typeof named === 'string' ? entityNamed(model, BEHIND, named) : undefined
  const people = of && peopleBehind(model, of, day)
  if (!people) return { of, people: [], words: !of || of.name === lane.name ? '' : of.name, empty: false }
  const names = [...new Set(people.map(({ name }) => name))]
  return { of, people, words: names.join(', ') || 'nobody', empty: people.length === 0 }
}
