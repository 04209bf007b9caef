import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asId, Model, type Entity } from '../../../src/core/model'
import { addresses } from '../../../src/core/notations/network/pictures/addresses'
import { racks } from '../../../src/core/notations/network/pictures/racks'
import { sites } from '../../../src/core/notations/network/pictures/sites'
import { coarsenessFor, hatch } from '../../../src/core/notations/network/pictures/zones/ground'
import { loadLand } from '../../../src/core/maps'
import { fitting, openingOf, textWidth, type Mark, type Scene } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { DAY } from '../../facts'
import { network, networkView } from './facts'

interface Told {
  readonly words: string
  readonly x: number
  readonly right: number
  readonly top: number
  readonly bottom: number
}

const numberIn = (value: unknown): number => (typeof value === 'number' ? value : 0)

/** Where the words of a scene stand: as wide as its fonts make them, as high as small letters are. */
function toldIn({ items, backdrop = [] }: Scene): Told[] {
  const within = (mark: Mark, x: number, y: number): Told[] => {
    if (mark.tag === 'g') return mark.children.flatMap((one) => within(one, x, y))
    if (mark.tag !== 'text') return []
    const { attrs } = mark
    const words = mark.children.join('')
    const size = numberIn(attrs['font-size'])
    const width = textWidth(
      words,
      size,
      attrs['font-family'] === 'mono' ? 'mono400' : attrs['font-weight'] === 700 ? 'text700' : 'text400',
    )
    const anchor = attrs['text-anchor']
    const left = x + numberIn(attrs['x']) - (anchor === 'end' ? width : anchor === 'middle' ? width / 2 : 0)
    const base = y + numberIn(attrs['y'])
    return [{ words, x: left, right: left + width, top: base - size * 0.6, bottom: base }]
  }
  return [
    ...backdrop.flatMap((mark) => within(mark, 0, 0)),
    ...items.flatMap(({ box, marks }) => marks.flatMap((mark) => within(mark, box.x, box.y))),
  ]
}

/** Words over other words. */
function collisions(scene: Scene): string[] {
  const told = toldIn(scene).filter(({ words }) => words.trim() !== '')
  return told.flatMap((one, at) =>
    told
      .slice(at + 1)
      .filter((other) => one.x < other.right && other.x < one.right && one.top < other.bottom && other.top < one.bottom)
      .map((other) => `${one.words} over ${other.words}`),
  )
}

const marksIn = ({ items }: Scene): readonly Mark[] => items.flatMap(({ marks }) => marks)
const viewOf = (picture: string, options = {}) => ({ ...networkView(), picture, options })

describe('words of the demo', () => {
  const demo = marramSoundFerries()
  it.each([
    ['port-addresses', addresses],
    ['port-sites', sites],
    ['port-racks', racks],
  ] as const)('stand beside one another: %s', (id, picture) => {
    const view = demo.views.get(asId(id)) ?? networkView()
    const scene = picture.draw(demo, view, DAY)
    expect(toldIn(scene).length).toBeGreaterThan(10)
    expect(collisions(scene)).toEqual([])
  })
})

describe('strips of addresses', () => {
  it('say as much of how full they are as their outermost addresses leave room for', () => {
    const long =
      'Six  (subnet 2001:db8:1111:2222:3333:4444:5555:0/112, reserved 2001:db8:1111:2222:3333:4444:5555:8000-2001:db8:1111:2222:3333:4444:5555:8fff)'
    const scene = addresses.draw(
      network(`${long}\na  server  2001:db8:1111:2222:3333:4444:5555:9/112`),
      viewOf('addresses'),
      DAY,
    )
    const words = toldIn(scene).map((one) => one.words)
    expect(words).toContain('2001:db8:1111:2222:3333:4444:5555:ffff')
    expect(words.some((one) => one.startsWith('1 used'))).toBe(true)
    expect(collisions(scene)).toEqual([])
    const short = addresses.draw(
      network('Four  (subnet 10.0.0.0/24)\na  server  10.0.0.1/24'),
      viewOf('addresses'),
      DAY,
    )
    expect(toldIn(short).map((one) => one.words)).toContain('1 used, 253 free, next 10.0.0.2')
  })

  it('take a bounded number of marks for 10 000 addresses of a /16, and are looked into part by part', () => {
    const told = (count: number) =>
      Array.from({ length: count }, (_, at) => `10.8.${1 + Math.floor(at / 200)}.${1 + (at % 200)}/16`)
    const drawn = (count: number, options = {}) => {
      const devices = [0, 1].map((half) => ({
        id: asId(`d${half}`),
        kind: 'device',
        name: `d${half}`,
        fields: { type: 'server', addresses: told(count).filter((_, at) => at % 2 === half) },
      }))
      const subnet = { id: asId('all'), kind: 'subnet', name: 'All', fields: { prefix: '10.8.0.0/16' } }
      const view = viewOf('addresses', options)
      return addresses.draw(Model.of({ entities: [...devices, subnet], views: [view] }), view, DAY)
    }
    expect(drawn(10_000).items[0]?.label).toContain('10000 of 65,534 used')
    // No more places than a strip has, however many addresses.
    expect(JSON.stringify(marksIn(drawn(10_000))).length).toBeLessThan(3_000)
    expect(marksIn(drawn(10_000, { part: '10.8.1.0/24' })).length).toBeLessThan(600)
    expect(toldIn(drawn(10_000, { part: '10.8.3.0/24' })).map(({ words }) => words)).toContain('16 of 16 used')
  })
})

