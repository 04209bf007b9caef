import { Model, type Entity, type View } from '../src/core/model'
import { id } from './facts'

/** A line of a figure, in words and with what stands under it. */
export interface Line {
  readonly text: string
  readonly fields?: Entity['fields']
  readonly under?: readonly Line[]
}

/** The facts of a figure. */
export function figureOf(
  lines: readonly Line[],
  title = 'When a sailing is cancelled',
  fields: Entity['fields'] = {},
): Model {
  const entities: Entity[] = [{ id: id('figure'), kind: 'figure', name: title, fields }]
  let count = 0
  const add = (list: readonly Line[], under?: string): void =>
    list.forEach(({ text, fields: own = {}, under: below = [] }, at) => {
      const key = `p${++count}`
      const place: Entity['fields'] = under === undefined ? {} : { under }
      entities.push({
        id: id(key),
        kind: 'part',
        name: text,
        fields: { figure: 'figure', order: at + 1, ...place, ...own },
      })
      add(below, key)
    })
  add(lines)
  return Model.of({ entities })
}

export const figureView = (
  picture: string,
  look: View['look'] = { paper: 'A4', across: true },
  more: Partial<View> = {},
): View => ({
  id: id('view'),
  notation: 'figure',
  picture,
  title: 'A figure',
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look,
  ...more,
})

/** A map of so many concepts and links, made up. */
export function mapOf(concepts: number, links: number): Model {
  let state = 5
  const next = (most: number) => (state = (state * 48271) % 2147483647) % most
  const entities = Array.from({ length: concepts }, (_, at) => ({
    id: id(`c${at}`),
    kind: 'concept',
    name: `Concept ${at + 1}`,
    fields: { figure: 'f', order: at },
  }))
  const relations = Array.from({ length: links }, (_, at) => {
    // Each hangs on one stated before it; the others lead anywhere.
    const [from, to] = at < concepts - 1 ? [next(at + 1), at + 1] : [next(concepts), next(concepts)]
    return {
      id: id(`l${at}`),
      kind: 'links',
      source: id(`c${from}`),
      target: id(`c${to}`),
      fields: { phrase: ['needs', 'leads to', 'is part of', 'asks'][next(4)] ?? '' },
    }
  }).filter(({ source, target }) => source !== target)
  const figure: Entity = { id: id('f'), kind: 'figure', name: 'What the weather does', fields: { question: 'Why?' } }
  return Model.of({ entities: [figure, ...entities], relations })
}
