import type { ClassModel, Classifier } from './structure'
import { parted } from './syntax/scan'

/** The types that the standard itself defines (UML 2.5.1, 21.1), by name. */
export const PRIMITIVE_TYPES: ReadonlySet<string> = new Set([
  'Boolean',
  'Integer',
  'Real',
  'String',
  'UnlimitedNatural',
])

/** The names in the text of a type: `Map<String, booking::Leg>` names three. O(text) */
export const namesIn = (type: string): readonly string[] =>
  type
    .split(/[<>,()[\]?&|*]|\s+/)
    .map((part) => part.trim().split('::').at(-1) ?? '')
    .filter((part) => /[\p{L}]/u.test(part))

const known = new WeakMap<ClassModel, ReadonlyMap<string, Classifier>>()

/** The class of a name; the first of several, and for a name alone one that leaves types open: `Map<K, V>` is named as `Map`. O(classes) once */
export function classNamed(all: ClassModel, name: string): Classifier | undefined {
  const names = known.get(all) ?? byName(all.classes.toReversed())
  known.set(all, names)
  return names.get(name)
}

const byName = (classes: readonly Classifier[]): ReadonlyMap<string, Classifier> =>
  new Map([
    ...classes.flatMap((one) => (one.name.includes('<') ? [[one.name.replace(/\s*<.*$/s, ''), one] as const] : [])),
    ...classes.map((one) => [one.name, one] as const),
  ])

/** The classes that the types of a class’s members name. O(members) */
export const typesOf = (all: ClassModel, one: Classifier): readonly Classifier[] => {
  const texts = [
    ...one.attributes.map(({ type }) => type),
    ...one.operations.flatMap(({ type, parameters }) => [type, ...(parameters ?? []).map((each) => each.type)]),
  ]
  return [
    ...new Set(
      texts.flatMap((text) => (text === undefined ? [] : namesIn(text).flatMap((name) => classNamed(all, name) ?? []))),
    ),
  ]
}

/** What tells operations of a class apart: the name and the types of the parameters. */
export const signatureOf = ({ name, parameters }: Classifier['operations'][number]): string =>
  `${name}(${(parameters ?? []).map(({ type }) => type ?? '').join(', ')})`

/** The types that a class leaves open, by the names in the brackets behind its own: `Map<K, V extends Leg>` has two. O(name) */
export function typeParametersOf({ name }: Pick<Classifier, 'name'>): ReadonlySet<string> {
  const [, inner] = /^[^<]*<(.*)>\s*$/s.exec(name) ?? []
  return new Set(
    inner === undefined ? [] : parted(inner).flatMap((part) => /^[\p{L}_][\p{L}\p{N}_]*/u.exec(part.trim())?.[0] ?? []),
  )
}

/** Whether two texts name one type: spaces say nothing, nor does the package that a name begins with. */
export const isSameType = (a: string, b: string): boolean => plainType(a) === plainType(b)
const plainType = (type: string): string => type.replace(/\s+/g, '').replace(/[\p{L}\p{N}_]+::/gu, '')
