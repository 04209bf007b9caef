import { covers, grouped, type Day, type Entity, type Id, type Model, type Relation } from '../../../../model'
import { inOrder, listOf, textOf } from '../../../../notation'
import { SILENT } from '../../sequences/structure'
import { readParameters } from '../../syntax/members'
import { readMultiplicity } from '../../syntax/multiplicity'
import { isFault } from '../../syntax/scan'
import { PRIMITIVE_TYPES } from '../../types'
import { FORM_TYPES, KINDS_WRITTEN, MESSAGE_SORTS, PSEUDOSTATES, TIES_WRITTEN } from './names'
import { el, idsIn, keptEl, PRIMITIVES, typedEl, type El } from './tree'

/** What is written: both sorts of facts. */
export type Stated = Entity | Relation

/** The software of a day as elements of UML: what there is no element for is added beside them. O(facts) */
export class Writer {
  readonly #xmlIds = new Map<string, string>()
  readonly #taken = new Set<string>()
  readonly #of: (kind: string, field: string) => ReadonlyMap<string, readonly Entity[]>
  #relations: readonly Relation[]
  /** Facts that no element has a place for: what stands in itself, or in what is not there. */
  readonly #absent = new Set<string>()
  /** Facts whose kept elements are those of another fact. */
  readonly #twice = new Set<Stated>()
  readonly #here: (kind: string) => readonly Entity[]
  readonly #classes: ReadonlyMap<string, Entity>
  readonly #events = new Map<string, string>()
  readonly #parts = new Map<string, string>()

