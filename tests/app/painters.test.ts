import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { XMLParser } from 'fast-xml-parser'
import { Preview } from '../../src/app/shell/Preview'
import { Assets } from '../../src/app/sheet/marks'
import { SceneLayer } from '../../src/app/sheet/SceneLayer'
import {
  brushOf,
  colourOf,
  kit,
  layersOf,
  meets,
  outlineOf,
  boxOf,
  SIDES,
  themeIn,
  themeOf,
  themes,
  toSvg,
  type Brush,
  type Mark,
  type Scene,
} from '../../src/core/scene'
import '../../src/core/scene/withIcons'
import { TONES } from '../../src/core/model'
import { drawn as drawnIn } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { marramSoundFerries } from '../../src/demo'
import { demoViews } from '../demoViews'
import { DAY, day } from '../facts'

/** A mark as a painter left it: what it is, where, and in which colours. */
type Left = string

const theme = themeOf(undefined)
const demo = marramSoundFerries()
const pictures = demoViews.map(({ view, picture }) => [`${view.title}, ${picture.title}`, view, picture] as const)
const ADDRESS = (asset: string) => `asset:${asset}`
/** As exactly as a file says it, then to a tenth of a px. */
const near = (value: unknown) => Math.round(Math.round(Number(value) * 100) / 10) / 10 + 0

/** Of every picture. */
const SIZE = { width: 40, height: 30 }

/** How a text is set: strong, slanted. */
const hand = (attrs: Readonly<Record<string, unknown>>): string =>
  `${String(attrs['font-weight'] ?? '')}${String(attrs['font-style'] ?? '')}`

/** What every painter should leave, from the marks themselves. */
function stated(scene: Scene): Left[] {
  const of = (mark: Mark, x: number, y: number): Left[] => {
    if (mark.tag === 'g') return mark.children.flatMap((child) => of(child, x, y))
    const { fill = '', stroke = '', ...attrs } = mark.attrs as unknown as Record<string, string>
    const colours = [fill, stroke].map((role) => (role === '' || role === 'none' ? '' : colourOf(theme, role as 'ink')))
    const words = mark.tag === 'text' ? mark.children[0] : ''
    const d = mark.tag === 'path' ? mark.attrs.d : ''
    const place = ['x', 'y', 'width', 'height', 'cx', 'cy', 'r', 'font-size'].map((name) => near(attrs[name] ?? 0))
    return [[mark.tag, near(x), near(y), ...place, d, ...colours, hand(attrs), words.trim()].join(' ')]
  }
  return layersOf(scene).flatMap(({ marks, x, y }) => marks.flatMap((mark) => of(mark, x, y)))
}

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseAttributeValue: false,
  parseTagValue: false,
  trimValues: false,
})
type Node = Readonly<Record<string, Node[]>> & { ':@'?: Readonly<Record<string, string>>; '#text'?: string }

function leftBy(
  tag: string,
  attrs: Readonly<Record<string, string>>,
  inner: readonly Node[],
  x: number,
  y: number,
): Left {
  const colours = ['fill', 'stroke'].map((name) => (attrs[name] === 'none' ? '' : (attrs[name] ?? '')))
  const words = inner.map((child) => String((child as { '#text'?: string })['#text'] ?? '')).join('')
  const place = ['x', 'y', 'width', 'height', 'cx', 'cy', 'r', 'font-size'].map((name) => near(attrs[name] ?? 0))
  return [tag, near(x), near(y), ...place, attrs['d'] ?? '', ...colours, hand(attrs), words.trim()].join(' ')
}

/** What an SVG shows, element by element. */
function drawn(svg: string): Left[] {
  const walk = (nodes: readonly Node[], x: number, y: number): Left[] =>
    nodes.flatMap((node) => {
      const tag = Object.keys(node).find((key) => key !== ':@') ?? ''
      const attrs = node[':@'] ?? {}
      const inner = node[tag] ?? []
      // A cropped picture stands in a drawing of its own, which says where.
      const [only] = inner
      if (tag === 'svg' && only && 'image' in only && 'x' in attrs) return [leftBy('image', attrs, [], x, y)]
      if (tag === 'svg' || tag === 'g') {
        const [, dx = 0, dy = 0] = /translate\((\S+) (\S+)\)/.exec(attrs['transform'] ?? '') ?? []
        return walk(inner, x + Number(dx), y + Number(dy))
      }
      if (!['rect', 'circle', 'path', 'text', 'image'].includes(tag)) return []
      return [leftBy(tag, attrs, inner, x, y)]
    })
  return walk(parser.parse(svg) as Node[], 0, 0)
}

