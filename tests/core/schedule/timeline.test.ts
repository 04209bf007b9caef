import { describe, expect, it } from 'vitest'
import { asId, Model, type Entity } from '../../../src/core/model'
import { textWidth, type Item, type Mark, type Scene } from '../../../src/core/scene'
import { DAY, said } from '../../facts'
import { planView, schedule } from './facts'

const timeline = schedule.pictures.find(({ id }) => id === 'timeline')
if (!timeline) throw new Error('no timeline')

/** Random events and eras with names of all lengths. The same seed gives the same ones. */
function madeUp(seed: number): Model {
  let state = seed * 2654435761 + 7
  const dice = (sides: number) => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return Math.floor(((state >>> 8) / 2 ** 24) * sides)
  }
  const words = [
    'Opening',
    'of the second',
    'ferry terminal',
    'by',
    'the harbour company',
    'War',
    'Expansion to the outer islands',
  ]
  const name = () => Array.from({ length: 1 + dice(4) }, () => words[dice(words.length)]).join(' ')
  const year = () => String(1880 + dice(160))
  const entities = Array.from({ length: 4 + dice(22) }, (_, i): Entity => {
    const era = dice(3) === 0
    const from = year()
    return {
      id: asId(`e${i}`),
      kind: era ? 'era' : 'event',
      name: name(),
      fields: {
        when: from,
        ...(era ? { until: String(Number(from) + dice(40)) } : {}),
        ...(dice(3) === 0 ? { weight: 'main' } : {}),
        ...(dice(2) === 0 ? { band: ['Ships', 'Ports'][dice(2)] ?? 'Ships' } : {}),
      },
    }
  })
  return Model.of({ name: 'T', entities })
}

interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** The box of each text of an item, in the sheet's px. */
const textsOf = ({ box, marks }: Pick<Item, 'box' | 'marks'>): Box[] =>
  marks.flatMap((mark: Mark) => {
    if (mark.tag !== 'text') return []
    const { x, y, 'font-size': size, 'font-weight': weight, 'font-family': family } = mark.attrs
    const words = String(mark.children?.[0] ?? '')
    const face = family === 'mono' ? 'mono400' : Number(weight) === 700 ? 'text700' : 'text400'
    const height = Number(size)
    return [
      { x: box.x + Number(x), y: box.y + Number(y) - height * 0.8, width: textWidth(words, height, face), height },
    ]
  })

/** The upright pieces of an event's stem. */
function stemOf({ box, marks }: Item): { x: number; from: number; to: number }[] {
  const path = said(
    marks.find(({ tag }) => tag === 'path'),
    'd',
  )
  const pieces: { x: number; from: number; to: number }[] = []
  let at = 0
  for (const [, command, x, y] of path.matchAll(/(M|V)(?:(-?[\d.]+) )?(-?[\d.]+)/g)) {
    const next = Number(y)
    if (command === 'V') pieces.push({ x: box.x, from: box.y + Math.min(at, next), to: box.y + Math.max(at, next) })
    void x
    at = next
  }
  return pieces
}

const draw = (model: Model, more = {}): Scene => timeline.draw(model, planView({ picture: 'timeline', ...more }), DAY)

describe('random timelines', () => {
  const scenes = Array.from({ length: 150 }, (_, i) =>
    draw(
      madeUp(i + 1),
      i % 3 === 0 ? { options: { bands: true } } : i % 3 === 1 ? { options: { spacing: 'even' } } : {},
    ),
  )
  it('lead no stem across the name of an era', () => {
    let stems = 0
    const crossed = scenes.flatMap(({ items }, scene) => {
      const eras = items.filter(({ label }) => label.startsWith('era ')).flatMap(textsOf)
      return items
        .filter(({ label }) => !label.startsWith('era '))
        .flatMap(stemOf)
        .flatMap((stem) => {
          stems++
          return eras.some(
            (text) =>
              stem.x > text.x && stem.x < text.x + text.width && stem.from < text.y + text.height && stem.to > text.y,
          )
            ? [scene + 1]
            : []
        })
    })
    expect(stems).toBeGreaterThan(1000)
    expect(crossed).toEqual([])
  })
  it('cut no text at the edge of the sheet', () => {
    const cut = scenes.flatMap(({ items, backdrop, bounds }, scene) => {
      const all = [...items.flatMap(textsOf), ...textsOf({ box: { x: 0, y: 0, width: 0, height: 0 }, marks: backdrop })]
      return all.some(({ x, width }) => x < bounds.x - 0.5 || x + width > bounds.x + bounds.width + 0.5)
        ? [scene + 1]
        : []
    })
    expect(cut).toEqual([])
  })
})
