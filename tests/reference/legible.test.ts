import { formatRgb, interpolate, wcagContrast } from 'culori'
import { describe, expect, it } from 'vitest'
import { TONES, type View } from '../../src/core/model'
import { drawn, EMPHASES } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import {
  boxOf,
  colourOf,
  layersOf,
  meets,
  themeIn,
  themes,
  type Mark,
  type Role,
  type Scene,
  type Theme,
} from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { demoViews } from '../demoViews'
import { DAY } from '../facts'

/** What lies under a text: roles with how much they cover, the topmost first, down to the sheet. */
type Ground = readonly (readonly [role: Role, cover: number])[]
interface Written {
  readonly ink: Role
  readonly ground: Ground
  /** WCAG 2.2 calls text large from 18 pt on, and from 14 pt on where it is bold: 24 and 18.66 px. */
  readonly isLarge: boolean
  readonly words: string
}

interface Shape {
  readonly mark: Mark
  readonly box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  readonly x: number
  readonly y: number
  readonly role: Role
  readonly cover: number
}

/** Every kind of text of a picture, by its ink and what lies under its middle. O(texts × shapes) */
function written(scene: Scene): readonly Written[] {
  const shapes: Shape[] = []
  const found = new Map<string, Written>()
  const look = (mark: Mark, x: number, y: number): void => {
    if (mark.tag === 'g' || mark.tag === 'image') return
    if (mark.tag !== 'text') {
      const { fill = 'none', opacity = 1, 'fill-opacity': within = 1 } = mark.attrs
      if (fill !== 'none') shapes.push({ mark, box: boxOf(mark), x, y, role: fill, cover: opacity * within })
      return
    }
    const { fill, opacity = 1, 'font-size': size, 'font-weight': weight = 400 } = mark.attrs
    // What is faded or stands for a picture that is not there is no text to be read.
    if (opacity < 1 || mark.children[0].trim() === '') return
    const box = boxOf(mark)
    const at = { x: x + box.x + box.width / 2, y: y + box.y + box.height / 2 }
    const ground: (readonly [Role, number])[] = []
    for (const shape of shapes.toReversed()) {
      const [px, py] = [at.x - shape.x, at.y - shape.y]
      if (
        px < shape.box.x ||
        py < shape.box.y ||
        px > shape.box.x + shape.box.width ||
        py > shape.box.y + shape.box.height
      )
        continue
      if (!meets(shape.mark, { x: px, y: py }, 0)) continue
      ground.push([shape.role, shape.cover])
      if (shape.cover >= 1) break
    }
    const isLarge = size >= 24 || (size >= 18.66 && weight >= 700)
    const key = JSON.stringify([fill, ground, isLarge])
    if (!found.has(key)) found.set(key, { ink: fill, ground, isLarge, words: mark.children[0] })
  }
  for (const { marks, x, y } of layersOf(scene)) for (const mark of marks) look(mark, x, y)
  return [...found.values()]
}

const groundIn = (theme: Theme, ground: Ground): string =>
  ground
    .toReversed()
    .reduce(
      (under, [role, cover]) => formatRgb(interpolate([under, colourOf(theme, role)], 'rgb')(cover)) ?? under,
      colourOf(theme, 'sheet'),
    )

// WCAG 2.2, success criterion 1.4.3, over all that the demo draws.
describe.each(demoViews.map(({ view, picture }) => [`${view.title}, ${picture.title}`, view, picture] as const))(
  'the texts of %s',
  (_, view, picture) => {
    const plain = picture.draw(marramSoundFerries(), view, DAY)
    const facts = [...new Set(plain.items.flatMap((item) => item.facts))]
    const marked = (words: readonly string[]): View => ({
      ...view,
      look: Object.fromEntries(facts.map((id, at) => [`emphasis ${id}`, [words[at % words.length] ?? '']])),
    })
    const categories = EMPHASES.filter((word) => word.startsWith('category'))
    it.each([
      ['as they are', view],
      ['in categories', marked(categories)],
      ['quiet, strong and crossed out', marked(['quiet', 'strong', 'crossed out'])],
    ])('stand out from what lies under them in every theme and tone, %s', (_how, shown) => {
      const scene = drawn(registry, marramSoundFerries(), shown, DAY)
      const texts = scene ? written(scene) : []
      const faults = themes.flatMap((spec) =>
        TONES.flatMap((tone) => {
          const theme = themeIn(spec, tone)
          return texts.flatMap(({ ink, ground, isLarge, words }) => {
            const contrast = wcagContrast(colourOf(theme, ink), groundIn(theme, ground))
            return contrast >= (isLarge ? 3 : 4.5)
              ? []
              : [
                  `${theme.title} ${tone}: ${ink} on ${ground.map(([role]) => role).join(' over ') || 'sheet'} ${contrast.toFixed(2)}, “${words}”`,
                ]
          })
        }),
      )
      expect(faults).toEqual([])
    })
  },
)
