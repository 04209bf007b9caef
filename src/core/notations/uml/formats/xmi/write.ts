import type { Day, Entity, Model, Relation } from '../../../../model'
import { listOf, textOf } from '../../../../notation'
import { readParameters } from '../../syntax/members'
import { isFault } from '../../syntax/scan'
import { FORM_TYPES } from './names'
import { Pen } from './pen'
import { typedEl, type El } from './tree'
import { BehaviourWriter } from './writeBehaviour'

/** The software of a day as elements of UML: what there is no element for is added beside them. O(facts) */
export class Writer {
  readonly pen: Pen
  readonly #behaviour: BehaviourWriter

  constructor(
    private readonly model: Model,
    day: Day,
  ) {
    this.pen = new Pen(model, day)
    this.#behaviour = new BehaviourWriter(this.pen)
  }

  /** The model as an element. What has no place in it is led to by nothing. */
  document(): El {
    const id = this.pen.unused('model')
    const { entities, relations } = this.pen.facts
    for (;;) {
      const document = this.#document(id)
      const placed = new Set<string>()
      const look = ({ attributes, children }: El) => {
        placed.add(attributes['xmi:id'] ?? '')
        children.forEach(look)
      }
      look(document)
      if (this.pen.settled([...entities, ...relations].filter((one) => !placed.has(this.pen.idOf(one)))))
        return document
    }
  }