  constructor(
    private readonly model: Model,
    day: Day,
  ) {
    const known = new Map<string, readonly Entity[]>()
    this.#here = (kind) => {
      const list = known.get(kind) ?? inOrder(model.ofKind(kind).filter((one) => covers(one, day)))
      known.set(kind, list)
      return list
    }
    const groups = new Map<string, ReadonlyMap<string, readonly Entity[]>>()
    this.#of = (kind, field) => {
      const key = `${kind} ${field}`
      const group = groups.get(key) ?? grouped(this.#here(kind), ({ fields }) => String(fields[field] ?? ''))
      groups.set(key, group)
      return group
    }
    const entities = KINDS_WRITTEN.flatMap((kind) => this.#here(kind))
    const ids = new Set(entities.map(({ id }) => id))
    this.#relations = TIES_WRITTEN.flatMap((kind) => model.relationsOfKind(kind)).filter(
      (one) => covers(one, day) && ids.has(one.source) && ids.has(one.target),
    )
    this.#all = this.#relations
    // What is kept has identities of its own; a copy of it would say them twice.
    for (const one of [...entities, ...this.#relations]) {
      const inside = idsIn(keptOf(one.fields['kept']).xml ?? '')
      if (inside.some((id) => this.#taken.has(id)) || new Set(inside).size < inside.length) this.#twice.add(one)
      else for (const id of inside) this.#taken.add(id)
    }
    // Facts first: they keep their identities, and what is made for them goes out of their way.
    for (const one of entities) this.#xmlIds.set(`entity ${one.id}`, this.#unused(xmlName(this.#keptId(one) ?? one.id)))
    for (const one of this.#relations)
      this.#xmlIds.set(`relation ${one.id}`, this.#unused(xmlName(this.#keptId(one) ?? one.id)))
    this.#classes = new Map(
      this.#here('class')
        .toReversed()
        .map((one) => [one.name, one]),
    )
  }

  readonly #all: readonly Relation[]

  get facts(): { readonly entities: readonly Entity[]; readonly relations: readonly Relation[] } {
    return { entities: KINDS_WRITTEN.flatMap((kind) => this.#here(kind)), relations: this.#all }
  }

  /** By which identity a fact stands in the file. */
  idOf(fact: Stated): string {
    const id = this.#xmlIds.get(`${'source' in fact ? 'relation' : 'entity'} ${fact.id}`)
    if (id === undefined) throw new Error(`${fact.kind} ${fact.id} is not written`)
    return id
  }

  /** The model as an element. What has no place in it is led to by nothing. */
  document(): El {
    const id = this.#unused('model')
    const { entities, relations } = this.facts
    for (;;) {
      const document = this.#document(id)
      const placed = new Set<string>()
      const look = ({ attributes, children }: El) => {
        placed.add(attributes['xmi:id'] ?? '')
        children.forEach(look)
      }
      look(document)
      const before = this.#absent.size
      for (const one of [...entities, ...relations]) if (!placed.has(this.idOf(one))) this.#absent.add(this.idOf(one))
      if (this.#absent.size === before) return document
      this.#relations = this.#all.filter((one) => this.#entity(one.source) && this.#entity(one.target))
    }
  }

  #document(id: string): El {
    const packaged = [
      ...this.#inside(''),
      ...this.#here('machine').flatMap((one) =>
        this.#written(one.fields['class'])?.kind === 'class' ? [] : [this.#machine(one, 'packagedElement')],
      ),
      ...this.#here('subject').map((one) => this.#box('packagedElement', 'Class', one, { 'skivel:kind': 'subject' })),
      ...this.#here('actor').map((one) => this.#box('packagedElement', 'Actor', one, {}, this.#generals(one))),
      ...this.#here('use-case').map((one) => this.#useCase(one)),
      ...this.#here('component').map((one) => this.#component(one)),
      ...this.#here('deployment-node')
        .filter((one) => this.#written(one.fields['within'])?.kind !== 'deployment-node')
        .map((one) => this.#node(one, 'packagedElement', new Set())),
      ...this.#here('interaction').map((one) => this.#interaction(one)),
      ...this.#relations.flatMap((one) => this.#packagedTie(one)),
    ]
    return typedEl('uml:Model', 'Model', id, { name: this.model.name }, [...packaged, ...this.#eventEls()])
  }

  #unused(wanted: string): string {
    let id = wanted
    for (let count = 2; this.#taken.has(id); count++) id = `${wanted}-${count}`
    this.#taken.add(id)
    return id
  }

  /** The identity of a part that is no fact. */
  #part(fact: Stated, part: string): string {
    const wanted = `${this.idOf(fact)}.${part}`
    const id = this.#parts.get(wanted) ?? this.#unused(wanted)
    this.#parts.set(wanted, id)
    return id
  }

  #keptId({ fields }: Stated): string | undefined {
    return keptOf(fields['kept']).id
  }

  /** A fact that is to be written. */
  #written(id: unknown): Entity | undefined {
    const one = typeof id === 'string' ? this.model.entities.get(id as Id) : undefined
    return one && this.#xmlIds.has(`entity ${one.id}`) ? one : undefined
  }

  /** A fact that has its place among the elements. */
  #entity(id: unknown): Entity | undefined {
    const one = this.#written(id)
    return one && !this.#absent.has(this.idOf(one)) ? one : undefined
  }

  #ref(id: unknown): string | undefined {
    const one = this.#entity(id)
    return one && this.idOf(one)
  }

  /** A fact as an element: with its name, and whatever a file said of it that is no fact. */
  #box(
    name: string,
    type: string,
    one: Entity,
    more: Record<string, string | undefined> = {},
    children: readonly (El | undefined)[] = [],
  ): El {
    const { attributes } = keptOf(one.fields['kept'])
    return typedEl(name, type, this.idOf(one), { name: one.name, ...attributes, ...more }, [
      ...children,
      ...this.#beside(one),
    ])
  }

  /** The packages and classes within a package. */
  #inside(home: string, seen: ReadonlySet<string> = new Set()): readonly El[] {
    const isHere = (one: Entity) => {
      const at = this.#written(one.fields['package'])
      return (at?.kind === 'package' ? at.id : '') === home
    }
    const packages = this.#here('package').filter((one) => isHere(one) && !seen.has(one.id))
    return [
      ...packages.map((one) =>
        this.#box('packagedElement', 'Package', one, {}, this.#inside(one.id, new Set([...seen, one.id]))),
      ),
      ...this.#here('class')
        .filter(isHere)
        .map((one) => this.#class(one)),
    ]
  }

  #class(one: Entity): El {
    const { fields } = one
    const members = (kind: string) => this.#of(kind, 'class').get(one.id) ?? []
    const machines = this.#of('machine', 'class').get(one.id) ?? []
    const type = FORM_TYPES[String(fields['form'] ?? 'class')] ?? 'Class'
    return this.#box(
      'packagedElement',
      type,
      one,
      {
        isAbstract: fields['abstract'] === true ? 'true' : undefined,
        isFinalSpecialization: fields['leaf'] === true ? 'true' : undefined,
        'skivel:stereotypes': listOf(one, 'stereotypes').join(', ') || undefined,
      },
      [
        ...this.#generals(one),
        ...this.#relations
          .filter(({ kind, source }) => kind === 'realization' && source === one.id && type === 'Class')
          .map((tie) =>
            this.#dependency('interfaceRealization', 'InterfaceRealization', tie, { contract: this.#ref(tie.target) }),
          ),
        ...members('attribute').map((each) => this.#attribute(each)),
        ...members('operation').map((each) => this.#operation(each)),
        ...members('literal').map((each) => this.#box('ownedLiteral', 'EnumerationLiteral', each)),
        ...machines.map((each) => this.#machine(each, 'ownedBehavior')),
      ],
    )
  }

  #generals(one: Entity): readonly El[] {
    return this.#relations
      .filter(({ kind, source }) => kind === 'generalization' && source === one.id)
      .map((tie) =>
        typedEl(
          'generalization',
          'Generalization',
          this.idOf(tie),
          { general: this.#ref(tie.target) },
          this.#beside(tie),
        ),
      )
  }

  #beside(fact: Stated): readonly El[] {
    const xml = this.#twice.has(fact) ? undefined : keptEl(keptOf(fact.fields['kept']).xml)
    return xml === undefined ? [] : [xml]
  }

  #dependency(name: string, type: string, tie: Relation, more: Record<string, string | undefined> = {}): El {
    const ends = { client: this.#ref(tie.source), supplier: this.#ref(tie.target) }
    return typedEl(name, type, this.idOf(tie), { ...ends, ...more }, this.#beside(tie))
  }

  /** A type that is the name of a class or of a primitive type leads there; any other is kept beside. */
  #type(text: string | undefined): { attributes: Record<string, string | undefined>; children: readonly El[] } {
    if (text === undefined) return { attributes: {}, children: [] }
    const known = this.#ref(this.#classes.get(text)?.id)
    if (known !== undefined) return { attributes: { type: known }, children: [] }
    if (PRIMITIVE_TYPES.has(text))
      return {
        attributes: {},
        children: [el('type', { 'xmi:type': 'uml:PrimitiveType', href: `${PRIMITIVES}#${text}` })],
      }
    return { attributes: { 'skivel:type': text }, children: [] }
  }

  /** `lowerValue` and `upperValue`, where both are numbers. */
  #multiplicity(fact: Stated, text: unknown, at = ''): readonly El[] {
    const read = typeof text === 'string' ? readMultiplicity(text) : undefined
    if (!read || isFault(read) || typeof read.lower !== 'number' || typeof read.upper !== 'number') return []
    const { lower, upper } = read
    return [
      typedEl('lowerValue', 'LiteralInteger', this.#part(fact, `${at}lower`), { value: lower }),
      typedEl('upperValue', 'LiteralUnlimitedNatural', this.#part(fact, `${at}upper`), {
        value: upper === Infinity ? '*' : upper,
      }),
    ]
  }

  #expression(
    name: string,
    fact: Stated,
    part: string,
    body: string | undefined,
    type = 'OpaqueExpression',
  ): El | undefined {
    return body === undefined || body === ''
      ? undefined
      : typedEl(name, type, this.#part(fact, part), {}, [el('body', {}, [], body)])
  }

  #attribute(one: Entity): El {
    const { fields } = one
    const properties = listOf(one, 'properties')
    const { attributes, children } = this.#type(textOf(one, 'type'))
    return this.#box(
      'ownedAttribute',
      'Property',
      one,
      {
        visibility: textOf(one, 'visibility'),
        isStatic: fields['static'] === true ? 'true' : undefined,
        isDerived: fields['derived'] === true ? 'true' : undefined,
        ...flagsOf(properties),
        ...attributes,
      },
      [
        ...children,
        ...this.#multiplicity(one, fields['multiplicity']),
        this.#expression('defaultValue', one, 'default', textOf(one, 'default')),
      ],
    )
  }

  #operation(one: Entity): El {
    const { fields } = one
    const read = readParameters(textOf(one, 'parameters') ?? '')
    const result = textOf(one, 'type')
    const parameters = isFault(read) ? [] : read
    return this.#box(
      'ownedOperation',
      'Operation',
      one,
      {
        visibility: textOf(one, 'visibility'),
        isAbstract: fields['abstract'] === true ? 'true' : undefined,
        isStatic: fields['static'] === true ? 'true' : undefined,
        isQuery: listOf(one, 'properties').includes('query') ? 'true' : undefined,
      },
      [
        ...parameters.map((each, at) => {
          const { attributes, children } = this.#type(each.type)
          return typedEl(
            'ownedParameter',
            'Parameter',
            this.#part(one, `p${at + 1}`),
            { name: each.name, direction: each.direction === 'in' ? undefined : each.direction, ...attributes },
            [
              ...children,
              ...this.#multiplicity(one, each.multiplicity, `p${at + 1}.`),
              this.#expression('defaultValue', one, `p${at + 1}.default`, each.default),
            ],
          )
        }),
        ...(result === undefined
          ? []
          : [
              typedEl(
                'ownedParameter',
                'Parameter',
                this.#part(one, 'result'),
                { direction: 'return', ...this.#type(result).attributes },
                [...this.#type(result).children, ...this.#multiplicity(one, fields['multiplicity'])],
              ),
            ]),
      ],
    )
  }

  /** What stands in no element of one of its ends. */
  #packagedTie(tie: Relation): readonly El[] {
    const [source, target] = [this.#entity(tie.source), this.#entity(tie.target)]
    if (tie.kind === 'association') return [this.#association(tie)]
    if (tie.kind === 'participation') return [this.#plainAssociation(tie)]
    if (tie.kind === 'dependency')
      return [
        this.#dependency('packagedElement', tie.fields['keyword'] === 'use' ? 'Usage' : 'Dependency', tie, {
          name: tie.fields['keyword'] === 'use' ? undefined : textOf(tie, 'keyword'),
        }),
      ]
    if (tie.kind === 'realization')
      return FORM_TYPES[String(source?.fields['form'] ?? 'class')] === 'Class'
        ? []
        : [this.#dependency('packagedElement', 'Realization', tie)]
    if (tie.kind === 'provides') return [this.#dependency('packagedElement', 'Realization', tie)]
    if (tie.kind === 'requires') return [this.#dependency('packagedElement', 'Usage', tie)]
    if (tie.kind === 'deploys' && target) {
      // Nodes have artifacts deployed on them, which manifest components (UML 2.5.1, 19.3).
      const artifact = this.#part(tie, 'artifact')
      return [
        typedEl('packagedElement', 'Artifact', artifact, { name: target.name }, [
          typedEl('manifestation', 'Manifestation', this.#part(tie, 'manifestation'), {
            client: artifact,
            supplier: this.idOf(target),
            utilizedElement: this.idOf(target),
          }),
        ]),
        typedEl('packagedElement', 'Deployment', this.idOf(tie), {
          client: this.#ref(tie.source),
          location: this.#ref(tie.source),
          supplier: artifact,
          deployedArtifact: artifact,
        }),
      ]
    }
    return []
  }

  #association(tie: Relation): El {
    const text = (key: string) => textOf(tie, key)
    const ends = (['source', 'target'] as const).map((end) => {
      const id = this.#part(tie, end)
      const isWhole = end === 'target' && text('aggregation') !== undefined
      return {
        id,
        isNavigable: text(`${end}Navigable`) === 'yes',
        element: typedEl(
          'ownedEnd',
          'Property',
          id,
          {
            name: text(`${end}Role`),
            type: this.#ref(tie[end]),
            association: this.idOf(tie),
            // The end at the part says how it belongs to its whole (UML 2.5.1, 9.9.17).
            aggregation: isWhole ? text('aggregation') : undefined,
            ...flagsOf(listOf(tie, `${end}Properties`)),
          },
          this.#multiplicity(tie, tie.fields[`${end}Multiplicity`], `${end}.`),
        ),
      }
    })
    return typedEl(
      'packagedElement',
      'Association',
      this.idOf(tie),
      {
        name: text('label'),
        memberEnd: ends.map(({ id }) => id).join(' '),
        navigableOwnedEnd: ends.flatMap(({ id, isNavigable }) => (isNavigable ? id : [])).join(' ') || undefined,
      },
      [...ends.map(({ element }) => element), ...this.#beside(tie)],
    )
  }

  #plainAssociation(tie: Relation): El {
    const ends = (['source', 'target'] as const).map((end) => ({ id: this.#part(tie, end), type: this.#ref(tie[end]) }))
    return typedEl(
      'packagedElement',
      'Association',
      this.idOf(tie),
      { memberEnd: ends.map(({ id }) => id).join(' ') },
      [
        ...ends.map(({ id, type }) => typedEl('ownedEnd', 'Property', id, { type, association: this.idOf(tie) })),
        ...this.#beside(tie),
      ],
    )
  }

  #machine(one: Entity, name: string): El {
    const states = this.#of('state', 'machine').get(one.id) ?? []
    const regions = this.#of('region', 'machine').get(one.id) ?? []
    const ids = new Set([...states, ...regions].map(({ id }) => id))
    const homeOf = (each: Entity) => (ids.has(each.fields['within'] as Id) ? String(each.fields['within']) : '')
    const inside = grouped(states, homeOf)
    const parts = grouped(regions, homeOf)
    const leaving = grouped(
      this.#relations.filter(({ kind }) => kind === 'transition'),
      ({ source }) => source,
    )
    const region = (id: string, named: string | undefined, list: readonly Entity[], seen: ReadonlySet<string>): El =>
      typedEl('region', 'Region', id, { name: named }, [
        ...list.map((each) => state(each, seen)),
        ...list.flatMap((each) => (leaving.get(each.id) ?? []).map((tie) => this.#transition(tie))),
      ])
    const regionsIn = (home: Stated, key: string, seen: ReadonlySet<string>): readonly El[] => {
      const direct = (inside.get(key) ?? []).filter(({ id }) => !seen.has(id))
      return [
        ...(direct.length > 0 ? [region(this.#part(home, 'region'), undefined, direct, seen)] : []),
        ...(parts.get(key) ?? []).map((each) => region(this.idOf(each), each.name, inside.get(each.id) ?? [], seen)),
      ]
    }
    const state = (each: Entity, above: ReadonlySet<string>): El => {
      const form = String(each.fields['form'] ?? 'state')
      if (form === 'final') return this.#box('subvertex', 'FinalState', each)
      const pseudo = PSEUDOSTATES[form]
      if (pseudo !== undefined)
        return this.#box('subvertex', 'Pseudostate', each, { kind: pseudo === 'initial' ? undefined : pseudo })
      const seen = new Set([...above, each.id])
      return this.#box('subvertex', 'State', each, {}, [
        this.#expression('entry', each, 'entry', textOf(each, 'entry'), 'OpaqueBehavior'),
        this.#expression('exit', each, 'exit', textOf(each, 'exit'), 'OpaqueBehavior'),
        this.#expression('doActivity', each, 'do', textOf(each, 'do'), 'OpaqueBehavior'),
        ...regionsIn(each, each.id, seen),
      ])
    }
    return this.#box(name, 'StateMachine', one, {}, regionsIn(one, '', new Set()))
  }

  #transition(tie: Relation): El {
    const trigger = textOf(tie, 'trigger')
    const guard = this.#expression('specification', tie, 'condition', textOf(tie, 'guard'))
    return typedEl(
      'transition',
      'Transition',
      this.idOf(tie),
      {
        source: this.#ref(tie.source),
        target: this.#ref(tie.target),
        kind: tie.fields['internal'] === true ? 'internal' : undefined,
      },
      [
        guard && typedEl('ownedRule', 'Constraint', this.#part(tie, 'guard'), {}, [guard]),
        trigger === undefined
          ? undefined
          : typedEl('trigger', 'Trigger', this.#part(tie, 'trigger'), { name: trigger, event: this.#event(trigger) }),
        this.#expression('effect', tie, 'effect', textOf(tie, 'effect'), 'OpaqueBehavior'),
        ...this.#beside(tie),
      ],
    )
  }

  /** A trigger needs an event (UML 2.5.1, 13.4.9): one for each text. */
  #event(text: string): string {
    const id = this.#events.get(text) ?? this.#unused(`event-${this.#events.size + 1}`)
    this.#events.set(text, id)
    return id
  }
  #eventEls = (): readonly El[] =>
    [...this.#events].map(([name, id]) => typedEl('packagedElement', 'AnyReceiveEvent', id, { name }))

  #useCase(one: Entity): El {
    const leaving = (kind: string) => this.#relations.filter((tie) => tie.kind === kind && tie.source === one.id)
    const extended = this.#relations.filter(({ kind, target }) => kind === 'extend' && target === one.id)
    return this.#box('packagedElement', 'UseCase', one, { subject: this.#ref(one.fields['subject']) }, [
      ...this.#generals(one),
      ...leaving('include').map((tie) =>
        typedEl('include', 'Include', this.idOf(tie), { addition: this.#ref(tie.target) }, this.#beside(tie)),
      ),
      ...leaving('extend').map((tie) => {
        const condition = this.#expression('specification', tie, 'if', textOf(tie, 'condition'))
        return typedEl(
          'extend',
          'Extend',
          this.idOf(tie),
          { extendedCase: this.#ref(tie.target), extensionLocation: this.#part(tie, 'at') },
          [
            condition && typedEl('condition', 'Constraint', this.#part(tie, 'condition'), {}, [condition]),
            ...this.#beside(tie),
          ],
        )
      }),
      // Where one is extended is one of its extension points (UML 2.5.1, 18.2.2).
      ...extended.map((tie) => typedEl('extensionPoint', 'ExtensionPoint', this.#part(tie, 'at'), {})),
    ])
  }

  #component(one: Entity): El {
    return this.#box(
      'packagedElement',
      'Component',
      one,
      {},
      (this.#of('component-port', 'component').get(one.id) ?? []).map((port) =>
        this.#box('ownedAttribute', 'Port', port),
      ),
    )
  }

  #node(one: Entity, name: string, above: ReadonlySet<string>): El {
    const seen = new Set([...above, one.id])
    const inner = (this.#of('deployment-node', 'within').get(one.id) ?? []).filter(({ id }) => !seen.has(id))
    return this.#box(
      name,
      'Node',
      one,
      {},
      inner.map((each) => this.#node(each, 'nestedNode', seen)),
    )
  }

  #interaction(one: Entity): El {
    const lifelines = this.#of('lifeline', 'interaction').get(one.id) ?? []
    const events = inOrder([
      ...(this.#of('call', 'interaction').get(one.id) ?? []),
      ...(this.#of('operand', 'interaction').get(one.id) ?? []),
    ])
    const ids = new Set(events.map(({ id }) => id))
    const inside = grouped(events, ({ fields }) => (ids.has(fields['within'] as Id) ? String(fields['within']) : ''))
    const covered = new Map<string, string[]>()
    const messages: El[] = []
    const occurrence = (call: Entity, end: 'from' | 'to'): El => {
      const id = this.#part(call, end)
      const lifeline = this.#ref(call.fields[end])
      if (lifeline !== undefined) covered.set(lifeline, [...(covered.get(lifeline) ?? []), id])
      return typedEl('fragment', 'MessageOccurrenceSpecification', id, { covered: lifeline, message: this.idOf(call) })
    }
    const walk = (key: string, seen: ReadonlySet<string>): readonly El[] => {
      const list = (inside.get(key) ?? []).filter(({ id }) => !seen.has(id))
      const made: El[] = []
      for (let at = 0; at < list.length; at++) {
        const each = list[at]
        if (!each) break
        if (each.kind === 'call') {
          const [from, to] = [occurrence(each, 'from'), occurrence(each, 'to')]
          made.push(from, to)
          messages.push(
            this.#box('message', 'Message', each, {
              name: each.name === SILENT ? undefined : each.name,
              messageSort: MESSAGE_SORTS[String(each.fields['sort'] ?? 'asks')],
              sendEvent: from.attributes['xmi:id'],
              receiveEvent: to.attributes['xmi:id'],
            }),
          )
          continue
        }
        const { operator, next } = operatorOf(String(each.fields['sort']))
        const operands = [each]
        while (next !== undefined && list[at + 1]?.kind === 'operand' && list[at + 1]?.fields['sort'] === next)
          operands.push(list[++at] as Entity)
        made.push(
          typedEl(
            'fragment',
            'CombinedFragment',
            this.#part(each, 'fragment'),
            { interactionOperator: operator },
            operands.map((operand) => this.#operand(operand, walk(operand.id, new Set([...seen, operand.id])))),
          ),
        )
      }
      return made
    }
    const fragments = walk('', new Set())
    return this.#box('packagedElement', 'Interaction', one, {}, [
      ...lifelines
        .map((each) => this.#part(each, 'part'))
        .map((id, at) => {
          const lifeline = lifelines[at] as Entity
          return typedEl('ownedAttribute', 'Property', id, {
            name: lifeline.name,
            type: this.#ref(lifeline.fields['class']),
          })
        }),
      ...lifelines.map((each) =>
        this.#box('lifeline', 'Lifeline', each, {
          represents: this.#part(each, 'part'),
          coveredBy: covered.get(this.idOf(each))?.join(' '),
        }),
      ),
      ...fragments,
      ...messages,
    ])
  }

  #operand(one: Entity, inner: readonly El[]): El {
    const guard = one.name === SILENT ? undefined : this.#expression('specification', one, 'condition', one.name)
    return this.#box('operand', 'InteractionOperand', one, { name: undefined }, [
      guard && typedEl('guard', 'InteractionConstraint', this.#part(one, 'guard'), {}, [guard]),
      ...inner,
    ])
  }
}

/** What an operand of a sort stands in, and which goes on with it. */
const operatorOf = (sort: string): { readonly operator: string; readonly next?: string } =>
  sort === 'either' || sort === 'or'
    ? { operator: 'alt', next: 'or' }
    : sort === 'while'
      ? { operator: 'loop' }
      : sort === 'at once' || sort === 'meanwhile'
        ? { operator: 'par', next: 'meanwhile' }
        : { operator: 'opt' }

/** Properties of an attribute or of an end that are flags of a Property. */
const flagsOf = (properties: readonly string[]): Record<string, string | undefined> => ({
  isOrdered: properties.includes('ordered') || properties.includes('sequence') ? 'true' : undefined,
  isUnique: properties.includes('nonunique') || properties.includes('sequence') ? 'false' : undefined,
  isReadOnly: properties.includes('readOnly') ? 'true' : undefined,
  isID: properties.includes('id') ? 'true' : undefined,
})

/** An identity that XML takes: it begins with a letter or underscore (NCName). */
const xmlName = (id: string): string => (/^[A-Za-z_][\w.-]*$/.test(id) ? id : `_${id.replace(/[^\w.-]/g, '-')}`)

/** Attributes by plain names: what else somebody put there is none. */
const plainOf = (attributes: unknown): Record<string, string> =>
  typeof attributes === 'object' && attributes !== null
    ? Object.fromEntries(
        Object.entries(attributes).flatMap(([name, value]) =>
          /^[A-Za-z_][\w.-]*$/.test(name) && name !== 'name' && typeof value === 'string' ? [[name, value]] : [],
        ),
      )
    : {}

/** What a file said of a fact that is none: its identity there, attributes and elements. */
export interface Kept {
  readonly id?: string
  readonly attributes?: Readonly<Record<string, string>>
  readonly xml?: string
}
export function keptOf(value: unknown): Kept {
  if (typeof value !== 'string') return {}
  try {
    const read: unknown = JSON.parse(value)
    if (typeof read !== 'object' || read === null) return {}
    const { id, attributes, xml } = read as Record<string, unknown>
    return {
      ...(typeof id === 'string' ? { id } : {}),
      ...(attributes === undefined ? {} : { attributes: plainOf(attributes) }),
      ...(typeof xml === 'string' ? { xml } : {}),
    }
  } catch {
    // Somebody wrote something else there: it is no XML.
    return {}
  }
}
