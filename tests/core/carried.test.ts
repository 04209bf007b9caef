import { describe, expect, it } from 'vitest'
import '../../src/core/maps/withLand'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { carriedBy } from '../../src/core/file/carried'
import { carriedByPdf } from '../../src/core/file/pdfFile'
import { asId, Model, type Entity, type Relation, type View } from '../../src/core/model'
import {
  drawn,
  fieldsOfKind,
  fieldsOfRelation,
  goesAlong,
  shownPortion,
  shownPortions,
  shownSince,
} from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { themeFor, toSvg } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { delivered } from '../../src/server/draw/deliver'
import { DAY } from '../facts'

const demo = marramSoundFerries()
const viewOf = (model: Model, id: string) => model.views.get(asId(id)) as View
const svgOf = (model: Model, id: string) => {
  const view = viewOf(model, id)
  const scene = drawn(registry, model, view, DAY)
  if (!scene) throw new Error(`nothing draws ${id}`)
  return toSvg(scene, { theme: themeFor(model.settings, view.look), title: view.title })
}
const factsOf = (model: Model): readonly (Entity | Relation)[] => [
  ...model.entities.values(),
  ...model.relations.values(),
]
const changed = (model: Model, turn: <F extends Entity | Relation>(fact: F) => F) =>
  model.with({
    entities: new Map([...model.entities].map(([id, one]) => [id, turn(one)])),
    relations: new Map([...model.relations].map(([id, one]) => [id, turn(one)])),
  })

/** The demo with a word of its own in every field that takes any text, and in every name that is no other fact's affair. */
function planted(): { readonly model: Model; readonly of: ReadonlyMap<string, string> } {
  const of = new Map<string, string>()
  let count = 0
  const word = (place: string) => {
    const one = `plant${(++count).toString(36).padStart(4, '0')}x`
    of.set(one, place)
    return one
  }
  const model = changed(demo, (fact) => {
    const kind = 'name' in fact ? registry.kinds.get(fact.kind) : undefined
    const tie = registry.relationKinds.get(fact.kind)
    const known = kind ? fieldsOfKind(kind) : tie ? fieldsOfRelation(tie) : []
    const fields = known
      .filter(({ id, type }) => type === 'note' || id === 'email' || id === 'serial' || id === 'model')
      .map(({ id }) => [id, id === 'email' ? `${word(`${fact.kind}.email`)}@x.example` : word(`${fact.kind}.${id}`)])
    return { ...fact, fields: { ...fact.fields, ...Object.fromEntries(fields) } }
  })
  // Pay stands on every post.
  const paid = changed(model, (fact) =>
    fact.kind === 'position' ? { ...fact, fields: { ...fact.fields, cost: 10_000_000 + ++count } } : fact,
  )
  return { model: paid, of }
}