/** What a canvas was told to paint, one entry a mark. */
function painted(scene: Scene): { left: string[]; wanted: string[] } {
  const left: string[] = []
  let [x, y] = [0, 0]
  const note = (...parts: unknown[]) => left.push(parts.join(' '))
  const brush: Brush<string, string> = {
    fillStyle: '',
    strokeStyle: '',
    lineWidth: 1,
    lineCap: '',
    lineJoin: '',
    globalAlpha: 1,
    font: '',
    textAlign: '',
    save: () => undefined,
    restore: () => undefined,
    translate: (dx, dy) => ([x, y] = [x + dx, y + dy]),
    scale: () => undefined,
    rotate: () => undefined,
    setLineDash: () => undefined,
    fill: (path) => note('fill', near(x), near(y), path, brush.fillStyle),
    stroke: (path) => note('stroke', near(x), near(y), path, brush.strokeStyle),
    fillRect: () => undefined,
    fillText: (text, tx, ty) =>
      note('text', near(x), near(y), near(tx), near(ty), brush.fillStyle, brush.font.split(' ', 2).join(' '), text),
    drawImage: (picture, px, py) => note('image', near(x), near(y), near(px), near(py), picture),
  }
  const wanted: string[] = []
  const want = (mark: Mark, ox: number, oy: number): void => {
    const at = [near(ox), near(oy)]
    if (mark.tag === 'g') return mark.children.forEach((child) => want(child, ox, oy))
    if (mark.tag === 'image')
      return void wanted.push(
        ['image', ...at, near(mark.attrs.x), near(mark.attrs.y), ADDRESS(mark.attrs.href)].join(' '),
      )
    if (mark.tag === 'text') {
      const { x: tx, y: ty, fill, 'font-weight': weight = 400, 'font-style': style = 'normal' } = mark.attrs
      if (mark.children[0] !== '')
        wanted.push(
          ['text', ...at, near(tx), near(ty), colourOf(theme, fill), `${style} ${weight}`, mark.children[0]].join(' '),
        )
      return
    }
    const { fill, stroke = 'none' } = mark.attrs
    if (fill !== 'none') wanted.push(['fill', ...at, outlineOf(mark), colourOf(theme, fill)].join(' '))
    if (stroke !== 'none') wanted.push(['stroke', ...at, outlineOf(mark), colourOf(theme, stroke)].join(' '))
  }
  for (const layer of layersOf(scene)) {
    brush.translate(layer.x, layer.y)
    for (const mark of layer.marks) {
      brushOf(mark, theme, { path: (d) => d, picture: ADDRESS, sizeOf: () => SIZE })(brush, 4)
      want(mark, layer.x, layer.y)
    }
    brush.translate(-layer.x, -layer.y)
  }
  return { left, wanted }
}

const imagesIn = (scene: Scene) => {
  const within = (mark: Mark): readonly (readonly [string, string])[] =>
    mark.tag === 'image'
      ? [[mark.attrs.href, ADDRESS(mark.attrs.href)]]
      : mark.tag === 'g'
        ? mark.children.flatMap(within)
        : []
  return new Map(layersOf(scene).flatMap(({ marks }) => marks.flatMap(within)))
}

/** With all that may stand out in it, around it and behind it. */
const dressedUp = pictures.flatMap(([title, view, picture]) => {
  const plain = picture.draw(demo, view, DAY)
  const [one, two, three] = plain.items.filter(({ ground, stays }) => !ground && !stays).map(({ facts }) => facts[0])
  if (one === undefined || !demo.entities.has(one)) return []
  const entity = demo.entities.get(one)
  const entities = new Map(demo.entities)
  if (entity)
    entities.set(one, {
      ...entity,
      name: `*${entity.name}* **!**`,
      fields: { ...entity.fields, icon: 'anchor', link: '#view=dry-dock' },
    })
  const look = {
    rules: ['colour by kind'],
    letters: true,
    heading: true,
    source: 'Lists & logs <of the ports>',
    ground: 'dotted',
    [`emphasis ${two ?? one}`]: ['strong', 'crossed out'],
    [`emphasis ${three ?? one}`]: ['quiet'],
    'note a': ['1', 'A note', one],
  }
  const scene = drawnIn(registry, demo.with({ entities }), { ...view, look }, DAY)
  return scene ? [[`${title}, dressed up`, scene] as const] : []
})

