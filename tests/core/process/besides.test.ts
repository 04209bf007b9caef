import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, Model, type Entity, type Id, type Relation, type View } from '../../../src/core/model'
import { marramSoundFerries } from '../../../src/demo'
import { DAY, id, numbering } from '../../facts'
import { flowView, outline, process } from './facts'
import { BESIDES, readBeside } from '../../../src/core/notations/process/besides'
import { processOn } from '../../../src/core/notations/process/structure'

/** The text of a process pasted where nothing but an empty view is. */
function pastedAnew(text: string, ground: readonly Entity[] = []): { model: Model; view: View } {
  const view: View = { ...process.view(() => id('view'), 'Work'), scope: { process: '' } }
  const model = Model.of({ views: [view], entities: ground })
  const outcome = outline?.paste({ model, view, day: DAY, selection: [], newId: numbering('x') }, undefined, text)
  if (!outcome || 'refused' in outcome) throw new Error(outcome?.refused ?? 'no outline')
  const after = apply(model, outcome.change).model
  return { model: after, view: after.views.get(view.id) ?? view }
}

const copied = (model: Model, view: View): string => outline?.text?.(model, view, DAY) ?? ''

/** A process told without identities: every fact by its names and its place in the outline. */
function told(model: Model, view: View): unknown {
  const lines = outline?.lines(model, view, DAY).map((line) => line.id) ?? []
  const of = view.scope['process']
  const shown = processOn(model, of as Id, DAY)
  const own = [...model.entities.values()].filter((one) => one.fields['process'] === of || one.id === of)
  const called = (one: unknown): string => {
    const at = lines.indexOf(one as Id)
    return at >= 0 ? `line ${at + 1}` : (model.entities.get(one as Id)?.name ?? String(one))
  }
  const value = (field: string, stated: unknown) =>
    ['pool', 'phase', 'tool', 'of', 'owner'].includes(field) ? called(stated) : stated
  const fields = (fact: Entity | Relation) =>
    Object.entries(fact.fields)
      .filter(([field]) => !['order', 'process', 'height', 'kept'].includes(field))
      .map(([field, stated]) => [field, value(field, stated)])
      .sort()
  const here = new Set(own.map((one) => one.id))
  const ties = [...model.relations.values()].filter(
    ({ kind, source, target }) => kind !== 'raci' && here.has(source) && here.has(target),
  )
  const sorted = (list: readonly unknown[]) => list.map((one) => JSON.stringify(one)).sort()
  return {
    facts: sorted(own.map((one) => [one.kind, one.id === of ? '' : [called(one.id), one.name], fields(one)])),
    ties: sorted(ties.map((one) => [one.kind, called(one.source), called(one.target), fields(one)])),
    order: [shown.pools, shown.lanes, shown.phases].map((list) => list.map(({ name }) => name)),
  }
}

