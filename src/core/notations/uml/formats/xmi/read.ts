import type { FieldValue } from '../../../../model'
import { cut } from '../../../../model'
import { LIMITS } from '../../../../notation'
import { written, type Node } from '../../../../tabular/xml'
import {
  isTrue,
  isWhole,
  listOr,
  multiplicityOf,
  propertiesOf,
  specificationOf,
  turned,
  typeOfNode,
  valueOf,
  xmi,
} from './elements'
import type { Kept } from './pen'
import { FORM_TYPES, UNNAMED } from './names'
import { BehaviourReader } from './readBehaviour'

/** A fact as a file tells it: it is known, and names others, by the identities of the file. */
export interface ReadFact {
  readonly id: string
  readonly kind: string
  /** Of an entity. */
  name: string
  readonly fields: Record<string, FieldValue>
  /** Of a relation. */
  readonly source?: string
  readonly target?: string
}

const FORMS = turned(FORM_TYPES)

/** Attributes that are read, or made anew when the model is written. */
const READ = new Set([
  'name',
  'type',
  'isAbstract',
  'isFinalSpecialization',
  'isLeaf',
  'isStatic',
  'isDerived',
  'isOrdered',
  'isUnique',
  'isReadOnly',
  'isID',
  'isQuery',
  'general',
  'contract',
  'client',
  'supplier',
  'memberEnd',
  'navigableOwnedEnd',
  'association',
  'aggregation',
  'kind',
  'source',
  'target',
  'subject',
  'addition',
  'extendedCase',
  'extensionLocation',
  'messageSort',
  'sendEvent',
  'receiveEvent',
  'represents',
  'coveredBy',
  'covered',
  'message',
  'interactionOperator',
  'event',
  'direction',
  'value',
  'href',
  'classifierBehavior',
  'location',
  'deployedArtifact',
  'utilizedElement',
  'visibility',
])

/** Reads elements of UML as facts; what is not understood is kept with what it stands in. O(elements) */
export class Reader {
  readonly facts: ReadFact[] = []
  /** Elements at the outermost that are no facts, as XML. */
  readonly rest: string[] = []
  /** What was not kept, since it is too large. */
  readonly lost: string[] = []
  readonly #byId = new Map<string, Node>()
  readonly #parentOf = new Map<Node, Node>()
  readonly #made = new Map<string, ReadFact>()
  readonly #orders = new Map<string, number>()
  /** Events that set something off, by their identities. */
  readonly #events = new Set<string>()
  #unnamed = 0
  readonly #behaviour = new BehaviourReader(this)