describe('places on a map', () => {
  it('have words that meet no others, wherever they are', async () => {
    await loadLand()
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 48, max: 58, noNaN: true }), fc.double({ min: -6, max: 8, noNaN: true })), {
          minLength: 1,
          maxLength: 14,
        }),
        (where) => {
          const entities = where.flatMap(([latitude, longitude], at): Entity[] => [
            { id: asId(`s${at}`), kind: 'site', name: `Harbour ${at}`, fields: { latitude, longitude } },
            { id: asId(`d${at}`), kind: 'device', name: `d${at}`, fields: { type: 'switch' } },
          ])
          const relations = where.map((_, at) => ({
            id: asId(`l${at}`),
            kind: 'located-at',
            source: asId(`d${at}`),
            target: asId(`s${at}`),
            fields: {},
          }))
          const model = Model.of({ entities, relations, views: [viewOf('sites')] })
          expect(collisions(sites.draw(model, viewOf('sites'), DAY))).toEqual([])
        },
      ),
      { numRuns: 25 },
    )
  })
})

describe('racks from the front', () => {
  it('show each device as many units high as it is, above what stands beneath it', () => {
    const scene = racks.draw(
      network('A1  (rack, units 10)\na  server  in A1 u 1  units: 2\nb  switch  in A1 u 3\nc  server  in A1 u 10'),
      viewOf('racks'),
      DAY,
    )
    const boxOf = (name: string) =>
      scene.items.find(({ label }) => label.includes(name))?.box ?? { x: 0, y: 0, width: 0, height: 0 }
    const named = (name: string) =>
      scene.items.find(({ texts = [] }) => texts.some(({ value }) => value === name))?.box ?? boxOf(name)
    const [a, b, c] = [named('a'), named('b'), named('c')]
    expect(a.height).toBeCloseTo(2 * b.height, 0)
    expect(a.y).toBeGreaterThan(b.y)
    expect(b.y).toBeGreaterThan(c.y)
    expect(b.y - c.y).toBeCloseTo(7 * b.height, 0)
    expect(collisions(scene)).toEqual([])
  })
})

describe('what is drawn beneath', () => {
  it('is a line between units, and none through a device of several', () => {
    const { backdrop } = racks.draw(
      network('A1  (rack, units 10)\na  server  in A1 u 2  units: 3\nb  switch  in A1 u 9'),
      viewOf('racks'),
      DAY,
    )
    const lines = backdrop.flatMap((mark) => (mark.tag === 'path' ? (mark.attrs.d.match(/M/g) ?? []) : []))
    expect(lines).toHaveLength(9 - 2)
  })
  it('is coarser the larger a network is, so that what is seen whole keeps its stripes apart', () => {
    expect([coarsenessFor(2600, 1770), coarsenessFor(600, 2800)]).toEqual([1, 1])
    expect(coarsenessFor(5600, 900)).toBeCloseTo(2 ** 1.5, 9)
    expect(coarsenessFor(900, 1e6)).toBe(6)
    const area = { x: 0, y: 0, width: 5000, height: 5000 }
    const stripes = (coarse: number) =>
      hatch(area, 'none', coarse).flatMap((mark) => (mark.tag === 'path' ? (mark.attrs.d.match(/M/g) ?? []) : []))
        .length
    expect(stripes(4)).toBeCloseTo(stripes(1) / 4, -1)
  })
  it('is a map that a sheet beside its registers shows whole', async () => {
    await loadLand()
    const demo = marramSoundFerries()
    for (const view of demo.views.values()) {
      if (view.picture !== 'sites') continue
      const scene = sites.draw(demo, view, DAY)
      expect(openingOf(scene, SHEET)).toEqual(fitting(scene.bounds, SHEET))
    }
  })
})

/** A sheet in a window of 1280 × 800, with registers and margin open. */
const SHEET = { width: 782, height: 465 }