describe('a process copied as text', () => {
  const demo = marramSoundFerries()
  it.each(['cancelled', 'fare'])('of the demo (%s) pasted into an empty workspace is the same process', (key) => {
    const view = demo.views.get(id(key))
    if (!view) throw new Error('no such view')
    const text = copied(demo, view)
    for (const word of key === 'cancelled' ? ['pool Passengers:', 'data Notice:', 'message notice:', 'phase '] : [])
      expect(text).toContain(word)
    const back = pastedAnew(text)
    expect(copied(back.model, back.view)).toBe(text)
    expect(told(back.model, back.view)).toEqual(told(demo, view))
  })

  it('uses what is there already of other chapters, by name', () => {
    const role: Entity = { id: id('clerk'), kind: 'role', name: 'Clerk', fields: {} }
    const { model } = pastedAnew(`Ask @ Desk\nend\n${BESIDES}\n  lane Desk: stands for role Clerk`, [role])
    expect(model.ofKind('role')).toHaveLength(1)
    expect(model.ofKind('lane').map(({ fields }) => fields['of'])).toEqual(['clerk'])
  })

  it('says which line is not understood, and changes nothing', () => {
    const refused = (line: string) => {
      try {
        pastedAnew(`Ask\nend\n${BESIDES}\n  ${line}`)
        return ''
      } catch (error) {
        return error instanceof Error ? error.message : ''
      }
    }
    expect(refused('of Ask: takes long')).toBe(
      '“of Ask: takes long” says nothing about a process that is understood here. Nothing was changed.',
    )
    expect(refused('of Ask: takes 5 h')).toContain('is understood here')
    expect(refused('of Nobody: takes 5 min')).toContain('there is no element “Nobody”')
    expect(refused('of line 9: takes 5 min')).toContain('there is no line 9')
    expect(refused('way Ask; to Ask: if x > 1')).toContain('there is no way between the two')
  })

  it('tells elements of one name apart by their lines', () => {
    const { model, view } = pastedAnew(`Ask\nAsk\nend\n${BESIDES}\n  of line 1: takes 5 min\n  of line 2: takes 9 min`)
    expect(model.ofKind('step').map(({ fields }) => fields['duration'])).toEqual([5, 9])
    const back = pastedAnew(copied(model, view))
    expect(back.model.ofKind('step').map(({ fields }) => fields['duration'])).toEqual([5, 9])
  })

  it('takes no longer name for a line that looks like its heading further in', () => {
    const list = `Ask?\n  yes\n    besides:\n    ${'x'.repeat(500)}`
    expect(() => pastedAnew(list)).toThrow('A line of 500 characters is not taken')
  })

  it('keeps a step that is called like the heading a step', () => {
    const { model } = pastedAnew('Ask\n"besides:"\nend')
    expect(model.ofKind('step').map(({ name }) => name)).toContain('besides:')
    const [view] = model.views.values()
    if (!view) throw new Error('no view')
    expect(copied(model, view)).toContain('"besides:"')
  })

  const NAMES = [
    'Ask',
    'a: b',
    'a; to b',
    'pool x',
    'line 3',
    'x, y',
    '"q"',
    'to z',
    'uses it',
    'besides:',
    '1. x',
    'a) b',
    'of',
    '–',
    'in phase P',
  ]
  const names = fc.uniqueArray(
    fc.oneof(
      fc.constantFrom(...NAMES),
      fc
        .string({ minLength: 1, maxLength: 8, unit: 'grapheme' })
        .map((text) =>
          text
            .replace(/[\p{C}\p{Zl}\p{Zp}]/gu, '')
            .replace(/\s/g, ' ')
            .trim(),
        )
        .filter((text) => text !== ''),
    ),
    { minLength: 12, maxLength: 12, selector: (text) => text.toLowerCase() },
  )
  it('is read back to the same facts, whatever they are called', () => {
    const numbers = fc.record({
      duration: fc.option(fc.nat(600)),
      wait: fc.option(fc.double({ min: 0, max: 1e6, noNaN: true })),
      cost: fc.option(fc.nat(99)),
      phase: fc.nat(3),
      lane: fc.nat(2),
      worth: fc.option(fc.constantFrom('adds value', 'needed', 'waste')),
    })
    fc.assert(
      fc.property(
        names,
        fc.array(numbers, { minLength: 4, maxLength: 4 }),
        fc.array(fc.tuple(fc.nat(4), fc.nat(4), fc.boolean()), { maxLength: 4 }),
        fc.boolean(),
        (called, steps, more, unnamed) => {
          const name = (at: number) => called[at] ?? `n${at}`
          const own = { process: 'p' }
          const entities: Entity[] = [
            { id: id('p'), kind: 'process', name: 'Work', fields: { version: name(11), arrivals: 3, owner: 'boss' } },
            { id: id('pool'), kind: 'pool', name: name(4), fields: { ...own, order: 1 } },
            { id: id('l0'), kind: 'lane', name: name(5), fields: { ...own, order: 1, pool: 'pool' } },
            { id: id('l1'), kind: 'lane', name: name(6), fields: { ...own, order: 2, of: 'sys' } },
            { id: id('f0'), kind: 'phase', name: name(7), fields: { ...own, order: 1 } },
            { id: id('f1'), kind: 'phase', name: name(8), fields: { ...own, order: 2 } },
            { id: id('boss'), kind: 'role', name: name(9), fields: {} },
            { id: id('sys'), kind: 'system', name: name(9), fields: {} },
            { id: id('d'), kind: 'data', name: name(10), fields: { ...own, type: 'store', order: 9, phase: 'f0' } },
            {
              id: id('e'),
              kind: 'event',
              name: 'Unnamed',
              fields: { ...own, type: 'end', order: 5, trigger: 'signal' },
            },
          ]
          const relations: Relation[] = []
          const relate = (kind: string, source: string, target: string, fields = {}) =>
            relations.push({ id: id(`r${relations.length}`), kind, source: id(source), target: id(target), fields })
          steps.forEach(({ phase, lane, ...stated }, at) => {
            const fields = Object.fromEntries(Object.entries(stated).filter(([, one]) => one !== null))
            entities.push({
              id: id(`s${at}`),
              kind: 'step',
              name: unnamed && at === 2 ? 'Unnamed' : name(at),
              fields: { ...fields, ...own, type: 'task', order: at, ...(phase < 2 ? { phase: `f${phase}` } : {}) },
            })
            relate('performed-in', `s${at}`, `l${lane % 2}`)
            relate('flow', `s${at}`, at === 3 ? 'e' : `s${at + 1}`, at === 1 ? { condition: name(3) } : {})
          })
          for (const [a, b, isMessage] of more) {
            const [from, to] = [a === 4 ? 'pool' : `s${a}`, b === 4 ? 'pool' : `s${b}`]
            if (isMessage && from !== to) relate('message', from, to, { label: name(2) })
            else if (!isMessage && a < 4) relate(b % 2 ? 'reads' : 'writes', `s${a}`, 'd')
          }
          const view = flowView({ scope: { process: 'p' } })
          const unique = new Map(relations.map((one) => [`${one.kind} ${one.source} ${one.target}`, one]))
          const model = Model.of({ entities, relations: unique.values(), views: [view] })
          const back = pastedAnew(copied(model, view))
          expect(copied(back.model, back.view)).toBe(copied(model, view))
          expect(told(back.model, back.view)).toEqual(told(model, view))
        },
      ),
      { seed: Number(setting('SEED') ?? 2026), numRuns: Number(setting('RUNS') ?? 300) },
    )
  })

  it('reads a line only if all of it is understood', () => {
    for (const line of [
      '',
      'pool',
      'colour Ask: red',
      'data X: letter',
      'message a: Ask',
      'apart A',
      'lane X: stands for boat Y',
    ])
      expect([line, readBeside(line)?.of === 'pool' ? 'pool' : readBeside(line)]).toEqual([
        line,
        line === 'pool' ? 'pool' : undefined,
      ])
  })
})

const setting = (key: string): string | undefined => globalThis.process.env[key]
