import type { FieldValue } from '../../model'

/** What lines of every outline of this notation are read as. */

/** A fact named in a line: the so-manieth of that name. */
export interface Ref {
  readonly name: string
  readonly nth: number
}

/** Fields of a line, without those that say nothing, in an order that makes lines alike where facts are. */
export const typedFields = (
  fields: Readonly<Record<string, FieldValue | undefined>>,
): Readonly<Record<string, FieldValue>> =>
  Object.fromEntries(
    Object.entries(fields)
      .flatMap(([key, value]): [string, FieldValue][] => (value === undefined ? [] : [[key, value]]))
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  )

/** The one of a list that a line names. */
export function named<T extends { readonly name: string }>(list: readonly T[], { name, nth }: Ref): T | undefined {
  const wanted = name.toLowerCase()
  const found = list.filter((one) => one.name.toLowerCase() === wanted)
  return found[nth - 1] ?? (nth === 1 ? undefined : found[0])
}