describe('what a picture carries', () => {
  const { model, of } = planted()
  const views = [...demo.views.values()].filter((view) => registry.notations.some(({ id }) => id === view.notation))

  it.each(views.map(({ id }) => id))('%s: nothing that it does not show or is not drawn of', (id) => {
    const portion = shownPortion(registry, model, viewOf(model, id), DAY)
    const text = JSON.stringify(writeWorkspace(portion))
    const seen = svgOf(model, id)
    const carried = [...of].filter(([word]) => text.includes(word))
    for (const [word, place] of carried) {
      if (seen.includes(word)) continue
      // Not to be read in it: then it is drawn otherwise without that field.
      const [kind = '', field = ''] = place.split('.')
      const without = changed(portion, (fact) => {
        if (fact.kind !== kind) return fact
        const { [field]: _, ...fields } = fact.fields
        return { ...fact, fields }
      })
      expect(svgOf(without, id), `${place} goes along and is not needed`).not.toBe(svgOf(portion, id))
    }
    if (!seen.includes('10000')) expect(text, 'pay goes along').not.toMatch(/"cost":1000/)
  })

  it.each([
    ['port-racks', 20],
    ['port-services', 90],
    ['port-addresses', 60],
    ['calls-book', 25],
  ])('%s carries no more facts than some %i', (id, most) => {
    const portion = shownPortion(registry, demo, viewOf(demo, id), DAY)
    expect(factsOf(portion).length).toBeGreaterThan(9)
    expect(factsOf(portion).length).toBeLessThanOrEqual(most)
  })

  it('of a rack is its devices and where it stands: no rules, no posts, no pay', () => {
    const portion = shownPortion(registry, demo, viewOf(demo, 'port-racks'), DAY)
    expect(new Set(factsOf(portion).map(({ kind }) => kind))).toEqual(new Set(['rack', 'device', 'site', 'network']))
    const stub = portion.ofKind('network')[0]
    expect(stub).toMatchObject({ name: '(network)', fields: {} })
  })

  it('draws the same again, also where something stands out by a field that is not written', () => {
    const grades = viewOf(demo, 'port-grades')
    const portion = shownPortion(registry, demo, grades, DAY)
    expect(svgOf(portion, 'port-grades')).toBe(svgOf(demo, 'port-grades'))
    expect(portion.ofKind('position').every(({ fields }) => !('cost' in fields) && !('location' in fields))).toBe(true)
    expect(portion.ofKind('position').some(({ fields }) => fields['grade'] !== undefined)).toBe(true)
    // The same branch without that rule says nothing of grades.
    const plain = shownPortion(registry, demo, viewOf(demo, 'port-services'), DAY)
    expect(plain.ofKind('position').some(({ fields }) => 'grade' in fields)).toBe(false)
  })

  it('can be opened by itself, whatever view it is of', () => {
    for (const view of views) {
      const portion = shownPortion(registry, demo, view, DAY)
      const { model: opened } = parseWorkspace(JSON.stringify(writeWorkspace(portion)), registry)
      for (const { source, target } of opened.relations.values())
        expect([opened.entities.has(source), opened.entities.has(target)], view.id).toEqual([true, true])
    }
  })

  it('of several views is what any of them needs', () => {
    const [branch, grades] = [viewOf(demo, 'port-services'), viewOf(demo, 'port-grades')]
    const both = shownPortions(registry, demo, [branch, grades], DAY)
    expect(svgOf(both, 'port-services')).toBe(svgOf(demo, 'port-services'))
    expect(svgOf(both, 'port-grades')).toBe(svgOf(demo, 'port-grades'))
    const racks = shownPortions(registry, demo, [viewOf(demo, 'port-racks'), viewOf(demo, 'port-sites')], DAY)
    expect(svgOf(racks, 'port-racks')).toBe(svgOf(demo, 'port-racks'))
    expect(svgOf(racks, 'port-sites')).toBe(svgOf(demo, 'port-sites'))
  })

  it('is the same in every format', { timeout: 60_000 }, async () => {
    for (const id of ['port-services', 'port-racks', 'history', 'figure-why-ticketing']) {
      const bytes = async (format: 'svg' | 'png' | 'pdf') => {
        const { content } = await delivered(model, [viewOf(model, id)], { format, day: DAY, facts: true, width: 400 })
        return typeof content === 'string' ? new TextEncoder().encode(content) : content
      }
      const [svg, png, pdf] = [
        carriedBy(await bytes('svg')),
        carriedBy(await bytes('png')),
        carriedByPdf(await bytes('pdf')),
      ]
      expect([png, pdf]).toEqual([svg, svg])
      // Saved again by a program that writes two bytes for a letter, with a mark at the front or without.
      const text = new TextDecoder().decode(await bytes('svg'))
      for (const mark of ['\ufeff', ''])
        for (const isTurned of [false, true]) {
          const wide = Buffer.from(mark + text, 'utf16le')
          expect(carriedBy(new Uint8Array(isTurned ? wide.swap16() : wide))).toBe(svg)
        }
      expect(svg).toContain('skivel-workspace')
      const seen = svgOf(model, id)
      for (const word of of.keys()) if (!seen.includes(word)) expect(svg, of.get(word)).not.toContain(word)
    }
  })

  it('is told by name, with what is told of each, before it goes', () => {
    const along = goesAlong(registry, shownPortion(registry, demo, viewOf(demo, 'port-racks'), DAY))
    const devices = along.find(({ word }) => word === 'devices')
    expect(devices?.names).toHaveLength(8)
    expect(devices?.fields).toContain('rack')
    expect(along.find(({ word }) => word === 'network')).toMatchObject({ names: [], bare: 1 })
    // Nothing is carried that is not told.
    const portion = shownPortion(registry, demo, viewOf(demo, 'whole-company'), DAY)
    const told = goesAlong(registry, portion)
    const count = told.reduce((sum, { names, bare }) => sum + names.length + bare, 0)
    expect(count).toBe(factsOf(portion).length)
  })
})

describe('a picture that comes back', () => {
  it('is compared in what it carried, and in nothing else', () => {
    const view = viewOf(demo, 'port-services')
    const carried = shownPortion(registry, demo, view, DAY)
    const [first] = carried.ofKind('position')
    if (!first) throw new Error('nobody is there')
    const now = demo.with({
      entities: new Map([
        ...demo.entities,
        [
          first.id,
          { ...(demo.entities.get(first.id) as Entity), name: 'Renamed', fields: { ...first.fields, cost: 1 } },
        ],
      ]),
    })
    const since = shownSince(registry, now, view, DAY, carried)
    expect(since.entities.get(first.id)?.name).toBe('Renamed')
    expect(since.entities.get(first.id)?.fields).not.toHaveProperty('cost')
    expect(JSON.stringify(writeWorkspace(shownSince(registry, demo, view, DAY, carried)))).toBe(
      JSON.stringify(writeWorkspace(carried)),
    )
  })
})