describe.each([
  ...pictures.map(([title, view, picture]) => [title, picture.draw(demo, view, DAY)] as const),
  ...dressedUp,
])('%s', (_title, scene) => {
  const all = stated(scene)
  const withoutImages = all.filter((left) => !left.startsWith('image'))

  it('is the same marks in the same order in a file, on the sheet, in a preview and on a canvas', () => {
    if (scene.items.length > 0) expect(all.length).toBeGreaterThan(0)
    const [, ...file] = drawn(toSvg(scene, { theme, title: 'T', images: imagesIn(scene) }))
    expect(file).toEqual(all)

    const sheet = SIDES.map((side) =>
      createElement(SceneLayer, { key: side, scene, theme, side, window: scene.bounds }),
    )
    const page = createElement('svg', {}, createElement(Assets, { value: ADDRESS }, ...sheet))
    expect(drawn(renderToStaticMarkup(page))).toEqual(all)

    if (scene.items.length > 0) {
      const preview = drawn(renderToStaticMarkup(createElement(Preview, { scene, theme })))
      expect(preview).toEqual(withoutImages)
    }
    const { left, wanted } = painted(scene)
    expect(left).toEqual(wanted)
  })

  it('lies within its bounds, mark by mark', () => {
    const { bounds } = scene
    const slack = 12
    for (const { marks, x, y, item } of layersOf(scene))
      for (const mark of marks) {
        const box = boxOf(mark)
        const outside =
          Math.min(x + box.x - bounds.x, y + box.y - bounds.y) < -slack ||
          x + box.x + box.width > bounds.x + bounds.width + slack ||
          y + box.y + box.height > bounds.y + bounds.height + slack
        expect(outside, `${item?.label ?? 'ground'}: ${JSON.stringify(mark)} ${JSON.stringify(bounds)}`).toBe(false)
      }
  })
})

describe('a cropped picture', () => {
  it('is the same part of it in a file and on the sheet', () => {
    const asset = `${'a'.repeat(40)}-300x100`
    const mark = kit.cropped({ x: 10, y: 20, width: 60, height: 40 }, asset, { x: 0.4, y: 0.5 })
    const scene: Scene = {
      bounds: { x: 0, y: 0, width: 100, height: 100 },
      backdrop: [mark],
      items: [],
      links: [],
      headline: '',
      summary: '',
    }
    const cropped = (svg: string) => {
      const [, outer = '', inner = ''] = /<svg([^>]*)><image([^>]*?)\/?>(?:<\/image>)?<\/svg>/.exec(svg) ?? []
      return [outer, inner].map((attrs) =>
        Object.fromEntries(
          [...attrs.matchAll(/([\w-]+)="([^"]*)"/g)].map(([, name, value]) => [
            name,
            Number.isNaN(Number(value)) ? value : near(value),
          ]),
        ),
      )
    }
    const page = createElement(
      Assets,
      { value: ADDRESS },
      createElement(SceneLayer, { scene, theme, side: 'ground', window: scene.bounds }),
    )
    const [box, whole] = cropped(renderToStaticMarkup(page))
    expect(box).toEqual({ x: 10, y: 20, width: 60, height: 40 })
    expect(whole).toMatchObject({ x: -18, y: 0, width: 120, height: 40, href: ADDRESS(asset) })
    expect(cropped(toSvg(scene, { theme, title: 'T', images: imagesIn(scene) }))).toEqual([box, whole])
  })
})

describe('layers', () => {
  it('are those within a window alone, heads as far as they reach', () => {
    const [, view, picture] = pictures.find(([title]) => title.endsWith('Bars')) ?? []
    if (!view || !picture) throw new Error('the demo has bars')
    const scene = picture.draw(demo, view, day('2026-11-24'))
    const window = { x: 5000, y: 100, width: 10, height: 60 }
    const heads = layersOf(scene, 'left', window).filter(({ item }) => item)
    expect(heads.length).toBeGreaterThan(0)
    expect(heads.length).toBeLessThan(scene.items.filter(({ stays }) => stays === 'left').length)
    for (const { item } of layersOf(scene, 'ground', window)) if (item) expect(item.box.y).toBeLessThan(160)
  })
})