  constructor(
    root: Node,
    /** Put before what has no identity in the file. */
    private readonly prefix: string,
  ) {
    const index = (node: Node) => {
      const id = xmi(node, 'id')
      if (id !== undefined && !this.#byId.has(id)) this.#byId.set(id, node)
      if (node.name === 'trigger') for (const event of this.refs(node, 'event')) this.#events.add(event)
      for (const child of node.children) {
        this.#parentOf.set(child, node)
        index(child)
      }
    }
    index(root)
    this.#packaged(root, undefined)
  }

  /** States a fact for an element; what the element says besides is kept with it. @returns its identity. */
  add(
    node: Node,
    kind: string,
    name: string,
    fields: Record<string, FieldValue | undefined>,
    known: ReadonlySet<string> = NONE,
    hasOrder = true,
  ): string {
    const id = this.#idOf(node)
    const holder = HOLDERS.map((field) => fields[field]).find((one) => one !== undefined)
    const fact: ReadFact = { id, kind, name: cut(name.trim() === '' ? UNNAMED : name, LIMITS.name), fields: {} }
    for (const [key, value] of Object.entries(fields)) if (value !== undefined && value !== '') fact.fields[key] = value
    if (hasOrder) fact.fields['order'] = this.#next(`${kind === 'operand' ? 'call' : kind} ${String(holder ?? '')}`)
    this.#keep(node, fact, known)
    this.facts.push(fact)
    this.#made.set(id, fact)
    return id
  }

  /** States a relation for an element, which is kept as it is where an end is missing. */
  tie(
    node: Node,
    kind: string,
    source: string | undefined,
    target: string | undefined,
    fields: Record<string, FieldValue | undefined> = {},
    known: ReadonlySet<string> = NONE,
  ): void {
    if (source === undefined || target === undefined) return this.#kept(node)
    const fact: ReadFact = { id: this.#idOf(node), kind, name: '', fields: {}, source, target }
    for (const [key, value] of Object.entries(fields)) if (value !== undefined && value !== '') fact.fields[key] = value
    this.#keep(node, fact, known)
    this.facts.push(fact)
  }

  #idOf(node: Node): string {
    const id = xmi(node, 'id')
    return id === undefined || this.#made.has(id) ? `${this.prefix}unnamed-${++this.#unnamed}` : id
  }

  #next(key: string): number {
    const order = (this.#orders.get(key) ?? 0) + 1
    this.#orders.set(key, order)
    return order
  }

  /** What an element says that is no fact: attributes, and elements of other names than those that are read. */
  #keep(node: Node, fact: ReadFact, known: ReadonlySet<string>): void {
    const attributes = Object.fromEntries(
      Object.entries(node.attributes).filter(([name]) => !name.includes(':') && name !== 'xmlns' && !READ.has(name)),
    )
    const xml = node.children.filter(({ name }) => !known.has(name)).map(written)
    const kept: Kept = {
      ...(Object.keys(attributes).length > 0 ? { attributes } : {}),
      ...(xml.length > 0 ? { xml: xml.join('') } : {}),
    }
    if (Object.keys(kept).length === 0) return
    const text = JSON.stringify({ ...(isOurs(fact.id) ? {} : { id: fact.id }), ...kept })
    if (text.length <= LIMITS.note) fact.fields['kept'] = text
    else this.lost.push(`what else “${fact.name || fact.id}” says`)
  }

