import type { Entity, Model } from '../../../../model'
import { CATEGORIES, textWidth, type Box, type Mark } from '../../../../scene'
import { unitName } from '../../structure'

/** The field that colours the cards. */
export const COLOURINGS = ['unit', 'grade', 'location', 'none'] as const

export function categoryOf(model: Model, position: Entity, field: unknown): string | undefined {
  if (field === 'unit') return unitName(model, position)
  if (field !== 'grade' && field !== 'location') return undefined
  const value = position.fields[field]
  return typeof value === 'string' ? value : undefined
}

/** Categories in the order of first appearance, each with its number; those past the eighth share grey. */
export function numberCategories(names: Iterable<string | undefined>): Map<string, number> {
  const numbers = new Map<string, number>()
  for (const name of names)
    if (name !== undefined && !numbers.has(name)) numbers.set(name, numbers.size < CATEGORIES ? numbers.size + 1 : 0)
  return numbers
}

const SIZE = 11
const LEGEND_HEIGHT = 30

/** One row, or more where the drawing is narrow, beneath it. */
export function legend(categories: ReadonlyMap<string, number>, under: Box): { marks: Mark[]; height: number } {
  if (categories.size === 0) return { marks: [], height: 0 }
  const left = under.x + 24
  const most = Math.max(under.width - 48, 200)
  const marks: Mark[] = []
  let [x, y] = [left, under.y + under.height]
  for (const [name, number] of categories) {
    const shown = name.length > 40 ? `${name.slice(0, 39)}…` : name
    const width = 14 + textWidth(shown, SIZE, 'text400') + 24
    if (x > left && x + width > left + most) {
      x = left
      y += 18
    }
    marks.push(
      { tag: 'rect', attrs: { x, y, width: 5, height: 12, fill: `edge-${number}`, stroke: 'none' } },
      {
        tag: 'text',
        attrs: { x: x + 11, y: y + 10, fill: 'ink-quiet', 'font-family': 'text', 'font-size': SIZE },
        children: [shown],
      },
    )
    x += width
  }
  return { marks, height: y - under.y - under.height + LEGEND_HEIGHT }
}
