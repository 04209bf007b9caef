import { asOf, difference, type Day, type Id, type Model } from '../model'
import { fieldAt, type Handlings } from './registry'
import { turnsOf } from './turns'

/** What differs between two states of facts. */
export interface Told {
  readonly what: 'new' | 'gone' | 'changed'
  readonly sort: 'entity' | 'relation' | 'view'
  readonly id: Id
  readonly kind: string
  readonly name: string
  /** What was otherwise, in words. */
  readonly was: readonly string[]
}

/** What differs between facts on two days, or between two files: what is new, gone or otherwise, in words. O(facts of both) */
export function differencesIn(
  registry: Handlings,
  before: { readonly model: Model; readonly day: Day },
  after: { readonly model: Model; readonly day: Day },
): readonly Told[] {
  const [then, now] = [asOf(before.model, before.day), asOf(after.model, after.day)]
  const { entities, relations, views } = difference(then, now)
  const turns = turnsOf(registry, before, after)
  const kindOf = (kind: string) => registry.kinds.get(kind)?.title ?? kind
  const entity = (
    what: Told['what'],
    one: { id: Id; kind: string; name: string },
    was: readonly string[] = [],
  ): Told => ({
    what,
    sort: 'entity',
    id: one.id,
    kind: kindOf(one.kind),
    name: one.name,
    was,
  })
  const word = (id: Id, where: Model) => where.entities.get(id)?.name ?? id
  const tie = (
    what: Told['what'],
    one: { id: Id; kind: string; source: Id; target: Id },
    where: Model,
    was: readonly string[] = [],
  ): Told => ({
    what,
    sort: 'relation',
    id: one.id,
    kind: registry.relationKinds.get(one.kind)?.title ?? one.kind,
    name: `${word(one.source, where)} – ${word(one.target, where)}`,
    was,
  })
  const told = new Set<Id>(
    [...entities.added, ...entities.removed, ...entities.altered.map(({ after: one }) => one)].map(({ id }) => id),
  )
  // What became of a fact by its ties alone.
  const others = [...turns.keys()].flatMap((id) => {
    const one = now.entities.get(id)
    return one && !told.has(id) ? [one] : []
  })
  const wordsFor = (id: Id) => (turns.get(id) ?? []).map(({ words }) => words)
  return [
    ...entities.added.map((one) => entity('new', one)),
    ...entities.removed.map((one) => entity('gone', one)),
    ...[...entities.altered.map(({ after: one }) => one), ...others].map((one) =>
      entity('changed', one, wordsFor(one.id)),
    ),
    ...relations.added.map((one) => tie('new', one, now)),
    ...relations.removed.map((one) => tie('gone', one, then)),
    ...relations.altered.map(({ after: one, before: other, paths }) =>
      tie(
        'changed',
        one,
        now,
        paths.map((path) => wasOf(registry, one.kind, other, path)),
      ),
    ),
    ...views.added.map(({ id, picture, title }): Told => ({
      what: 'new',
      sort: 'view',
      id,
      kind: picture,
      name: title,
      was: [],
    })),
    ...views.removed.map(({ id, picture, title }): Told => ({
      what: 'gone',
      sort: 'view',
      id,
      kind: picture,
      name: title,
      was: [],
    })),
    ...views.altered.map(({ after: { id, picture, title }, paths }): Told => ({
      what: 'changed',
      sort: 'view',
      id,
      kind: picture,
      name: title,
      was: paths,
    })),
  ]
}

function wasOf(registry: Handlings, kind: string, before: object, path: string): string {
  const [head = '', key = ''] = path.split('.')
  const fields = (before as { fields?: Record<string, unknown> }).fields ?? {}
  const label = fieldAt(registry.relationKinds.get(kind)?.fields ?? [], key)?.label ?? key
  const value = head === 'fields' ? fields[key] : (before as Record<string, unknown>)[head]
  return `${head === 'fields' ? label : head} was ${value === undefined ? 'not said' : JSON.stringify(value)}`
}

const SIGNS: Readonly<Record<Told['what'], string>> = { new: '+', gone: '−', changed: '~' }

/** The same in lines. O(told) */
export const differenceInWords = (list: readonly Told[]): string =>
  list
    .map(
      ({ what, kind, name, was }) => `${SIGNS[what]} ${kind} “${name}”${was.length > 0 ? `: ${was.join('; ')}` : ''}\n`,
    )
    .join('')
