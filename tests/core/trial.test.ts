import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { crossRules, findingsOf } from '../../src/core/findings'
import { apply, type Model, type View } from '../../src/core/model'
import { isRefusal, listText, makeRegistry, type Outcome } from '../../src/core/notation'
import { toSvg, themeOf } from '../../src/core/scene'
import { DAY, id, numbering, tie } from '../facts'
import { berths } from '../trial/berths'

const kinds = makeRegistry([berths], [])
const registry = makeRegistry(
  [berths],
  crossRules({
    kinds: [...kinds.kinds.values()],
    relationKinds: [...kinds.relationKinds.values()],
    drawn: () => undefined,
    spaced: () => false,
    drawnKinds: () => new Set(['berth']),
  }),
)
const start = (): Model => berths.starters[0]?.make(numbering('b'), DAY) ?? never()
function never(): never {
  throw new Error('there should be one')
}
const viewOf = (model: Model): View => [...model.views.values()][0] ?? never()
const wish = (model: Model) => ({ model, view: viewOf(model), day: DAY, selection: [], newId: numbering('w') })
const after = (model: Model, outcome: Outcome | undefined): Model =>
  !outcome || isRefusal(outcome) ? never() : apply(model, outcome.change).model
const lines = (model: Model) => berths.outline?.lines(model, viewOf(model), DAY) ?? never()
const column = (name: string) => berths.registers[0]?.columns.find((one) => one.id === name) ?? never()
const [north, south] = lines(start()).map((line) => line.id)
if (north === undefined || south === undefined) throw new Error('two berths begin')

/** What a new room is given by the floors: everything here is asked of them, with a notation that fits on a page. */
describe('a notation on one page', () => {
  it('begins with its starter, in a container of its own', () => {
    const model = start()
    expect(listText(lines(model))).toBe('North  120 m\nSouth')
    expect(model.ofKind('port')).toHaveLength(1)
    expect(viewOf(model).scope['port']).toBe(model.ofKind('port')[0]?.id)
  })
  it('is drawn, saved and read again, with what nobody has stated refused by name', () => {
    const model = start()
    const scene = berths.pictures[0]?.draw(model, viewOf(model), DAY) ?? never()
    expect(toSvg(scene, { theme: themeOf(undefined), title: 'Port' })).toContain('North')
    const json = JSON.stringify(writeWorkspace(model))
    expect(JSON.stringify(writeWorkspace(parseWorkspace(json, registry).model))).toBe(json)
    expect(() => parseWorkspace(json.replace('"length":120', '"depth":12'), registry)).toThrow(/depth/)
    expect(() => parseWorkspace(json.replace('"length":120', '"length":901'), registry)).toThrow(/900/)
  })
  it('has cells that refer, tie and make what they name', () => {
    const model = after(start(), column('site').write?.(wish(start()), north, 'Marram quay'))
    expect(column('site').read(model, north, DAY)).toBe('Marram quay')
    expect(model.ofKind('site')).toHaveLength(1)
    const tied = after(model, column('beside').write?.(wish(model), north, 'south'))
    expect(column('beside').read(tied, north, DAY)).toBe('South')
    expect(column('length').write?.(wish(model), north, 'long')).toHaveProperty('refused')
  })
  it('orders, changes kind and removes with what hangs on it', () => {
    const model = start()
    const turned = after(model, berths.outline?.move(wish(model), south, -1))
    expect(lines(turned).map((line) => line.id)).toEqual([south, north])
    const buoy = after(model, berths.actions[1]?.run({ ...wish(model), selection: [north] }))
    expect(buoy.entities.get(north)).toMatchObject({ kind: 'buoy', name: 'North', fields: { order: 1 } })
    expect(buoy.entities.get(north)?.fields).not.toHaveProperty('length')
    const tied = after(model, column('beside').write?.(wish(model), north, 'South'))
    const gone = after(tied, berths.outline?.remove(wish(tied), south))
    expect([gone.entities.has(south), gone.relations.size]).toEqual([false, 0])
  })
  it('is checked by its own rule and by those about any fact, each with its fix', () => {
    const model = start().with({ relations: new Map([tie('beside', north, north)].map((one) => [one.id, one])) })
    const [found] = findingsOf(registry, model, DAY).filter(({ rule }) => rule === 'berth/beside-itself')
    expect(found?.subjects).toEqual([north])
    expect(findingsOf(registry, apply(model, found?.fixes[0]?.change ?? never()).model, DAY)).toEqual([])
    const dangling = start().with({ relations: new Map([tie('beside', north, 'gone')].map((one) => [one.id, one])) })
    expect(findingsOf(registry, dangling, DAY).map(({ rule }) => rule)).toEqual(['x/dangling'])
  })
  it('writes lines that it reads back to the same facts', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ name: fc.constantFrom('North', '12 m', 'Pier 12 m', '- x', '"', 'a  b'), long: fc.boolean() }),
          {
            minLength: 1,
            maxLength: 5,
          },
        ),
        (list) => {
          let model = start()
          const port = model.ofKind('port')[0]?.id ?? never()
          for (const { id: one } of lines(model)) model = after(model, berths.outline?.remove(wish(model), one))
          list.forEach(({ name, long }, at) => {
            const fields = { port, order: at, ...(long ? { length: 80 } : {}) }
            model = model.with({
              entities: new Map(model.entities).set(id(`n${at}`), { id: id(`n${at}`), kind: 'berth', name, fields }),
            })
          })
          const text = listText(lines(model))
          const blank = { ...viewOf(model), scope: { port: '' } }
          const empty = start().with({ entities: new Map(), views: new Map([[blank.id, blank]]) })
          const back = after(empty, berths.outline?.paste({ ...wish(empty), view: blank }, undefined, text))
          expect(lines(back).map((line) => line.text)).toEqual(lines(model).map((line) => line.text))
          expect(back.ofKind('berth').map((one) => [one.name, one.fields['length']])).toEqual(
            list.map(({ name, long }) => [name, long ? 80 : undefined]),
          )
        },
      ),
      { seed: 2026 },
    ))
})
