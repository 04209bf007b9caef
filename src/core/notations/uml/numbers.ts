import type { Day, Id, Model } from '../../model'
import type { NumberSheet, SheetRow } from '../../notation'
import { packageLinks } from './packages'
import { stateNumbers } from './states/numbers'
import { classesOn, type ClassModel, type Classifier } from './structure'
import { typesOf } from './types'

const column = (id: string, label: string, unit: string | null = null) => ({ id, label, unit })
const countedId = (_model: Model, _day: Day, row: SheetRow): readonly Id[] =>
  typeof row['id'] === 'string' ? [row['id'] as Id] : []

/**
 * The longest way up from a class to one that is a kind of nothing (DIT, Chidamber & Kemerer 1994). In a circle of kinds each counts once.
 * O(ancestors)
 */
export function depthOf(one: Classifier, known = new Map<Classifier, number>()): number {
  const open = [{ one, next: 0 }]
  const within = new Set<Classifier>([one])
  for (let top = open.at(-1); top; top = open.at(-1)) {
    const parent = top.one.parents[top.next++]
    if (parent === undefined) {
      known.set(
        top.one,
        top.one.parents.reduce((most, each) => Math.max(most, (known.get(each) ?? -1) + 1), 0),
      )
      within.delete(top.one)
      open.pop()
    } else if (!known.has(parent) && !within.has(parent)) {
      within.add(parent)
      open.push({ one: parent, next: 0 })
    }
  }
  return known.get(one) ?? 0
}

/**
 * To how many other classes one is coupled, in either direction (CBO, Chidamber & Kemerer 1994): by associations, dependencies and types of
 * members. What it is a kind of does not count.
 */
export function couplingsOf(all: ClassModel): ReadonlyMap<Classifier, ReadonlySet<Classifier>> {
  const found = new Map(all.classes.map((one) => [one, new Set<Classifier>()]))
  const couple = (a: Classifier, b: Classifier) => {
    if (a === b) return
    found.get(a)?.add(b)
    found.get(b)?.add(a)
  }
  for (const { sort, a, b } of all.ties) if (sort === 'association' || sort === 'dependency') couple(a, b)
  for (const one of all.classes) for (const type of typesOf(all, one)) couple(one, type)
  return found
}

const classes: NumberSheet = {
  id: 'classes',
  title: 'Classes',
  columns: [
    column('id', 'Id'),
    column('class', 'Class'),
    column('depthOfInheritance', 'Depth of inheritance'),
    column('children', 'Children', 'classes'),
    column('coupling', 'Coupling', 'classes'),
    column('attributes', 'Attributes'),
    column('operations', 'Operations'),
  ],
  rows: (model, day) => {
    const all = classesOn(model, day)
    const couplings = couplingsOf(all)
    const known = new Map<Classifier, number>()
    return all.classes.map((one): SheetRow => ({
      id: one.id,
      class: one.name,
      depthOfInheritance: depthOf(one, known),
      children: one.children.length,
      coupling: couplings.get(one)?.size ?? 0,
      attributes: one.attributes.length,
      operations: one.operations.length,
    }))
  },
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'class', values: ['coupling', 'depthOfInheritance', 'children'] },
}

/** Abstractness, instability and distance from the main sequence (Martin 1994), of what stands in each package itself. */
const packages: NumberSheet = {
  id: 'packages',
  title: 'Packages',
  columns: [
    column('id', 'Id'),
    column('package', 'Package'),
    column('classes', 'Classes'),
    column('afferent', 'Classes that depend on it', 'classes'),
    column('efferent', 'Classes that depend on others', 'classes'),
    column('abstractness', 'Abstractness'),
    column('instability', 'Instability'),
    column('distance', 'Distance'),
  ],
  rows: (model, day) => {
    const all = classesOn(model, day)
    const links = packageLinks(all)
    return all.packages.map((one): SheetRow => {
      const { afferent, efferent } = links.couplings(one)
      const abstract = one.classes.filter(({ form, isAbstract }) => isAbstract || form === 'interface').length
      const abstractness = one.classes.length === 0 ? null : abstract / one.classes.length
      const instability = afferent + efferent === 0 ? null : efferent / (afferent + efferent)
      return {
        id: one.id,
        package: one.name,
        classes: one.classes.length,
        afferent,
        efferent,
        abstractness,
        instability,
        distance: abstractness === null || instability === null ? null : Math.abs(abstractness + instability - 1),
      }
    })
  },
  counted: countedId,
  chart: { sort: 'bars', key: 'id', label: 'package', values: ['distance', 'instability', 'abstractness'] },
}

export const numbers: readonly NumberSheet[] = [classes, packages, ...stateNumbers]
