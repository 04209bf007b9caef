import type { Node } from '../../../../tabular/xml'
import type { FieldValue } from '../../../../model'
import { SILENT } from '../../sequences/structure'
import { specificationOf, turned, typeOfNode, valueOf, xmi } from './elements'
import { MESSAGE_SORTS, PSEUDOSTATES } from './names'

/** What states facts for the elements of a file. */
export interface Stating {
  readonly add: (
    node: Node,
    kind: string,
    name: string,
    fields: Record<string, FieldValue | undefined>,
    known?: ReadonlySet<string>,
  ) => string
  readonly tie: (
    node: Node,
    kind: string,
    source: string | undefined,
    target: string | undefined,
    fields?: Record<string, FieldValue | undefined>,
    known?: ReadonlySet<string>,
  ) => void
  readonly ref: (node: Node, name: string) => string | undefined
  readonly at: (id: string) => Node | undefined
}

const SORTS = new Map([...turned(MESSAGE_SORTS), ['asynchSignal', 'tells']])
const STATES = turned(PSEUDOSTATES)

/** Reads state machines and interactions as facts. */
export class BehaviourReader {
  constructor(private readonly reader: Stating) {}

  machine(node: Node, owner: string | undefined, home?: string): void {
    const id = this.reader.add(node, 'machine', node.attributes['name'] ?? '', { class: owner, package: home }, REGION)
    this.#regions(node, id, undefined)
  }

  #regions(holder: Node, machine: string, within: string | undefined): void {
    const regions = holder.children.filter(({ name }) => name === 'region')
    for (const region of regions) {
      // One region without a name is not told apart from what it stands in.
      const isPlain = region.attributes['name'] === undefined && (regions.length === 1 || region === regions[0])
      const home = isPlain
        ? within
        : this.reader.add(region, 'region', region.attributes['name'] ?? '', { machine, within }, STATES_IN)
      for (const node of region.children) {
        if (node.name === 'subvertex') this.#state(node, machine, home)
        if (node.name === 'transition') {
          const guard =
            node.children.find(({ name }) => name === 'guard') ?? node.children.find(({ name }) => name === 'ownedRule')
          const trigger = node.children
            .filter(({ name }) => name === 'trigger')
            .map((one) => this.#trigger(one))
            .join(', ')
          this.reader.tie(
            node,
            'transition',
            this.reader.ref(node, 'source'),
            this.reader.ref(node, 'target'),
            {
              trigger,
              guard: valueOf(specificationOf(guard)),
              effect: valueOf(node.children.find(({ name }) => name === 'effect')),
              internal: node.attributes['kind'] === 'internal' ? true : undefined,
            },
            TRANSITION,
          )
        }
      }
    }
  }

  /** What sets it off, by what its event is of: a signal, an operation, a time, a change (UML 2.5.1, 13.3.3); else by a name. */
  #trigger(node: Node): string {
    const id = this.reader.ref(node, 'event')
    const event = id === undefined ? undefined : this.reader.at(id)
    const named = (of: string) => {
      const at = event && this.reader.ref(event, of)
      return at === undefined ? undefined : this.reader.at(at)?.attributes['name']
    }
    const inner = (name: string) => event?.children.find((one) => one.name === name)
    const bare = (text: string | undefined) => text?.replace(/^"(.*)"$/s, '$1')
    const when = inner('when')
    const time = bare(valueOf(when?.children.find(({ name }) => name === 'expr') ?? when))
    const change = bare(valueOf(inner('changeExpression')))
    return (
      named('signal') ??
      named('operation') ??
      (time === undefined ? undefined : `${event?.attributes['isRelative'] === 'true' ? 'after' : 'at'} ${time}`) ??
      (change === undefined ? undefined : `when ${change}`) ??
      node.attributes['name'] ??
      event?.attributes['name'] ??
      ''
    )
  }

  #state(node: Node, machine: string, within: string | undefined): void {
    const type = typeOfNode(node)
    const form =
      type === 'FinalState'
        ? 'final'
        : type === 'Pseudostate'
          ? (STATES.get(node.attributes['kind'] ?? 'initial') ?? 'junction')
          : undefined
    const behaviour = (name: string) => valueOf(node.children.find((one) => one.name === name))
    // What nobody named is called by its sort.
    const id = this.reader.add(
      node,
      'state',
      node.attributes['name']?.trim() || (form ?? ''),
      { form, machine, within, entry: behaviour('entry'), do: behaviour('doActivity'), exit: behaviour('exit') },
      STATE,
    )
    this.#regions(node, machine, id)
  }

  interaction(node: Node, home: string | undefined): void {
    const id = this.reader.add(node, 'interaction', node.attributes['name'] ?? '', { package: home }, INTERACTION)
    const sends = new Map<string, Node>()
    for (const one of node.children) {
      if (one.name === 'lifeline') {
        const part = this.reader.ref(one, 'represents')
        const typed = part === undefined ? undefined : this.reader.at(part)?.attributes['type']
        this.reader.add(one, 'lifeline', one.attributes['name'] ?? '', { interaction: id, class: typed })
      }
      const send =
        one.name === 'message' ? (this.reader.ref(one, 'sendEvent') ?? this.reader.ref(one, 'receiveEvent')) : undefined
      if (send !== undefined) sends.set(send, one)
    }
    const lifelineAt = (event: string | undefined) => {
      const at = event === undefined ? undefined : this.reader.at(event)
      return at && this.reader.ref(at, 'covered')
    }
    const walk = (holder: Node, within: string | undefined) => {
      for (const one of holder.children) {
        if (one.name !== 'fragment') continue
        const message = sends.get(xmi(one, 'id') ?? '')
        if (message)
          this.reader.add(message, 'call', message.attributes['name'] ?? SILENT, {
            interaction: id,
            within,
            sort: SORTS.get(message.attributes['messageSort'] ?? 'synchCall') ?? 'asks',
            from: lifelineAt(this.reader.ref(message, 'sendEvent')),
            to: lifelineAt(this.reader.ref(message, 'receiveEvent')),
          })
        if (typeOfNode(one) !== 'CombinedFragment') continue
        const words = OPERATORS[one.attributes['interactionOperator'] ?? 'seq'] ?? ['if', 'if']
        const operands = one.children.filter(({ name }) => name === 'operand')
        operands.forEach((operand, at) => {
          const guard = operand.children.find(({ name }) => name === 'guard')
          const inner = this.reader.add(
            operand,
            'operand',
            valueOf(specificationOf(guard)) ?? SILENT,
            { interaction: id, within, sort: words[at === 0 ? 0 : 1] },
            OPERAND,
          )
          walk(operand, inner)
        })
      }
    }
    walk(node, undefined)
  }
}

const OPERATORS: Readonly<Record<string, readonly [string, string]>> = {
  alt: ['either', 'or'],
  opt: ['if', 'if'],
  loop: ['while', 'while'],
  par: ['at once', 'meanwhile'],
}

const REGION = new Set(['region'])
const STATES_IN = new Set(['subvertex', 'transition'])
const STATE = new Set(['region', 'entry', 'exit', 'doActivity'])
const TRANSITION = new Set(['guard', 'ownedRule', 'trigger', 'effect', 'source', 'target'])
const INTERACTION = new Set(['ownedAttribute', 'lifeline', 'fragment', 'message'])
const OPERAND = new Set(['guard', 'fragment'])