  /** An element that is no fact. */
  #kept(node: Node): void {
    const xml = written(node)
    if (xml.length <= LIMITS.note - 100) this.rest.push(xml)
    else this.lost.push(`“${node.attributes['name'] ?? node.name}”`)
  }

  /** The name of what an attribute or an element of a name leads to, in this file or in that of the primitive types. */
  #typeOf(node: Node): string | undefined {
    const own = node.attributes['skivel:type']
    if (own !== undefined) return own
    const inner = node.children.find(({ name }) => name === 'type')
    const id = node.attributes['type'] ?? (inner && xmi(inner, 'idref'))
    const named = id === undefined ? undefined : this.#byId.get(id)?.attributes['name']
    return named ?? inner?.attributes['href']?.split('#').at(-1)
  }

  /** What attributes or elements of a name lead to, by their identities. */
  refs(node: Node, name: string): readonly string[] {
    const said = node.attributes[name]
    if (said !== undefined) return said.split(/\s+/).filter(Boolean)
    return node.children.filter((one) => one.name === name).flatMap((one) => xmi(one, 'idref') ?? [])
  }
  /** The element of an identity. */
  at = (id: string): Node | undefined => this.#byId.get(id)
  ref = (node: Node, name: string): string | undefined => this.refs(node, name)[0]

  #packaged(holder: Node, home: string | undefined): void {
    const later: (() => void)[] = []
    for (const node of holder.children) {
      if (node.name !== 'packagedElement') {
        // The elements of a package are kept with it; those of the model with the file.
        if (home === undefined && !['name'].includes(node.name)) this.#kept(node)
        continue
      }
      const type = typeOfNode(node)
      const read = this.#read(node, type, home)
      if (read === undefined) this.#kept(node)
      else if (typeof read === 'function') later.push(read)
    }
    // Ties come when what they join is known.
    for (const one of later) one()
  }

  #read(node: Node, type: string, home: string | undefined): (() => void) | true | undefined {
    const name = node.attributes['name'] ?? ''
    if (node.attributes['skivel:kind'] === 'subject') {
      this.add(node, 'subject', name, { package: home })
      return true
    }
    if (type === 'Package' || type === 'Model' || type === 'Profile') {
      const id = this.add(node, 'package', name, { package: home }, PACKAGED)
      this.#packaged(node, id)
      return true
    }
    if (FORMS.has(type)) return this.#class(node, type, home)
    switch (type) {
      case 'Association':
      case 'AssociationClass':
        return () => this.#association(node)
      case 'Dependency':
      case 'Usage':
      case 'Abstraction':
      case 'Realization':
      case 'InterfaceRealization':
        return () => this.#dependency(node, type)
      case 'Deployment':
        return () => this.#deployment(node)
      // What a component is manifested by; the deployment leads to it.
      case 'Artifact':
        return node.children.some((one) => one.name === 'manifestation') ? true : undefined
      // Triggers say them; one that none leads to is kept.
      case 'AnyReceiveEvent':
        return true
      case 'SignalEvent':
      case 'CallEvent':
      case 'TimeEvent':
      case 'ChangeEvent':
        return this.#events.has(xmi(node, 'id') ?? '') ? true : undefined
      case 'StateMachine':
        this.#behaviour.machine(node, undefined, home)
        return true
      case 'Actor': {
        const id = this.add(node, 'actor', name, { package: home }, GENERAL)
        return () => this.#generals(node, id)
      }
      case 'UseCase': {
        const subject = this.ref(node, 'subject')
        const id = this.add(node, 'use-case', name, { subject, package: home }, USE_CASE)
        return () => this.#useCase(node, id)
      }
      case 'Component': {
        const id = this.add(
          node,
          'component',
          name,
          { package: home },
          new Set(['ownedAttribute', 'interfaceRealization']),
        )
        for (const port of node.children)
          if (port.name === 'ownedAttribute' && typeOfNode(port) === 'Port')
            this.add(port, 'component-port', port.attributes['name'] ?? '', { component: id })
        return () => {
          for (const one of node.children)
            if (one.name === 'interfaceRealization')
              this.tie(one, 'provides', id, this.ref(one, 'contract') ?? this.ref(one, 'supplier'))
        }
      }
      case 'Node':
      case 'Device':
      case 'ExecutionEnvironment':
        this.#node(node, undefined, home)
        return true
      case 'Interaction':
        this.#behaviour.interaction(node, home)
        return true
      default:
        return undefined
    }
  }

  #node(node: Node, within: string | undefined, home?: string): void {
    const id = this.add(node, 'deployment-node', node.attributes['name'] ?? '', { within, package: home }, NESTED)
    for (const one of node.children) if (one.name === 'nestedNode') this.#node(one, id)
  }

  #class(node: Node, type: string, home: string | undefined): () => void {
    const form = FORMS.get(type)
    const stereotypes = node.attributes['skivel:stereotypes']?.split(', ')
    const id = this.add(
      node,
      'class',
      node.attributes['name'] ?? '',
      {
        form: form === 'class' ? undefined : form,
        abstract: isTrue(node, 'isAbstract') && form !== 'interface' ? true : undefined,
        leaf: isTrue(node, 'isFinalSpecialization') || isTrue(node, 'isLeaf') ? true : undefined,
        stereotypes,
        package: home,
      },
      CLASS,
    )
    for (const one of node.children) {
      const inner = one.attributes['name'] ?? ''
      if (one.name === 'ownedAttribute' && one.attributes['association'] === undefined) this.#attribute(one, id)
      if (one.name === 'ownedOperation') this.#operation(one, id)
      if (one.name === 'ownedLiteral') this.add(one, 'literal', inner, { class: id })
      if (one.name === 'ownedBehavior' && typeOfNode(one) === 'StateMachine') this.#behaviour.machine(one, id)
    }
    return () => {
      this.#generals(node, id)
      for (const one of node.children)
        if (one.name === 'interfaceRealization')
          this.tie(one, 'realization', id, this.ref(one, 'contract') ?? this.ref(one, 'supplier'))
    }
  }

  #generals(node: Node, id: string): void {
    for (const one of node.children)
      if (one.name === 'generalization') this.tie(one, 'generalization', id, this.ref(one, 'general'))
  }

  #attribute(node: Node, owner: string): void {
    this.add(
      node,
      'attribute',
      node.attributes['name'] ?? '',
      {
        class: owner,
        visibility: node.attributes['visibility'],
        type: this.#typeOf(node),
        multiplicity: multiplicityOf(node),
        default: this.#value(node.children.find(({ name }) => name === 'defaultValue')),
        static: isTrue(node, 'isStatic') ? true : undefined,
        derived: isTrue(node, 'isDerived') ? true : undefined,
        properties: listOr(propertiesOf(node)),
      },
      FEATURE,
    )
  }

  #operation(node: Node, owner: string): void {
    const parameters = node.children.filter(({ name }) => name === 'ownedParameter')
    const result = parameters.find((one) => one.attributes['direction'] === 'return')
    const words = parameters.flatMap((one) => {
      if (one === result) return []
      const { direction = 'in', name = '' } = one.attributes
      const type = this.#typeOf(one)
      const many = multiplicityOf(one)
      const start = this.#value(one.children.find((each) => each.name === 'defaultValue'))
      return [
        `${direction === 'in' ? '' : `${direction} `}${name}${type === undefined ? '' : ` : ${type}`}${many === undefined ? '' : ` [${many}]`}${start === undefined ? '' : ` = ${start}`}`,
      ]
    })
    this.add(
      node,
      'operation',
      node.attributes['name'] ?? '',
      {
        class: owner,
        visibility: node.attributes['visibility'],
        parameters: words.join(', '),
        type: result && this.#typeOf(result),
        multiplicity: result && multiplicityOf(result),
        abstract: isTrue(node, 'isAbstract') ? true : undefined,
        static: isTrue(node, 'isStatic') ? true : undefined,
        properties: isTrue(node, 'isQuery') ? ['query'] : undefined,
      },
      OPERATION,
    )
  }

  /** An association between classes, or of an actor with a use case. Its ends stand in it, or in the classes at its other end. */
  #association(node: Node): void {
    const ids = this.refs(node, 'memberEnd')
    const owned = node.children.filter(({ name }) => name === 'ownedEnd')
    const found = ids.length > 0 ? ids.flatMap((id) => this.#byId.get(id) ?? []) : owned
    const [a, b] = found
    const typed = (end: Node | undefined) => {
      const id =
        end?.attributes['type'] ??
        end?.children.flatMap((one) => (one.name === 'type' ? (xmi(one, 'idref') ?? []) : []))[0]
      return id !== undefined && this.#made.has(id) ? id : undefined
    }
    const [source, target] = [typed(a), typed(b)]
    if (!a || !b || found.length !== 2 || source === undefined || target === undefined) return this.#kept(node)
    const kinds = [source, target].map((id) => this.#made.get(id)?.kind)
    if (kinds.includes('use-case')) {
      const [actor, used] = kinds[0] === 'actor' ? [source, target] : [target, source]
      return this.tie(node, 'participation', actor, used, {}, ENDS)
    }
    const navigable = new Set(this.refs(node, 'navigableOwnedEnd'))
    // The end at the part says how it belongs to its whole: where the first end does, the whole is the second.
    const isTurned = isWhole(a) && !isWhole(b)
    const [near, far] = isTurned ? [b, a] : [a, b]
    const end = (key: 'source' | 'target', one: Node) => ({
      [`${key}Role`]: one.attributes['name'],
      [`${key}Multiplicity`]: multiplicityOf(one),
      // An end that a class owns is navigable (UML 2.5.1, 11.5.3).
      [`${key}Navigable`]:
        navigable.has(xmi(one, 'id') ?? '') || this.#parentOf.get(one)?.name !== node.name || one.name !== 'ownedEnd'
          ? 'yes'
          : undefined,
      [`${key}Properties`]: listOr(propertiesOf(one)),
    })
    this.tie(
      node,
      'association',
      isTurned ? target : source,
      isTurned ? source : target,
      {
        label: node.attributes['name'],
        aggregation: isWhole(far) ? far.attributes['aggregation'] : undefined,
        ...end('source', near),
        ...end('target', far),
      },
      ENDS,
    )
  }

  #dependency(node: Node, type: string): void {
    const [source, target] = [this.ref(node, 'client'), this.ref(node, 'supplier') ?? this.ref(node, 'contract')]
    const [from, to] = [source, target].map((id) => (id === undefined ? undefined : this.#made.get(id)?.kind))
    if (from === undefined || to === undefined) return this.#kept(node)
    const isPart = from === 'component' || from === 'component-port'
    const isTie = (isPart && to === 'class') || from === 'component-port'
    if (isTie)
      return this.tie(node, type === 'Usage' || type === 'Dependency' ? 'requires' : 'provides', source, target)
    if (type === 'Realization' || type === 'InterfaceRealization')
      return from === 'class' && to === 'class' ? this.tie(node, 'realization', source, target) : this.#kept(node)
    const keyword = type === 'Usage' ? 'use' : node.attributes['name']
    if (!DEPENDENT.has(from) || !DEPENDENT.has(to)) return this.#kept(node)
    this.tie(node, 'dependency', source, target, { keyword })
  }

  #deployment(node: Node): void {
    const place = this.ref(node, 'location') ?? this.ref(node, 'client')
    const deployed = this.ref(node, 'deployedArtifact') ?? this.ref(node, 'supplier')
    const artifact = deployed === undefined ? undefined : this.#byId.get(deployed)
    const manifestation = artifact?.children.find(({ name }) => name === 'manifestation')
    const component =
      manifestation && (this.ref(manifestation, 'utilizedElement') ?? this.ref(manifestation, 'supplier'))
    const isKnown = [place, component].every((id) => id !== undefined && this.#made.has(id))
    this.tie(node, 'deploys', isKnown ? place : undefined, component)
  }

  #useCase(node: Node, id: string): void {
    this.#generals(node, id)
    for (const one of node.children) {
      if (one.name === 'include') this.tie(one, 'include', id, this.ref(one, 'addition'))
      if (one.name === 'extend') {
        const condition = one.children.find(({ name }) => name === 'condition')
        this.tie(
          one,
          'extend',
          id,
          this.ref(one, 'extendedCase'),
          { condition: valueOf(specificationOf(condition)) },
          CONDITION,
        )
      }
    }
  }

  /** A value, that of an enumeration by the name of its literal. */
  #value(node: Node | undefined): string | undefined {
    const instance = node && typeOfNode(node) === 'InstanceValue' ? this.ref(node, 'instance') : undefined
    return (instance === undefined ? undefined : this.#byId.get(instance)?.attributes['name']) ?? valueOf(node)
  }
}

const HOLDERS = ['class', 'machine', 'interaction', 'component', 'within', 'package'] as const
const DEPENDENT = new Set(['class', 'package', 'component'])

const NONE: ReadonlySet<string> = new Set()
const PACKAGED = new Set(['packagedElement'])
const GENERAL = new Set(['generalization'])
const CLASS = new Set([
  'generalization',
  'interfaceRealization',
  'ownedAttribute',
  'ownedOperation',
  'ownedLiteral',
  'ownedBehavior',
])
const FEATURE = new Set(['type', 'lowerValue', 'upperValue', 'defaultValue'])
const OPERATION = new Set(['ownedParameter'])
const ENDS = new Set(['memberEnd', 'ownedEnd', 'navigableOwnedEnd'])
const USE_CASE = new Set(['generalization', 'include', 'extend', 'extensionPoint', 'subject'])
const CONDITION = new Set(['condition', 'extensionLocation', 'extendedCase'])
const NESTED = new Set(['nestedNode'])

/** Whether an identity is one that a fact of ours may have. */
const isOurs = (id: string): boolean => /^[\w.:~-]{1,64}$/.test(id)
