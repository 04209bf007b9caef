import { type Day, type Entity, type FieldValue, type Id, type Model, type Relation } from '../../model'
import { numbered, referenceName, type OutlineLine } from '../../notation'
import { classKind } from './kinds'
import { classesOn, shownIn, type ClassModel, type Classifier, type Package, type Shown } from './structure'
import type { Ref } from './typed'
import { lineOf, typed, type Typed, type Within } from './words'

/** A fact with the line that states it. */
export interface Told {
  readonly id: Id
  readonly depth: number
  readonly typed: Typed
  readonly within: Within
  /** The class that it stands beneath, or is. */
  readonly owner: Classifier | undefined
  /** The package that it stands in, or is. */
  readonly home: Package | undefined
}

/** A class model as lines: packages with what is in them, each class with its members and with what it leads to. O(facts shown) */
export function told(model: Model, all: ClassModel, shown: Shown): Told[] {
  const lines: Told[] = []
  const names = new Names(all)
  const here = new Set(shown.classes)
  const ties = new Set(shown.ties)
  const putClass = (one: Classifier, depth: number, within: Within) => {
    const home = one.package
    lines.push({ id: one.id, depth, typed: classTyped(model, one), within, owner: one, home })
    const beneath: Within = one.form === 'enumeration' ? 'enumeration' : 'class'
    const put = (id: Id, line: Typed) =>
      lines.push({ id, depth: depth + 1, typed: line, within: beneath, owner: one, home })
    for (const { entity } of one.attributes) put(entity.id, ownTyped('attribute', entity))
    for (const entity of one.literals) put(entity.id, ownTyped('literal', entity))
    for (const { entity } of one.operations) put(entity.id, ownTyped('operation', entity))
    for (const tie of one.ties)
      if (tie.a === one && ties.has(tie))
        put(tie.id, typed(tie.sort, '', ownFields(tie.relation), names.class(tie.b), tie.relation))
  }
  const putPackage = (one: Package, depth: number, within: Within) => {
    lines.push({ id: one.id, depth, typed: ownTyped('package', one.entity), within, owner: undefined, home: one })
    for (const tie of all.packageTies) {
      const target = all.packageById.get(tie.target)
      if (tie.source !== one.id || !target) continue
      const line = typed('dependency', '', ownFields(tie), names.package(target), tie)
      lines.push({ id: tie.id, depth: depth + 1, typed: line, within: 'package', owner: undefined, home: one })
    }
    putInner(one, depth + 1, 'package')
  }
  const putInner = (outer: Package | undefined, depth: number, within: Within) => {
    for (const one of shown.packages) if (one.parent === outer) putPackage(one, depth, within)
    for (const one of shown.classes) if (one.package === outer && here.has(one)) putClass(one, depth, within)
  }
  putInner(shown.within, 0, 'elsewhere')
  return lines
}

export const linesOf = (model: Model, view: Parameters<typeof shownIn>[1], day: Day): OutlineLine[] =>
  told(model, classesOn(model, day), shownIn(model, view, day)).map(({ id, depth, typed: one, within }) => ({
    id,
    depth,
    text: lineOf(one, within),
  }))

const HIDDEN = new Set(['order', 'class', 'package', 'machine', 'interaction', 'within', 'note', 'alt', 'link', 'kept'])
/** What a fact states of itself, but for where it stands. */
export const ownFields = ({ fields }: Entity | Relation): Record<string, FieldValue> =>
  Object.fromEntries(
    Object.entries(fields).filter(
      ([key, value]) =>
        !HIDDEN.has(key) && value !== '' && value !== false && !(Array.isArray(value) && value.length === 0),
    ),
  )

const ownTyped = (is: 'package' | 'attribute' | 'operation' | 'literal', entity: Entity): Typed =>
  typed(is, entity.name, ownFields(entity), undefined, entity)

const system = classKind.fields.find(({ id }) => id === 'system')

function classTyped(model: Model, { entity, form }: Classifier): Typed {
  const { form: _, system: __, ...own } = ownFields(entity)
  return typed(
    'class',
    entity.name,
    { ...own, form: form === 'class' ? undefined : form, system: system && referenceName(model, entity, system) },
    undefined,
    entity,
  )
}

/** How classes and packages are named in lines: the so-manieth of a name, in the order of the whole model. */
class Names {
  readonly #classes: ReadonlyMap<Id, number>
  readonly #packages: ReadonlyMap<Id, number>

  constructor(all: ClassModel) {
    this.#classes = numbered(all.classes)
    this.#packages = numbered(all.packages)
  }

  class = ({ id, name }: Classifier): Ref => ({ name, nth: this.#classes.get(id) ?? 1 })
  package = ({ id, name }: Package): Ref => ({ name, nth: this.#packages.get(id) ?? 1 })
}
