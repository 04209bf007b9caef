import type { Day, Id, Model, View } from '../../model'
import type { Measure, NumberSheet, SheetRow } from '../../notation'
import { linesOn } from './structure'

/** How much each figure says. */
const figuresSheet: NumberSheet = {
  id: 'figures',
  title: 'Figures',
  columns: [
    { id: 'figure', label: 'Figure', unit: null },
    { id: 'parts', label: 'Parts', unit: null },
    { id: 'lines', label: 'Lines', unit: null },
    { id: 'levels', label: 'Levels', unit: null },
    { id: 'words', label: 'Words', unit: null },
  ],
  rows: (model, day) =>
    model.ofKind('figure').map(({ id, name }): SheetRow => {
      const { tops, all } = linesOn(model, { scope: { figure: id } }, day)
      return {
        figure: name,
        parts: tops.length,
        lines: all.length,
        levels: all.reduce((most, { depth }) => Math.max(most, depth + 1), 0),
        words: all.reduce((sum, { entity }) => sum + entity.name.split(/\s+/).filter(Boolean).length, 0),
      }
    }),
  counted: (model, day, row) =>
    model
      .ofKind('figure')
      .filter(({ name }) => name === row['figure'])
      .flatMap(({ id }) => linesOn(model, { scope: { figure: id } }, day).all.map((one) => one.id)),
}

export const numbers: readonly NumberSheet[] = [figuresSheet]

export function measuresOf(
  model: Model,
  day: Day,
  _selected: Id | undefined,
  view: View,
): { of: string; list: readonly Measure[] } {
  const { tops, all } = linesOn(model, view, day)
  const words = all.reduce((sum, { entity }) => sum + entity.name.split(/\s+/).filter(Boolean).length, 0)
  return {
    of: 'this figure',
    list: [
      { label: 'Parts', value: tops.length.toLocaleString('en') },
      { label: 'Lines', value: all.length.toLocaleString('en') },
      { label: 'Words', value: words.toLocaleString('en') },
    ],
  }
}
