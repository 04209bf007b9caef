import type { Model } from '../../../../model'
import { kit, CATEGORIES, textWidth, type Box, type Mark } from '../../../../scene'
import { fteOf, unitName, type Post } from '../../structure'

const NOBODY = 'Vacant'

/** The category of each post by a field. Costs are put into four bands of equally many positions. O(posts). */
export function categoriesOf(model: Model, posts: readonly Post[], field: unknown): (string | undefined)[] {
  if (field === 'cost') return costBands(posts)
  return posts.map((post) => categoryOf(model, post, field))
}

function categoryOf(model: Model, { position, holders }: Post, field: unknown): string | undefined {
  const value = position.fields[String(field)]
  switch (field) {
    case 'unit':
      return unitName(model, position)
    case 'grade':
    case 'location':
      return typeof value === 'string' ? value : undefined
    case 'fte':
      return `${fteOf(position)} fte`
    case 'planned':
      return value === true ? 'Planned' : 'Not planned'
    case 'role': {
      const names = model.leaving(position.id, 'fills').flatMap(({ target }) => model.entities.get(target)?.name ?? [])
      return names.length > 0 ? names.join(', ') : undefined
    }
    case 'employer': {
      const employer = holders[0]?.person.fields['employer']
      return holders.length === 0 ? NOBODY : typeof employer === 'string' ? employer : 'Own staff'
    }
    case 'holder':
      return holders.length === 0
        ? NOBODY
        : holders.some(({ holds }) => holds.fields['acting'] === true)
          ? 'Acting'
          : 'Held'
    default:
      return undefined
  }
}

const BANDS = 4

function costBands(posts: readonly Post[]): (string | undefined)[] {
  const costs = posts.map(({ position }) => position.fields['cost'])
  const known = costs.filter((cost): cost is number => typeof cost === 'number').sort((a, b) => a - b)
  const limits = Array.from({ length: BANDS }, (_, band) => known[Math.ceil((known.length * (band + 1)) / BANDS) - 1])
  const words = limits.map((limit) => `Cost up to ${(limit ?? 0).toLocaleString('en')}`)
  return costs.map((cost) => {
    const band = typeof cost === 'number' ? limits.findIndex((limit) => limit !== undefined && cost <= limit) : -1
    return words[band]
  })
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
      kit.rect({ x, y, width: 5, height: 12 }, { fill: `edge-${number}`, stroke: 'none' }),
      kit.text(x + 11, y + 10, shown, { fill: 'ink-quiet', 'font-size': SIZE }),
    )
    x += width
  }
  return { marks, height: y - under.y - under.height + LEGEND_HEIGHT }
}
