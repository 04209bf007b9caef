import {
  asOf,
  dayInWords,
  difference,
  SORTS,
  splitPath,
  type Acceptance,
  type Day,
  type Fact,
  type Id,
  type Model,
  type Settings,
  type Sort,
} from '../model'
import { clip } from './entry'
import { fieldAt, partsOf, type Registry } from './registry'
import { turnOfPath, turnsBetween } from './turns'

/** What differs between two states of facts. */
export interface Told {
  readonly what: 'new' | 'gone' | 'changed'
  readonly sort: Sort | 'setting'
  readonly id: string
  readonly kind: string
  readonly name: string
  /** What was otherwise, in words. */
  readonly was: readonly string[]
}

/** Facts, of a day or of all days. */
export interface Stand {
  readonly model: Model
  readonly day?: Day | undefined
}

const standing = ({ model, day }: Stand): Model => (day === undefined ? model : asOf(model, day))

/**
 * What differs between facts on two days, or between all that two files say, settings too: what is new, gone or otherwise,
 * in words. O(facts of both)
 */
export function differencesIn(registry: Registry, before: Stand, after: Stand): readonly Told[] {
  const [then, now] = [standing(before), standing(after)]
  const { entities, relations, views } = difference(then, now)
  const turns = turnsBetween(registry, then, now)
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
  const view = (
    what: Told['what'],
    one: { id: Id; picture: string; title: string },
    was: readonly string[] = [],
  ): Told => ({ what, sort: 'view', id: one.id, kind: one.picture, name: one.title, was })
  const altered = new Set(entities.altered.map(({ after: one }) => one.id))
  // What became of a fact by its ties alone.
  const added = new Set(entities.added)
  const others = [...turns.keys()].flatMap((id) => {
    const one = now.entities.get(id)
    return one && !altered.has(id) && !added.has(one) ? [one] : []
  })
  const wordsFor = (id: Id) => (turns.get(id) ?? []).map(({ words }) => words)
  const wasOf = (sort: Sort, one: Fact, other: Fact, paths: readonly string[]) =>
    paths.map((path) => pathWas(registry, sort, one, other, path, then))
  return [
    ...settingsTold(registry, before.model, after.model),
    ...entities.added.map((one) => entity('new', one)),
    ...entities.removed.map((one) => entity('gone', one)),
    ...entities.altered.map(({ after: one, before: other, paths }) => {
      const words = wordsFor(one.id)
      return entity('changed', one, words.length > 0 ? words : wasOf('entity', one, other, paths))
    }),
    ...others.map((one) => entity('changed', one, wordsFor(one.id))),
    ...relations.added.map((one) => tie('new', one, now)),
    ...relations.removed.map((one) => tie('gone', one, then)),
    // Most of what became of a tie is told where it begins.
    ...relations.altered.flatMap((one) =>
      one.paths.some((path) => turnOfPath(registry, 'relation', one, path, then))
        ? []
        : tie('changed', one.after, now, wasOf('relation', one.after, one.before, one.paths)),
    ),
    ...views.added.map((one) => view('new', one)),
    ...views.removed.map((one) => view('gone', one)),
    ...views.altered.map(({ after: one, before: other, paths }) =>
      view('changed', one, wasOf('view', one, other, paths)),
    ),
  ]
}

/** What stood at a path before, called as people see it. */
function pathWas(registry: Registry, sort: Sort, after: Fact, before: Fact, path: string, then: Model): string {
  const { head, key } = splitPath(path)
  const value = (before as unknown as Readonly<Record<string, unknown>>)[head]
  if (key === undefined)
    return was(head, SORTS[sort].paths[head]?.shape === 'end' ? (then.entities.get(value as Id)?.name ?? value) : value)
  const field = fieldAt(partsOf(registry, sort, after)?.[head] ?? [], key)
  const one = (value as Readonly<Record<string, unknown>>)[key]
  if (field?.type === 'image' && one !== undefined) return `another ${field.label.toLowerCase()}`
  const meant = field?.type === 'reference' ? then.entities.get(one as Id)?.name : undefined
  return was(field?.label ?? key, meant ?? one)
}

const was = (label: string, value: unknown): string =>
  `${label} was ${value === undefined ? 'not said' : clip(JSON.stringify(value))}`

/** What the workspaces say of themselves: their names, limits, what they let stand, how they look. */
function settingsTold(registry: Registry, before: Model, after: Model): Told[] {
  const setting = (kind: string, name: string, words: readonly [then?: string, now?: string]): Told[] => {
    const [then, now] = words
    if (then === now) return []
    const what = then === undefined ? 'new' : now === undefined ? 'gone' : 'changed'
    return [{ what, sort: 'setting', id: `${kind} ${name}`, kind, name, was: then === undefined ? [] : [then] }]
  }
  const each = <T>(part: (settings: Settings) => Readonly<Record<string, T>> | undefined, of: OfSetting<T>): Told[] => {
    const [then, now] = [part(before.settings) ?? {}, part(after.settings) ?? {}]
    return [...new Set([...Object.keys(then), ...Object.keys(now)])].flatMap((key) => {
      const say = (value: T | undefined) => (value === undefined ? undefined : of.words(value))
      return setting(of.kind, of.name(key, now[key] ?? then[key]), [say(then[key]), say(now[key])])
    })
  }
  const named = [before.name, after.name] as const
  return [
    ...(named[0] === named[1] ? [] : setting('Workspace', named[1], [`was called “${clip(named[0])}”`, 'now'])),
    ...each((settings) => settings.thresholds, {
      kind: 'Limit',
      name: (rule) => registry.rules.get(rule)?.threshold?.label ?? rule,
      words: (value) => `was ${value}`,
    }),
    ...each<Acceptance>((settings) => settings.accepted, {
      kind: 'Accepted finding',
      name: (finding) => finding,
      words: ({ reason, until }) => `accepted: ${reason}${until === undefined ? '' : `, until ${dayInWords(until)}`}`,
    }),
    ...each((settings) => settings.look, { kind: 'Look', name: (key) => key, words: (value) => `was ${value}` }),
    ...each<readonly string[]>((settings) => settings.themes, {
      kind: 'Theme',
      name: (id, words) => words?.[0] ?? id,
      words: (words) => `was ${words.join(', ')}`,
    }),
  ]
}

interface OfSetting<T> {
  readonly kind: string
  readonly name: (key: string, value: T | undefined) => string
  readonly words: (value: T) => string
}

const SIGNS: Readonly<Record<Told['what'], string>> = { new: '+', gone: '−', changed: '~' }

/** The same in lines. O(told) */
export const differenceInWords = (list: readonly Told[]): string =>
  list
    .map(
      ({ what, kind, name, was }) => `${SIGNS[what]} ${kind} “${name}”${was.length > 0 ? `: ${was.join('; ')}` : ''}\n`,
    )
    .join('')
