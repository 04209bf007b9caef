import type { Id } from '../../model'
import type { ClassModel, Classifier, Package } from './structure'
import { typesOf } from './types'

export interface PackageLinks {
  /** Which packages each one depends on, with the ties that say so. */
  readonly leads: ReadonlyMap<Package, ReadonlyMap<Package, readonly Id[]>>
  /** How many classes outside depend on classes of a package, and how many of its own depend on classes outside (Martin 1994). */
  readonly couplings: (one: Package) => { readonly afferent: number; readonly efferent: number }
}

const known = new WeakMap<ClassModel, PackageLinks>()

/** What packages depend on: by what their classes lead to and name as types, and by what is said of them. O(ties + members) once */
export function packageLinks(all: ClassModel): PackageLinks {
  const found = known.get(all) ?? linksOf(all)
  known.set(all, found)
  return found
}

function linksOf(all: ClassModel): PackageLinks {
  const leads = new Map<Package, Map<Package, Id[]>>()
  const [from, to] = [new Map<Package, Set<Classifier>>(), new Map<Package, Set<Classifier>>()]
  const put = (a: Package | undefined, b: Package | undefined, tie: Id) => {
    if (!a || !b || a === b) return
    const own = leads.get(a) ?? new Map<Package, Id[]>()
    leads.set(a, own)
    own.set(b, [...(own.get(b) ?? []), tie])
  }
  const depend = (a: Classifier, b: Classifier, tie: Id) => {
    if (a.package === b.package) return
    put(a.package, b.package, tie)
    if (a.package) from.set(a.package, (from.get(a.package) ?? new Set()).add(a))
    if (b.package) to.set(b.package, (to.get(b.package) ?? new Set()).add(a))
  }
  for (const { id, sort, relation, a, b } of all.ties) {
    depend(a, b, id)
    // An association that leads both ways depends both ways.
    if (sort === 'association' && relation.fields['sourceNavigable'] === 'yes') depend(b, a, id)
  }
  for (const one of all.classes) for (const type of typesOf(all, one)) depend(one, type, one.id)
  for (const { id, source, target } of all.packageTies)
    put(all.packageById.get(source), all.packageById.get(target), id)
  return {
    leads,
    couplings: (one) => ({ afferent: to.get(one)?.size ?? 0, efferent: from.get(one)?.size ?? 0 }),
  }
}