  #document(id: string): El {
    const packaged = [...this.#inside(''), ...this.pen.relations.flatMap((one) => this.#packagedTie(one))]
    return typedEl('uml:Model', 'Model', id, { name: this.model.name }, [...packaged, ...this.#behaviour.eventEls()])
  }

  /** The packages and all else within a package. */
  #inside(home: string, seen: ReadonlySet<string> = new Set()): readonly El[] {
    const isHere = (one: Entity) => {
      const at = this.pen.written(one.fields['package'])
      return (at?.kind === 'package' ? at.id : '') === home
    }
    const packages = this.pen.here('package').filter((one) => isHere(one) && !seen.has(one.id))
    return [
      ...packages.map((one) =>
        this.pen.box('packagedElement', 'Package', one, {}, this.#inside(one.id, new Set([...seen, one.id]))),
      ),
      ...this.pen
        .here('class')
        .filter(isHere)
        .map((one) => this.#class(one)),
      ...this.#beside(isHere),
    ]
  }

  /** What stands in a package, or in none, besides packages and classes. */
  #beside(isHere: (one: Entity) => boolean): readonly El[] {
    const here = (kind: string) => this.pen.here(kind).filter(isHere)
    return [
      ...here('machine').flatMap((one) =>
        this.pen.written(one.fields['class'])?.kind === 'class'
          ? []
          : [this.#behaviour.machine(one, 'packagedElement')],
      ),
      ...here('subject').map((one) => this.pen.box('packagedElement', 'Class', one, { 'skivel:kind': 'subject' })),
      ...here('actor').map((one) => this.pen.box('packagedElement', 'Actor', one, {}, this.pen.generals(one))),
      ...here('use-case').map((one) => this.#useCase(one)),
      ...here('component').map((one) => this.#component(one)),
      ...here('deployment-node')
        .filter((one) => this.pen.written(one.fields['within'])?.kind !== 'deployment-node')
        .map((one) => this.#node(one, 'packagedElement', new Set())),
      ...here('interaction').map((one) => this.#behaviour.interaction(one)),
    ]
  }

  #class(one: Entity): El {
    const { fields } = one
    const members = (kind: string) => this.pen.of(kind, 'class').get(one.id) ?? []
    const machines = this.pen.of('machine', 'class').get(one.id) ?? []
    const type = FORM_TYPES[String(fields['form'] ?? 'class')] ?? 'Class'
    return this.pen.box(
      'packagedElement',
      type,
      one,
      {
        isAbstract: fields['abstract'] === true ? 'true' : undefined,
        isFinalSpecialization: fields['leaf'] === true ? 'true' : undefined,
        'skivel:stereotypes': listOf(one, 'stereotypes').join(', ') || undefined,
      },
      [
        ...this.pen.generals(one),
        ...(type === 'Class' ? this.pen.leaving('realization', one) : []).map((tie) =>
          this.pen.dependency('interfaceRealization', 'InterfaceRealization', tie, {
            contract: this.pen.ref(tie.target),
          }),
        ),
        ...members('attribute').map((each) => this.#attribute(each)),
        ...members('operation').map((each) => this.#operation(each)),
        ...members('literal').map((each) => this.pen.box('ownedLiteral', 'EnumerationLiteral', each)),
        ...machines.map((each) => this.#behaviour.machine(each, 'ownedBehavior')),
      ],
    )
  }

  #attribute(one: Entity): El {
    const { fields } = one
    const properties = listOf(one, 'properties')
    const { attributes, children } = this.pen.type(textOf(one, 'type'))
    return this.pen.box(
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
        ...this.pen.multiplicity(one, fields['multiplicity']),
        this.pen.initial(one, 'default', textOf(one, 'type'), textOf(one, 'default')),
      ],
    )
  }

  #operation(one: Entity): El {
    const { fields } = one
    const read = readParameters(textOf(one, 'parameters') ?? '')
    const result = textOf(one, 'type')
    const parameters = isFault(read) ? [] : read
    return this.pen.box(
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
          const { attributes, children } = this.pen.type(each.type)
          return typedEl(
            'ownedParameter',
            'Parameter',
            this.pen.part(one, `p${at + 1}`),
            { name: each.name, direction: each.direction === 'in' ? undefined : each.direction, ...attributes },
            [
              ...children,
              ...this.pen.multiplicity(one, each.multiplicity, `p${at + 1}.`),
              this.pen.initial(one, `p${at + 1}.default`, each.type, each.default),
            ],
          )
        }),
        ...(result === undefined
          ? []
          : [
              typedEl(
                'ownedParameter',
                'Parameter',
                this.pen.part(one, 'result'),
                { direction: 'return', ...this.pen.type(result).attributes },
                [...this.pen.type(result).children, ...this.pen.multiplicity(one, fields['multiplicity'])],
              ),
            ]),
      ],
    )
  }

  /** What stands in no element of one of its ends. */
  #packagedTie(tie: Relation): readonly El[] {
    const [source, target] = [this.pen.entity(tie.source), this.pen.entity(tie.target)]
    if (tie.kind === 'association') return [this.#association(tie)]
    if (tie.kind === 'participation') return [this.#plainAssociation(tie)]
    if (tie.kind === 'dependency')
      return [
        this.pen.dependency('packagedElement', tie.fields['keyword'] === 'use' ? 'Usage' : 'Dependency', tie, {
          name: tie.fields['keyword'] === 'use' ? undefined : textOf(tie, 'keyword'),
        }),
      ]
    if (tie.kind === 'realization')
      return FORM_TYPES[String(source?.fields['form'] ?? 'class')] === 'Class'
        ? []
        : [this.pen.dependency('packagedElement', 'Realization', tie)]
    if (tie.kind === 'provides') return [this.pen.dependency('packagedElement', 'Realization', tie)]
    if (tie.kind === 'requires') return [this.pen.dependency('packagedElement', 'Usage', tie)]
    if (tie.kind === 'deploys' && target) {
      // Nodes have artifacts deployed on them, which manifest components (UML 2.5.1, 19.3).
      const artifact = this.pen.part(tie, 'artifact')
      return [
        typedEl('packagedElement', 'Artifact', artifact, { name: target.name }, [
          typedEl('manifestation', 'Manifestation', this.pen.part(tie, 'manifestation'), {
            client: artifact,
            supplier: this.pen.idOf(target),
            utilizedElement: this.pen.idOf(target),
          }),
        ]),
        typedEl('packagedElement', 'Deployment', this.pen.idOf(tie), {
          client: this.pen.ref(tie.source),
          location: this.pen.ref(tie.source),
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
      const id = this.pen.part(tie, end)
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
            type: this.pen.ref(tie[end]),
            association: this.pen.idOf(tie),
            // The end at the part says how it belongs to its whole (UML 2.5.1, 9.9.17).
            aggregation: isWhole ? text('aggregation') : undefined,
            ...flagsOf(listOf(tie, `${end}Properties`)),
          },
          this.pen.multiplicity(tie, tie.fields[`${end}Multiplicity`], `${end}.`),
        ),
      }
    })
    return typedEl(
      'packagedElement',
      'Association',
      this.pen.idOf(tie),
      {
        name: text('label'),
        memberEnd: ends.map(({ id }) => id).join(' '),
        navigableOwnedEnd: ends.flatMap(({ id, isNavigable }) => (isNavigable ? id : [])).join(' ') || undefined,
      },
      [...ends.map(({ element }) => element), ...this.pen.beside(tie)],
    )
  }

  #plainAssociation(tie: Relation): El {
    const ends = (['source', 'target'] as const).map((end) => ({
      id: this.pen.part(tie, end),
      type: this.pen.ref(tie[end]),
    }))
    return typedEl(
      'packagedElement',
      'Association',
      this.pen.idOf(tie),
      { memberEnd: ends.map(({ id }) => id).join(' ') },
      [
        ...ends.map(({ id, type }) => typedEl('ownedEnd', 'Property', id, { type, association: this.pen.idOf(tie) })),
        ...this.pen.beside(tie),
      ],
    )
  }
  #useCase(one: Entity): El {
    const leaving = (kind: string) => this.pen.leaving(kind, one)
    const extended = this.pen.relations.filter(({ kind, target }) => kind === 'extend' && target === one.id)
    return this.pen.box('packagedElement', 'UseCase', one, { subject: this.pen.ref(one.fields['subject']) }, [
      ...this.pen.generals(one),
      ...leaving('include').map((tie) =>
        typedEl('include', 'Include', this.pen.idOf(tie), { addition: this.pen.ref(tie.target) }, this.pen.beside(tie)),
      ),
      ...leaving('extend').map((tie) => {
        const condition = this.pen.expression('specification', tie, 'if', textOf(tie, 'condition'))
        return typedEl(
          'extend',
          'Extend',
          this.pen.idOf(tie),
          { extendedCase: this.pen.ref(tie.target), extensionLocation: this.pen.part(tie, 'at') },
          [
            condition && typedEl('condition', 'Constraint', this.pen.part(tie, 'condition'), {}, [condition]),
            ...this.pen.beside(tie),
          ],
        )
      }),
      // Where one is extended is one of its extension points (UML 2.5.1, 18.2.2).
      ...extended.map((tie) => typedEl('extensionPoint', 'ExtensionPoint', this.pen.part(tie, 'at'), {})),
    ])
  }

  #component(one: Entity): El {
    return this.pen.box(
      'packagedElement',
      'Component',
      one,
      {},
      (this.pen.of('component-port', 'component').get(one.id) ?? []).map((port) =>
        this.pen.box('ownedAttribute', 'Port', port),
      ),
    )
  }

  #node(one: Entity, name: string, above: ReadonlySet<string>): El {
    const seen = new Set([...above, one.id])
    const inner = (this.pen.of('deployment-node', 'within').get(one.id) ?? []).filter(({ id }) => !seen.has(id))
    return this.pen.box(
      name,
      'Node',
      one,
      {},
      inner.map((each) => this.#node(each, 'nestedNode', seen)),
    )
  }
}

/** Properties of an attribute or of an end that are flags of a Property. */
const flagsOf = (properties: readonly string[]): Record<string, string | undefined> => ({
  isOrdered: properties.includes('ordered') || properties.includes('sequence') ? 'true' : undefined,
  isUnique: properties.includes('nonunique') || properties.includes('sequence') ? 'false' : undefined,
  isReadOnly: properties.includes('readOnly') ? 'true' : undefined,
  isID: properties.includes('id') ? 'true' : undefined,
})
