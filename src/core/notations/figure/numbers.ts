import type { Day, Id, Model, View } from '../../model'
import type { Measure, NumberSheet, SheetRow } from '../../notation'
import { crossLinks, levelsOf, mapOn, type ConceptMap } from './maps/structure'
import { linesOn, type Part } from './structure'

const wordsIn = (parts: readonly Part[]): number =>
  parts.reduce((sum, { entity }) => sum + entity.name.split(/\s+/).filter(Boolean).length, 0)

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
    model.ofKind('figure').flatMap(({ id, name }): SheetRow[] => {
      const { tops, all } = linesOn(model, { scope: { figure: id } }, day)
      if (all.length === 0) return []
      const row = {
        figure: name,
        parts: tops.length,
        lines: all.length,
        levels: all.reduce((most, { depth }) => Math.max(most, depth + 1), 0),
        words: wordsIn(all),
      }
      return [row]
    }),
  counted: (model, day, row) =>
    model
      .ofKind('figure')
      .filter(({ name }) => name === row['figure'])
      .flatMap(({ id }) => linesOn(model, { scope: { figure: id } }, day).all.map((one) => one.id)),
}

/** How much a map says (Novak & Gowin 1984): what is linked by a phrase, what ties its parts together, how deep it goes. */
const mapsSheet: NumberSheet = {
  id: 'maps',
  title: 'Concept maps',
  columns: [
    { id: 'map', label: 'Map', unit: null },
    { id: 'concepts', label: 'Concepts', unit: null },
    { id: 'propositions', label: 'Propositions', unit: null },
    { id: 'crossLinks', label: 'Cross-links', unit: null },
    { id: 'levels', label: 'Levels', unit: null },
    { id: 'unlinked', label: 'Unlinked parts', unit: null },
  ],
  rows: (model, day) =>
    model.ofKind('figure').flatMap(({ id, name }): SheetRow[] => {
      const map = mapOn(model, { scope: { figure: id } }, day)
      return map.concepts.length === 0 ? [] : [{ map: name, ...figuresOf(map) }]
    }),
  counted: (model, day, row) =>
    model
      .ofKind('figure')
      .filter(({ name }) => name === row['map'])
      .flatMap(({ id }) => mapOn(model, { scope: { figure: id } }, day).concepts.map((one) => one.id)),
}

/** O(concepts + links) */
function figuresOf(map: ConceptMap) {
  return {
    concepts: map.concepts.length,
    propositions: map.links.filter(({ phrase }) => phrase !== '').length,
    crossLinks: crossLinks(map).length,
    levels: Math.max(0, ...levelsOf(map).values()),
    unlinked: partsOf(map),
  }
}

/** Into how many parts a map falls beyond the first. */
function partsOf({ concepts }: ConceptMap): number {
  const seen = new Set<unknown>()
  let parts = 0
  for (const start of concepts) {
    if (seen.has(start)) continue
    parts++
    const queue = [start]
    seen.add(start)
    for (const one of queue)
      for (const next of [...one.says.map(({ to }) => to), ...one.said.map(({ from }) => from)])
        if (!seen.has(next)) {
          seen.add(next)
          queue.push(next)
        }
  }
  return Math.max(0, parts - 1)
}

export const numbers: readonly NumberSheet[] = [figuresSheet, mapsSheet]

export function measuresOf(
  model: Model,
  day: Day,
  _selected: Id | undefined,
  view: View,
): { of: string; list: readonly Measure[] } {
  const map = mapOn(model, view, day)
  if (view.picture === 'concepts') {
    const { concepts, propositions, crossLinks: cross, levels, unlinked } = figuresOf(map)
    const shown = {
      Concepts: concepts,
      Propositions: propositions,
      'Cross-links': cross,
      Levels: levels,
      'Unlinked parts': unlinked,
    }
    return {
      of: 'this map',
      list: Object.entries(shown).map(([label, value]) => ({ label, value: value.toLocaleString('en') })),
    }
  }
  const { tops, all } = linesOn(model, view, day)
  return {
    of: 'this figure',
    list: [
      { label: 'Parts', value: tops.length.toLocaleString('en') },
      { label: 'Lines', value: all.length.toLocaleString('en') },
      { label: 'Words', value: wordsIn(all).toLocaleString('en') },
    ],
  }
}