describe('a mark', () => {
  it.each<[string, Mark, [number, number, number, number]]>([
    ['a rectangle', kit.rect({ x: 1, y: 2, width: 30, height: 40 }, { fill: 'ink', rx: 4 }), [1, 2, 30, 40]],
    ['a circle', kit.circle(10, 20, 5, { fill: 'ink' }), [5, 15, 10, 10]],
    ['a way', kit.path('M0 0h10v20H5L-5 3Z', { fill: 'none' }), [-5, 0, 15, 20]],
    ['a curve', kit.path('M0 0Q10 10 20 0', { fill: 'none' }), [0, 0, 20, 5]],
    ['a group', kit.group([kit.circle(10, 20, 5, { fill: 'ink' })], { transform: 'scale(2 3)' }), [10, 45, 20, 30]],
    ['an image', kit.image({ x: 1, y: 2, width: 3, height: 4 }, 'a'), [1, 2, 3, 4]],
  ])('%s knows its box', (_what, mark, [x, y, width, height]) => {
    const box = boxOf(mark)
    expect([box.x, box.y, box.width, box.height].map((value) => Math.round(value * 100) / 100)).toEqual([
      x,
      y,
      width,
      height,
    ])
  })
  it('that is turned text has the box of the turned words', () => {
    const level = boxOf(kit.text(0, 0, 'Quay', { fill: 'ink', 'font-size': 10, 'text-anchor': 'middle' }))
    const upright = boxOf(
      kit.text(0, 0, 'Quay', { fill: 'ink', 'font-size': 10, 'text-anchor': 'middle', transform: 'rotate(-90 0 0)' }),
    )
    expect([upright.width, upright.height].map(Math.round)).toEqual([level.height, level.width].map(Math.round))
  })
  it('is met on its line, within a filled shape and not beside either', () => {
    const line = kit.path('M0 0H100V50', { fill: 'none', stroke: 'ink', 'stroke-width': 2 })
    const at = (x: number, y: number, mark = line) => meets(mark, { x, y }, 3)
    expect([at(50, 3.5), at(50, 4.5), at(103, 30), at(60, 40)]).toEqual([true, false, true, false])
    const ring = kit.circle(0, 0, 20, { fill: 'none', stroke: 'ink' })
    const disc = kit.circle(0, 0, 20, { fill: 'ink' })
    expect([at(0, 0, ring), at(0, 0, disc), at(21, 0, ring), at(30, 0, disc)]).toEqual([false, true, true, false])
    const scaled = kit.group([disc], { transform: 'scale(2 2)' })
    expect([at(38, 0, scaled), at(45, 0, scaled)]).toEqual([true, false])
  })
  it('has a colour in every theme for every role', () => {
    for (const one of themes.flatMap((spec) => TONES.map((tone) => themeIn(spec, tone))))
      for (const role of ['sheet', 'ink', 'edge-0', 'edge-8', 'fill-8', 'bar-done'] as const)
        expect(colourOf(one, role)).toMatch(/^#[0-9a-f]{6}$/)
  })
  it('too small to be read is a bar of its length on a canvas', () => {
    const calls: unknown[] = []
    const brush = new Proxy({ globalAlpha: 1 } as Record<string, unknown>, {
      get: (own, name: string) =>
        name in own
          ? own[name]
          : (...told: unknown[]) =>
              calls.push([name, ...told.map((value) => (typeof value === 'number' ? Math.round(value) : value))]),
      set: (own, name: string, value) => ((own[name] = value), true),
    }) as unknown as Brush<string, undefined>
    const words = kit.text(10, 20, 'Marram Quay', { fill: 'ink', 'font-size': 12, 'text-anchor': 'end' })
    brushOf(words, theme, { path: (d) => d, picture: () => undefined, sizeOf: () => SIZE })(brush, 0.2)
    const { x, width } = boxOf(words)
    expect(calls).toEqual([['fillRect', Math.round(x), 14, Math.round(width), 6]])
  })
})
