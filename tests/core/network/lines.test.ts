import { describe, expect, it } from 'vitest'
import { registry } from '../../../src/core/notations'
import { DAY } from '../../facts'
import { networkOf } from '../../networkShapes'
import { isMeeting, textBoxes } from '../../textBoxes'
import { network, networkView } from './facts'

const zones = registry.notations.find(({ id }) => id === 'network')?.pictures.find(({ id }) => id === 'zones')
if (!zones) throw new Error('no picture')

/** The places of a line, each piece cut into short ones. */
function placesAlong(d: string): readonly { readonly x: number; readonly y: number }[] {
  const points = [...d.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({ x: Number(x), y: Number(y) }))
  return points.slice(1).flatMap((to, at) => {
    const from = points[at] ?? to
    return Array.from({ length: 101 }, (_, step) => ({
      x: from.x + ((to.x - from.x) * step) / 100,
      y: from.y + ((to.y - from.y) * step) / 100,
    }))
  })
}

describe.each(['right-angled', 'straight'])('%s lines of a network', (lines) => {
  it('run through no device, and the names of their ports lie on nothing', () => {
    const faults: string[] = []
    let cables = 0
    for (let seed = 1; seed <= 16; seed++) {
      const model = networkOf({
        devices: 8 + 2 * seed,
        zones: 1 + (seed % 4),
        cables: seed % 2 === 0 ? 12 + 3 * seed : 0,
        seed,
      })
      const scene = zones.draw(model, { ...networkView(), options: { lines } }, DAY)
      const { items, links } = scene
      const devices = items.filter(({ id }) => model.entities.get(id)?.kind === 'device')
      const texts = textBoxes(scene)
      const names = texts.filter(({ of }) => model.relations.has(of as never))
      cables += links.length
      expect(names).toHaveLength(2 * links.length)
      names.forEach((one, at) => {
        for (const other of names.slice(at + 1)) if (isMeeting(one, other)) faults.push(`${one.text} on ${other.text}`)
        for (const { label, box } of devices) if (isMeeting(one, box)) faults.push(`${one.text} on ${label}`)
      })
      for (const { source, target, marks } of links) {
        const [line] = marks.flatMap((mark) => (mark.tag === 'path' ? [mark.attrs.d] : []))
        for (const { id, label, box } of devices) {
          const isIn = ({ x, y }: { x: number; y: number }) =>
            x > box.x + 1 && x < box.x + box.width - 1 && y > box.y + 1 && y < box.y + box.height - 1
          if (id !== source && id !== target && placesAlong(line ?? '').some(isIn))
            faults.push(`a line through ${label}`)
        }
      }
    }
    expect(faults).toEqual([])
    expect(cables).toBeGreaterThan(400)
  })
})

describe('a straight line', () => {
  it('leads from the border of one device to that of the other, and is taken hold of on itself', () => {
    const model = networkOf({ devices: 24, zones: 3, cables: 40, seed: 4 })
    const { items, links } = zones.draw(model, { ...networkView(), options: { lines: 'straight' } }, DAY)
    const straight = links.flatMap(({ id, source, target, marks }) => {
      const d = marks.find((mark) => mark.tag === 'path')?.attrs.d ?? ''
      return d.match(/L/g)?.length === 1 ? [{ id, d, source, target }] : []
    })
    const boxOf = (id: string) => items.find((item) => item.id === id)?.box ?? { x: 0, y: 0, width: 0, height: 0 }
    expect(straight.length).toBeGreaterThan(10)
    for (const { id, d, source, target } of straight) {
      const ends = [placesAlong(d)[0], placesAlong(d).at(-1)]
      for (const end of [source, target]) {
        const box = boxOf(end)
        const touches = ends.some(
          (at) =>
            at &&
            at.x >= box.x - 1 &&
            at.x <= box.x + box.width + 1 &&
            at.y >= box.y - 1 &&
            at.y <= box.y + box.height + 1,
        )
        expect(touches, `${id} at ${end}`).toBe(true)
      }
      const { x, y, width, height } = boxOf(id)
      const isOn = placesAlong(d).some((at) => Math.hypot(at.x - x - width / 2, at.y - y - height / 2) < 5)
      expect(isOn, id).toBe(true)
    }
  })
  it('leads from port to port, and two cables between the same two are two lines', () => {
    const model = network('a  switch\n  p1 to b p1\n  p2 to b p2\nb  switch')
    const { links } = zones.draw(model, { ...networkView(), options: { lines: 'straight' } }, DAY)
    const drawn = links.map(({ marks }) => marks.find((mark) => mark.tag === 'path')?.attrs.d ?? '')
    expect(new Set(drawn).size).toBe(2)
    for (const d of drawn) expect(d.match(/L/g)).toHaveLength(1)
  })
})
