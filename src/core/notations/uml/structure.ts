import {
  covers,
  FactRecall,
  grouped,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../model'
import { inOrder, listOf, namedIn, textOf } from '../../notation'
import { CLASS_FORMS, VISIBILITIES, type ClassForm, type Visibility } from './kinds'
import { attributeText, operationText, readParameters, type AttributeText, type OperationText } from './syntax/members'
import { isFault } from './syntax/scan'

export interface Package {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly parent: Package | undefined
  readonly inner: Package[]
  readonly classes: Classifier[]
}

/** A class, an interface, an enumeration … on a day. */
export interface Classifier {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly form: ClassForm
  readonly isAbstract: boolean
  readonly isLeaf: boolean
  readonly stereotypes: readonly string[]
  readonly package: Package | undefined
  readonly attributes: readonly Attribute[]
  readonly operations: readonly Operation[]
  readonly literals: readonly Entity[]
  /** What it is a kind of, and what is a kind of it. */
  readonly parents: Classifier[]
  readonly children: Classifier[]
  /** The interfaces that it says to realise. */
  readonly realises: Classifier[]
  readonly associations: Association[]
  /** Ties that begin or end at it, of every sort. */
  readonly ties: Tie[]
}

interface Member {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly visibility: Visibility | undefined
  readonly isStatic: boolean
  /** As the standard writes it. */
  readonly text: string
}
export type Attribute = Member & { readonly type: string | undefined }
export type Operation = Member & {
  readonly isAbstract: boolean
  readonly type: string | undefined
  /** Undefined where they cannot be read. */
  readonly parameters: ReturnType<typeof parametersOf>
}

const parametersOf = (text: string) => {
  const read = readParameters(text)
  return isFault(read) ? undefined : read
}

export type TieSort = 'association' | 'generalization' | 'realization' | 'dependency'
export interface Tie {
  readonly id: Id
  readonly sort: TieSort
  readonly relation: Relation
  readonly a: Classifier
  readonly b: Classifier
}
export type Association = Tie & { readonly sort: 'association' }

/** What an association says of one of its ends. */
export interface End {
  readonly role: string | undefined
  readonly multiplicity: string | undefined
  readonly navigable: 'yes' | 'no' | undefined
  readonly properties: readonly string[]
}

export const endOf = ({ fields }: Relation, end: 'source' | 'target'): End => {
  const text = (key: string) => {
    const value = fields[`${end}${key}`]
    return typeof value === 'string' && value !== '' ? value : undefined
  }
  const navigable = text('Navigable')
  const properties = fields[`${end}Properties`]
  return {
    role: text('Role'),
    multiplicity: text('Multiplicity'),
    navigable: navigable === 'yes' || navigable === 'no' ? navigable : undefined,
    properties: Array.isArray(properties) ? (properties as readonly string[]) : [],
  }
}

export const aggregationOf = ({ fields }: Relation): 'shared' | 'composite' | undefined =>
  fields['aggregation'] === 'shared' || fields['aggregation'] === 'composite' ? fields['aggregation'] : undefined

/** All classes and packages of a day. */
export interface ClassModel {
  readonly packages: readonly Package[]
  readonly packageById: ReadonlyMap<Id, Package>
  /** In the order in which they are listed: package by package, inner ones first, then those in none. */
  readonly classes: readonly Classifier[]
  readonly byId: ReadonlyMap<Id, Classifier>
  readonly ties: readonly Tie[]
  /** Dependencies that begin or end at a package. */
  readonly packageTies: readonly Relation[]
}

const models = new FactRecall<ClassModel>()
const TIES: readonly TieSort[] = ['generalization', 'realization', 'association', 'dependency']

/** O(facts) once for the facts and each day. */
export const classesOn = (model: Model, day: Day): ClassModel =>
  models.of(model, day, () => {
    const here = (kind: string) => inOrder(model.ofKind(kind).filter((fact) => covers(fact, day)))
    const { packages, packageById, packageNamed } = packagesOf(here('package'))
    const owned = (kind: string) => grouped(here(kind), ({ fields }) => String(fields['class'] ?? ''))
    const members = { attributes: owned('attribute'), operations: owned('operation'), literals: owned('literal') }
    const byId = new Map<Id, Classifier>()
    const loose: Classifier[] = []
    for (const entity of here('class')) {
      const home = packageNamed(entity.fields['package'])
      const one = classifierOf(entity, home, members)
      byId.set(entity.id, one)
      ;(home?.classes ?? loose).push(one)
    }
    const ties: Tie[] = []
    for (const sort of TIES)
      for (const relation of model.relationsOfKind(sort)) {
        const [a, b] = [byId.get(relation.source), byId.get(relation.target)]
        if (!a || !b || !covers(relation, day)) continue
        const tie: Tie = { id: relation.id, sort, relation, a, b }
        ties.push(tie)
        a.ties.push(tie)
        if (b !== a) b.ties.push(tie)
        if (sort === 'generalization') {
          a.parents.push(b)
          b.children.push(a)
        } else if (sort === 'realization') a.realises.push(b)
        else if (isAssociation(tie)) {
          a.associations.push(tie)
          if (b !== a) b.associations.push(tie)
        }
      }
    const inside = ({ classes, inner }: Package): Classifier[] => [...inner.flatMap(inside), ...classes]
    return {
      packages,
      packageById,
      classes: [...packages.filter(({ parent }) => !parent).flatMap(inside), ...loose],
      byId,
      ties,
      packageTies: model
        .relationsOfKind('dependency')
        .filter((tie) => covers(tie, day) && (packageById.has(tie.source) || packageById.has(tie.target))),
    }
  })

export const isAssociation = (tie: Tie): tie is Association => tie.sort === 'association'

function packagesOf(entities: readonly Entity[]) {
  const find = namedIn(entities)
  const parentOf = new Map<Id, Entity>()
  for (const entity of entities) {
    const parent = find(entity.fields['package'])
    // A package that is within itself stands outside.
    const seen = new Set([entity.id])
    let above: Entity | undefined = parent
    while (above && !seen.has(above.id)) {
      seen.add(above.id)
      above = find(above.fields['package'])
    }
    if (parent && !above) parentOf.set(entity.id, parent)
  }
  const packageById = new Map<Id, Package>()
  const make = (entity: Entity): Package => {
    const known = packageById.get(entity.id)
    if (known) return known
    const above = parentOf.get(entity.id)
    const parent = above && make(above)
    const made: Package = { id: entity.id, entity, name: entity.name, parent, inner: [], classes: [] }
    packageById.set(entity.id, made)
    return made
  }
  const packages = entities.map(make)
  for (const one of packages) one.parent?.inner.push(one)
  const named = namedIn(packages)
  return { packages, packageById, packageNamed: named }
}

interface Members {
  readonly attributes: ReadonlyMap<string, readonly Entity[]>
  readonly operations: ReadonlyMap<string, readonly Entity[]>
  readonly literals: ReadonlyMap<string, readonly Entity[]>
}

function classifierOf(entity: Entity, home: Package | undefined, members: Members): Classifier {
  const { id, fields } = entity
  return {
    id,
    entity,
    name: entity.name,
    form: CLASS_FORMS.find((one) => one === fields['form']) ?? 'class',
    isAbstract: fields['abstract'] === true,
    isLeaf: fields['leaf'] === true,
    stereotypes: listOf(entity, 'stereotypes'),
    package: home,
    attributes: (members.attributes.get(id) ?? []).map(attributeOf),
    operations: (members.operations.get(id) ?? []).map(operationOf),
    literals: members.literals.get(id) ?? [],
    parents: [],
    children: [],
    realises: [],
    associations: [],
    ties: [],
  }
}

export const visibilityOf = ({ fields }: Entity): Visibility | undefined =>
  VISIBILITIES.find((one) => one === fields['visibility'])

/** What an attribute says, as it would be typed. */
export const statedAttribute = (entity: Entity): AttributeText => {
  const [visibility, type] = [visibilityOf(entity), textOf(entity, 'type')]
  const [multiplicity, initial] = [textOf(entity, 'multiplicity'), textOf(entity, 'default')]
  return {
    is: 'attribute',
    name: entity.name,
    ...(visibility ? { visibility } : {}),
    ...(entity.fields['derived'] === true ? { derived: true } : {}),
    ...(type === undefined ? {} : { type }),
    ...(multiplicity === undefined ? {} : { multiplicity }),
    ...(initial === undefined ? {} : { default: initial }),
    ...(entity.fields['static'] === true ? { static: true } : {}),
    properties: listOf(entity, 'properties'),
  }
}

/** What an operation says, as it would be typed. */
export const statedOperation = (entity: Entity): OperationText => {
  const [visibility, type, multiplicity] = [
    visibilityOf(entity),
    textOf(entity, 'type'),
    textOf(entity, 'multiplicity'),
  ]
  return {
    is: 'operation',
    name: entity.name,
    ...(visibility ? { visibility } : {}),
    parameters: textOf(entity, 'parameters') ?? '',
    ...(type === undefined ? {} : { type }),
    ...(multiplicity === undefined ? {} : { multiplicity }),
    ...(entity.fields['abstract'] === true ? { abstract: true } : {}),
    ...(entity.fields['static'] === true ? { static: true } : {}),
    properties: listOf(entity, 'properties'),
  }
}

function attributeOf(entity: Entity): Attribute {
  return {
    ...memberOf(entity, attributeText(statedAttribute(entity))),
    type: textOf(entity, 'type'),
  }
}

function operationOf(entity: Entity): Operation {
  return {
    ...memberOf(entity, operationText(statedOperation(entity))),
    isAbstract: entity.fields['abstract'] === true,
    type: textOf(entity, 'type'),
    parameters: parametersOf(textOf(entity, 'parameters') ?? ''),
  }
}

const memberOf = (entity: Entity, text: string): Member => ({
  id: entity.id,
  entity,
  name: entity.name,
  visibility: visibilityOf(entity),
  isStatic: entity.fields['static'] === true,
  text,
})

/** What a view shows: everything, a package with what is in it, or one class with its neighbours. */
export interface Shown {
  readonly classes: readonly Classifier[]
  readonly packages: readonly Package[]
  readonly ties: readonly Tie[]
  /** The package that the view is of. */
  readonly within: Package | undefined
}

/** Everything that stands in a package, however deep. */
export const inPackage = (one: Package | undefined, outer: Package): boolean => {
  for (let at = one; at; at = at.parent) if (at === outer) return true
  return false
}

/** O(facts) */
export function shownIn(model: Model, view: Pick<View, 'scope'> | undefined, day: Day): Shown {
  const all = classesOn(model, day)
  const scope = view?.scope['package']
  if (scope === '') return { classes: [], packages: [], ties: [], within: undefined }
  const within = typeof scope === 'string' ? all.packageById.get(scope as Id) : undefined
  const around = view?.scope['class']
  const centre = typeof around === 'string' ? all.byId.get(around as Id) : undefined
  const near = centre && new Set([centre, ...centre.ties.flatMap(({ a, b }) => [a, b])])
  const classes = all.classes.filter(
    (one) => (near ? near.has(one) : true) && (within && !near ? inPackage(one.package, within) : true),
  )
  const here = new Set(classes)
  return {
    classes,
    packages: all.packages.filter((one) =>
      near
        ? classes.some((inner) => inPackage(inner.package, one))
        : !within || (one !== within && inPackage(one, within)),
    ),
    ties: all.ties.filter(({ a, b }) => here.has(a) && here.has(b) && (!centre || a === centre || b === centre)),
    within: near ? undefined : within,
  }
}

/** All that a class is a kind of, itself left out, each once: nearest first, circles or not. O(ancestors) */
export function ancestorsOf(one: Classifier): Classifier[] {
  const found = new Set<Classifier>()
  const queue = [...one.parents]
  for (const next of queue) {
    if (found.has(next) || next === one) continue
    found.add(next)
    queue.push(...next.parents)
  }
  return [...found]
}
