import {
  apply,
  asDay,
  asId,
  Model,
  type Change,
  type Day,
  type Entity,
  type Id,
  type Relation,
  type View,
} from '../src/core/model'
import { isRefusal, type Done, type Outcome, type Wish } from '../src/core/notation'
import { registry } from '../src/core/notations'
import type { Mark } from '../src/core/scene'

/** Small facts for tests, stated as briefly as they can be read. */

export const DAY = asDay('2026-11-24')
export const day = asDay
export const id = asId

export const numbering = (prefix = 'n'): (() => Id) => {
  let count = 0
  return () => asId(`${prefix}${++count}`)
}

export const position = (key: string, more: Partial<Omit<Entity, 'id' | 'kind'>> = {}): Entity => ({
  id: asId(key),
  kind: 'position',
  name: key,
  fields: {},
  ...more,
})

export const person = (key: string, more: Partial<Omit<Entity, 'id' | 'kind'>> = {}): Entity => ({
  id: asId(key),
  kind: 'person',
  name: key,
  fields: {},
  ...more,
})

export const tie = (kind: string, source: string, target: string, more: Partial<Relation> = {}): Relation => ({
  id: asId(`${kind}:${source}:${target}`),
  kind,
  source: asId(source),
  target: asId(target),
  fields: {},
  ...more,
})

export const reports = (source: string, target: string, more: Partial<Relation> = {}): Relation =>
  tie('reports-to', source, target, more)

/** What a mark says under a name, as a text; empty where it says nothing. */
export const said = (mark: Mark | undefined, name: string): string =>
  String((mark?.attrs as Readonly<Record<string, unknown>> | undefined)?.[name] ?? '')

export const facts = (...list: (Entity | Relation)[]): Model =>
  Model.of({
    name: 'Test',
    entities: list.filter((fact): fact is Entity => !('source' in fact)),
    relations: list.filter((fact): fact is Relation => 'source' in fact),
    views: [treeView()],
  })

export const treeView = (more: Partial<View> = {}): View => ({
  id: asId('view'),
  notation: 'organisation',
  picture: 'tree',
  title: 'Everyone',
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look: {},
  ...more,
})

const [notation] = registry.notations
if (!notation?.outline) throw new Error('the first notation has an outline')
export const organisation = notation
export const outline = notation.outline

export const wishFor = (model: Model, more: Partial<Wish> = {}): Wish => ({
  model,
  view: treeView(),
  day: DAY,
  selection: [],
  newId: numbering('made'),
  ...more,
})

/** An organisation from an indented list. */
export function listed(text: string): Model {
  const empty = Model.of({ name: 'Test', views: [treeView()] })
  return carriedOut(empty, outline.paste(wishFor(empty, { newId: numbering('p') }), undefined, text))
}

export function done(outcome: Outcome): Done {
  if (isRefusal(outcome)) throw new Error(`refused: ${outcome.refused}`)
  return outcome
}

export const refusal = (outcome: Outcome): string => (isRefusal(outcome) ? outcome.refused : '')

export const carriedOut = (model: Model, outcome: Outcome): Model => apply(model, done(outcome).change).model

export const after = (model: Model, change: Change): Model => apply(model, change).model

/** The organisation as its outline, two spaces a level. */
export const asText = (model: Model, on: Day = DAY): string =>
  outline
    .lines(model, treeView(), on)
    .map(({ depth, text }) => '  '.repeat(depth) + text)
    .join('\n')

/** The position whose outline line contains a text. */
export function lineWith(model: Model, text: string): Id {
  const line = outline.lines(model, treeView(), DAY).find((one) => one.text.includes(text))
  if (!line) throw new Error(`no line with “${text}”`)
  return line.id
}

/** What a format writes that needs nothing to come first. */
export function writtenAtOnce(text: string | Promise<string> | undefined): string {
  if (typeof text !== 'string') throw new Error('it is not written at once')
  return text
}
