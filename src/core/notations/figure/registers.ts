import type { Id, Model } from '../../model'
import {
  adding,
  EMPHASIS,
  fieldColumn,
  fieldOf,
  fromColumn,
  nameColumn,
  rowsOf,
  toColumn,
  type Column,
  type Register,
} from '../../notation'
import { entityKinds, figures, UNNAMED } from './kinds'
import { NEW_CONCEPT } from './maps/outline'
import { mapOn } from './maps/structure'
import { arrangements } from './gestures'
import { linesOn } from './structure'

const own = (kind: string, id: string, width?: number): Column => fieldColumn(fieldOf(entityKinds, kind, id), width)

const level: Column = {
  id: 'level',
  label: 'Level',
  type: 'number',
  width: 56,
  mono: true,
  read: (model, row, day) => {
    const figure = model.entities.get(row)?.fields['figure']
    const lines = typeof figure === 'string' ? linesOn(model, { scope: { figure } }, day) : undefined
    const one = lines?.byId.get(row)
    return one && one.depth + 1
  },
}

const under: Column = {
  id: 'under',
  label: 'Under',
  type: 'text',
  width: 150,
  read: (model, row) => nameOf(model, model.entities.get(row)?.fields['under'] as Id | undefined),
}
const nameOf = (model: Model, id: Id | undefined): string | undefined =>
  id === undefined ? undefined : model.entities.get(id)?.name

/** The propositions that a concept stands in, on one side. */
const linked = (side: 'said' | 'says', label: string): Column => ({
  id: side,
  label,
  type: 'text',
  width: 240,
  read: (model, row, day) => {
    const figure = model.entities.get(row)?.fields['figure']
    const one = mapOn(model, { scope: { figure: figure ?? '' } }, day).byId.get(row)
    const told = one?.[side].map(({ phrase, from, to }) =>
      side === 'says' ? `${phrase} ${to.entity.name}` : `${from.entity.name} ${phrase}`,
    )
    return told && told.length > 0 ? told.join('; ') : undefined
  },
})

export const registers: readonly Register[] = [
  {
    id: 'parts',
    title: 'Parts',
    kind: 'part',
    pictures: arrangements.map(({ id }) => id),
    columns: [
      nameColumn('Text', 240),
      level,
      under,
      fieldColumn(EMPHASIS, 90),
      own('part', 'value', 70),
      own('part', 'unit', 70),
      own('part', 'across', 64),
      own('part', 'up', 64),
      own('part', 'done', 60),
      own('part', 'gathers', 200),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => linesOn(model, view, day).all.map(({ id }) => id),
    count: (model, view, day) => linesOn(model, view, day).all.length,
    add: adding('part', UNNAMED, ({ model, view, day }) => ({
      figure: figures.of(model, view) ?? '',
      order: linesOn(model, view, day).tops.length + 1,
    })),
  },
  {
    id: 'concepts',
    title: 'Concepts',
    kind: 'concept',
    pictures: ['concepts'],
    columns: [
      nameColumn('Concept', 240),
      linked('said', 'Said of it'),
      linked('says', 'Says of others'),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => mapOn(model, view, day).concepts.map(({ id }) => id),
    count: (model, view, day) => mapOn(model, view, day).concepts.length,
    add: adding('concept', NEW_CONCEPT, ({ model, view, day }) => ({
      figure: figures.of(model, view) ?? '',
      order: mapOn(model, view, day).concepts.length + 1,
    })),
  },
  {
    id: 'figures',
    title: 'Figures',
    kind: 'figure',
    columns: [
      nameColumn('Title', 240),
      own('figure', 'question', 240),
      own('figure', 'across', 120),
      own('figure', 'up', 120),
      fromColumn,
      toColumn,
    ],
    rows: rowsOf('figure'),
    add: adding('figure', 'New figure'),
  },
]
