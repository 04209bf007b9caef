import fc from 'fast-check'
import { asId, Model, type Entity, type Fields, type FieldValue, type Relation } from '../src/core/model'
import type { Field } from '../src/core/notation'
import { KINDS_WRITTEN, TIES_WRITTEN } from '../src/core/notations/uml/formats/xmi/names'
import { entityKinds, relationKinds } from '../src/core/notations/uml/kinds'
import { day } from './facts'

/** Facts of every kind of software, tied in every way that their kinds allow and with whatever their fields may say, sense or none. */

const word = fc.oneof(
  fc.constantFrom(
    'Ticket',
    'book',
    'a & b',
    '<x>',
    '"q"',
    "it's",
    'zwei\nZeilen',
    '  ',
    ' x ',
    'größe',
    ']]>',
    '1..*',
    '…',
    '&amp;',
  ),
  fc.string({ minLength: 1, maxLength: 8, unit: 'grapheme' }),
)
const texts: Readonly<Record<string, fc.Arbitrary<string>>> = {
  multiplicity: fc.constantFrom('1', '0..1', '*', '1..*', '2..5', '0..*', 'no', '2..MAX'),
  type: fc.constantFrom('String', 'Integer', 'Date', 'Ticket', 'Map<String, Leg>', '<&>'),
  parameters: fc.constantFrom('a : Integer', 'in a : Ticket [0..1] = 3, out b', '', 'what ever (', 'a'),
}

const valueOf = (field: Field, ids: readonly string[]): fc.Arbitrary<FieldValue> => {
  if (field.type === 'choice') return fc.constantFrom(...(field.choices ?? ['x']))
  if (field.type === 'flag') return fc.boolean()
  if (field.type === 'number') return fc.integer({ min: -3, max: 40 }).map((one) => one / 2)
  if (field.type === 'list')
    return fc.array(fc.constantFrom('ordered', 'id', 'readOnly', 'nonunique', 'query', 'own, one'), {
      minLength: 1,
      maxLength: 3,
    })
  if (field.type === 'reference') return fc.oneof(fc.constantFrom(...ids, 'nobody'), word)
  return /ultiplicity/.test(field.id) ? (texts['multiplicity'] ?? word) : (texts[field.id] ?? word)
}

const fieldsOf = (fields: readonly Field[], ids: readonly string[]): fc.Arbitrary<Fields> =>
  fc
    .record(
      Object.fromEntries(fields.filter(({ id }) => id !== 'kept').map((field) => [field.id, valueOf(field, ids)])),
      {
        requiredKeys: [],
      },
    )
    .map((said) => said as Fields)

const dates = fc.record(
  {
    from: fc.constantFrom(day('2020-01-01'), day('2026-11-24')),
    to: fc.constantFrom(day('2026-11-24'), day('2030-01-01')),
  },
  { requiredKeys: [] },
)

const KINDS = entityKinds.filter(({ id }) => (KINDS_WRITTEN as readonly string[]).includes(id))
const TIES = relationKinds.filter(({ id }) => (TIES_WRITTEN as readonly string[]).includes(id))

/** Models with up to `most` facts of each sort, all in force on 2026-11-24. */
export const softwareModels = (most: number): fc.Arbitrary<Model> =>
  fc.array(fc.tuple(fc.constantFrom(...KINDS), word, dates), { minLength: 1, maxLength: most }).chain((list) => {
    const ids = list.map(
      ([kind], at) => [`e${at}`, `x:${at}~`, `${kind.id}.${at}.lower`, `1-${at}`][at % 4] ?? `e${at}`,
    )
    const ofKind = (kinds: readonly string[]) => ids.filter((_, at) => kinds.includes(list[at]?.[0].id ?? ''))
    const entities = fc.tuple(
      ...list.map(([kind, name, said], at) =>
        fieldsOf(kind.fields, ids).map((fields): Entity => ({
          id: asId(ids[at] ?? ''),
          kind: kind.id,
          name,
          fields,
          ...said,
        })),
      ),
    )
    const possible = TIES.flatMap((kind) => {
      const [sources, targets] = [ofKind(kind.sources), ofKind(kind.targets)]
      return sources.length > 0 && targets.length > 0 ? [{ kind, sources, targets }] : []
    })
    const relation = (at: number): fc.Arbitrary<Relation | undefined> =>
      possible.length === 0
        ? fc.constant(undefined)
        : fc.constantFrom(...possible).chain(({ kind, sources, targets }) =>
            fc
              .tuple(fc.constantFrom(...sources), fc.constantFrom(...targets), fieldsOf(kind.fields, ids), dates)
              .map(([source, target, fields, said]) => ({
                // A tie may have the identity of a fact of the other sort.
                id: asId(ids[at] ?? `r${at}`),
                kind: kind.id,
                source: asId(source),
                target: asId(target),
                fields,
                ...said,
              })),
          )
    return fc
      .tuple(entities, fc.tuple(...Array.from({ length: most }, (_, at) => relation(at))))
      .map(([facts, relations]) => Model.of({ entities: facts, relations: relations.flatMap((one) => one ?? []) }))
  })
