import { describe, expect, it } from 'vitest'
import { apply, asId, type Entity, type Id, type Model } from '../../../src/core/model'
import { anyFieldColumn, fieldOf, isRefusal, type ImportPlan } from '../../../src/core/notation'
import { guessMapping, understoodRows, readTable, registerCells, registerCsv } from '../../../src/core/tabular'
import { marramSoundFerries } from '../../../src/demo'
import { DAY, numbering } from '../../facts'
import { act, after, flowView, nodeNamed, outline, process, shown, text, told, wishOf } from './facts'

const ORDER = told('start @ Desk\nCheck the order\nPick the goods @ Store\nSend the parcel')
const flowFrom = (model: Model, name: string): Id => {
  const [flow] = shown(model).nodes.get(nodeNamed(model, name))?.out ?? []
  if (!flow) throw new Error(`nothing leads on from ${name}`)
  return flow.id
}
const drop = (model: Model, name: string, target: Id) =>
  process.pictures[0]?.drop?.(wishOf(model, { selection: [nodeNamed(model, name)], target }))

describe('in the picture', () => {
  it('a next step goes between, before goes before, and an end ends', () => {
    const next = act(ORDER, 'next', [nodeNamed(ORDER, 'Check the order')])
    expect(text(after(ORDER, next))).toContain('Check the order\n\nPick the goods')
    expect(isRefusal(next) ? '' : next.edit).toBe('name')
    expect(text(after(ORDER, act(ORDER, 'before', [nodeNamed(ORDER, 'Pick the goods')])))).toContain(
      '\nstep @ Store\nPick the goods',
    )
  })
  it('a decision keeps the way on as “yes” and begins another as “no”', () => {
    const model = after(ORDER, act(ORDER, 'decide', [nodeNamed(ORDER, 'Check the order')]))
    expect(text(model)).toContain('decide\n  yes\n    Pick the goods')
    expect(text(model)).toContain('  no\n')
  })
  it('a step dropped into a lane is done there; on a line it splits it and the gap it leaves closes', () => {
    const store = shown(ORDER).lanes.find(({ name }) => name === 'Store')
    if (!store) throw new Error('no lane')
    const moved = after(ORDER, drop(ORDER, 'Check the order', store.id))
    expect(shown(moved).nodes.get(nodeNamed(moved, 'Check the order'))?.lane).toBe(store.id)
    const split = after(ORDER, drop(ORDER, 'Check the order', flowFrom(ORDER, 'Pick the goods')))
    expect(
      text(split)
        .split('\n')
        .map((line) => line.replace(/ @.*/, '')),
    ).toEqual(['start', 'Pick the goods', 'Check the order', 'Send the parcel', 'end'])
  })
  it('connects, and refuses what makes no sense', () => {
    const [check, send] = [nodeNamed(ORDER, 'Check the order'), nodeNamed(ORDER, 'Send the parcel')]
    expect(after(ORDER, act(ORDER, 'connect', [check], { target: send })).relationsOfKind('flow')).toHaveLength(5)
    expect(act(ORDER, 'connect', [check], { target: check })).toHaveProperty('refused')
    const start = [...shown(ORDER).nodes.values()].find(({ type }) => type === 'start')
    expect(act(ORDER, 'connect', [check], { target: start?.id ?? check })).toHaveProperty('refused')
  })
  it('leads a line elsewhere', () => {
    const flow = flowFrom(ORDER, 'Check the order')
    const model = after(ORDER, act(ORDER, 'retarget', [flow], { target: nodeNamed(ORDER, 'Send the parcel') }))
    expect(model.relations.get(flow)?.target).toBe(nodeNamed(model, 'Send the parcel'))
  })
  it('a lane is pulled wider by its edge and to another place by its head', () => {
    const [desk, store] = shown(ORDER).lanes
    const [lanes] = process.pictures
    if (!desk || !store || !lanes) throw new Error('no lanes')
    const pull = (handle: string, by: { x: number; y: number }, target?: Id) =>
      lanes.pull?.(wishOf(ORDER, { selection: [desk.id], ...(target ? { target } : {}) }), {
        handle,
        by,
        at: by,
        box: { x: 0, y: 0, width: 0, height: 0 },
      })
    const scene = lanes.draw(ORDER, flowView(), DAY)
    const head = scene.items.find(({ id }) => id === desk.id)
    const edge = head?.handles?.find(({ pulls }) => pulls === 'across')?.id ?? ''
    const wider = after(ORDER, pull(edge, { x: 0, y: 100 }))
    const now = lanes.draw(wider, flowView(), DAY).items.find(({ id }) => id === desk.id)
    expect((now?.box.height ?? 0) - (head?.box.height ?? 0)).toBeCloseTo(100, -1)
    const swapped = after(ORDER, pull('order', { x: 0, y: 200 }, store.id))
    expect(shown(swapped).lanes.map(({ name }) => name)).toEqual(['Store', 'Desk'])
    expect(pull('order', { x: 0, y: 1 }, desk.id)).toMatchObject({ change: { steps: [] } })
  })
  it('a subprocess is opened in a view of its own, the same one the next time', () => {
    const ids = ['Pick the goods', 'Check the order'].map((name) => nodeNamed(ORDER, name))
    const wrapped = after(ORDER, act(ORDER, 'wrap', ids))
    const whole = [...shown(wrapped).nodes.values()].find(({ type }) => type === 'subprocess')
    if (!whole) throw new Error('nothing is wrapped')
    const opened = act(wrapped, 'inside', [whole.id])
    const model = after(wrapped, opened)
    expect(isRefusal(opened) ? undefined : model.views.get(opened.view ?? asId(''))?.scope['inside']).toBe(whole.id)
    expect(act(model, 'inside', [whole.id])).toMatchObject({ change: { steps: [] } })
  })
  it('a lane that is removed gives its steps to another', () => {
    const { lanes } = shown(ORDER)
    const [desk, store] = [lanes[0]?.id, lanes[1]?.id]
    if (!desk || !store) throw new Error('no lanes')
    const model = after(ORDER, act(ORDER, 'remove', [store], { target: desk }))
    expect(shown(model).lanes).toHaveLength(1)
    expect([...shown(model).nodes.values()].every(({ lane }) => lane === desk)).toBe(true)
  })
  it('lanes are added beside another and exchanged', () => {
    const [first] = shown(ORDER).lanes
    const model = after(ORDER, act(ORDER, 'lane', [first?.id ?? asId('x')]))
    expect(shown(model).lanes.map(({ name }) => name)).toEqual(['Desk', 'New lane', 'Store'])
    const moved = after(model, act(model, 'up', [shown(model).lanes[2]?.id ?? asId('x')]))
    expect(shown(moved).lanes.map(({ name }) => name)).toEqual(['Desk', 'Store', 'New lane'])
  })
  it('wraps steps into a subprocess, and back into what was', () => {
    const inner = ['Check the order', 'Pick the goods'].map((name) => nodeNamed(ORDER, name))
    const wrapped = after(ORDER, act(ORDER, 'wrap', inner))
    expect(text(wrapped)).toContain('subprocess: Subprocess')
    expect(text(wrapped)).not.toContain('Pick')
    expect(text(after(wrapped, act(wrapped, 'unwrap', [nodeNamed(wrapped, 'Subprocess')])))).toBe(text(ORDER))
    const branching = told('A b\nIs it?\n  yes\n    C d\n  no\n    E f\nG h')
    expect(act(branching, 'wrap', [nodeNamed(branching, 'C d'), nodeNamed(branching, 'E f')])).toHaveProperty('refused')
  })
  it('a nudge is kept in the view and moves by a column', () => {
    const step = nodeNamed(ORDER, 'Send the parcel')
    const model = after(ORDER, act(ORDER, 'nudge-right', [step]))
    const box = (in_: Model) =>
      process.pictures[0]?.draw(in_, in_.views.get(asId('view')) ?? flowView(), DAY).items.find(({ id }) => id === step)
        ?.box
    expect(box(model)?.x ?? 0).toBeGreaterThan(box(ORDER)?.x ?? 0)
  })
})

describe('the lanes picture', () => {
  const model = marramSoundFerries()
  const [lanes, flow, raci] = process.pictures
  const view = model.views.get(asId('cancelled'))
  if (!lanes || !flow || !raci || !view) throw new Error('no picture')
  it('says who holds a lane’s role on the day, or nobody', () => {
    const heads = (on: typeof DAY) => JSON.stringify(lanes.draw(model, view, on).frozen)
    expect(heads(DAY)).toContain('Jens Okafor')
    expect(heads('2027-02-01' as typeof DAY)).toContain('nobody today')
  })
  it.each([
    ['BPMN', 'right'],
    ['flowchart', 'right'],
    ['BPMN', 'down'],
    ['flowchart', 'down'],
  ])('is drawn as %s running %s, every element once, none over another', (shapes, runs) => {
    for (const picture of [lanes, flow]) {
      const scene = picture.draw(model, { ...view, options: { shapes, runs } }, DAY)
      const nodes = scene.items.filter(
        ({ id, ground }) => !ground && model.entities.get(id)?.fields['type'] !== undefined,
      )
      expect(nodes.length).toBe(
        [...model.entities.values()].filter(
          ({ fields }) => fields['process'] === 'process-sc' && fields['type'] !== undefined,
        ).length,
      )
      nodes.forEach((a, i) => {
        for (const b of nodes.slice(i + 1))
          expect(
            a.box.x < b.box.x + b.box.width &&
              b.box.x < a.box.x + a.box.width &&
              a.box.y < b.box.y + b.box.height &&
              b.box.y < a.box.y + a.box.height,
            `${a.label} over ${b.label}`,
          ).toBe(false)
      })
    }
  })
  it('of responsibilities is written cell by cell, and derived from the lanes where nothing is stated', () => {
    const scene = raci.draw(model, { ...view, picture: 'raci' }, DAY)
    const cell = (role: string, step: string) => scene.items.find(({ id }) => id === `sc-${step} role-${role}`)
    expect(JSON.stringify(cell('duty-controller', 'declare')?.marks)).toContain('R A')
    expect(JSON.stringify(cell('passenger-desk', 'draft')?.marks)).toContain('(R)')
    const outcome = raci.write?.(wishOf(model, { view }), 'part role-refunds-clerk sc-draft', 'ci')
    const written = after(model, outcome)
    expect(
      JSON.stringify(raci.draw(written, view, DAY).items.find(({ id }) => id === 'sc-draft role-refunds-clerk')?.marks),
    ).toContain('C I')
    expect(raci.write?.(wishOf(model, { view }), 'part role-refunds-clerk sc-draft', 'x')).toHaveProperty('refused')
  })
})

describe('a table of steps', () => {
  const [sort] = process.imports
  if (!sort) throw new Error('no import')
  let runs = 0
  const plan = (model: Model, table: string, more = {}): ImportPlan => {
    const read = readTable(table)
    if ('refused' in read) throw new Error(read.refused)
    return sort.plan(
      wishOf(model, { newId: numbering(`t${++runs}-`) }),
      understoodRows(read, guessMapping(read.heading, sort.columns), sort.columns).rows,
      { leaveOutFaulty: false, endGone: false, ...more },
    )
  }
  const EMPTY = told('x').with({ entities: new Map(), relations: new Map() })
  const TABLE = `Step ID\tDescription\tNext step ID\tBranch labels\tType\tLane
P100\tOrder arrives\tP200\t\tstart\tDesk
P200\tIs it complete?\tP300, P400\tyes, no\tdecision\tDesk
P300\tPick the goods\tP500\t\t\tStore
P400\tAsk the customer\tP200\t\t\tDesk
P500\tOrder sent\t\t\tend\tStore`
  it('becomes a process, and a second time nothing', () => {
    const model = apply(EMPTY, plan(EMPTY, TABLE).change).model
    expect(text(model)).toContain('Is it complete?\n  yes\n    Pick the goods @ Store')
    expect(text(model)).toContain('go to Is it complete?')
    expect(plan(model, TABLE)).toMatchObject({ change: { steps: [] }, added: [], altered: [], gone: [] })
  })
  it('that a register wrote is read back without a change', () => {
    const model = apply(EMPTY, plan(EMPTY, TABLE).change).model
    const register = process.registers[0]
    if (!register) throw new Error('no register')
    const csv = registerCsv(registerCells(register, model, register.rows(model, flowView(), DAY), DAY))
    expect(plan(model, csv)).toMatchObject({ change: { steps: [] }, faults: [] })
  })
  it('explains what does not fit row by row, and writes nothing', () => {
    const bad = plan(EMPTY, `${TABLE}\nP100\tTwice\t\t\t\t\nP600\tLost\tP999\t\t\t\nP700\tOdd\t\t\tblob\t`)
    expect(bad.faults.map(({ row, column }) => `${row} ${column}`)).toEqual(['7 Id', '9 Kind', '8 Next'])
    expect(bad.change.steps).toEqual([])
    expect(plan(EMPTY, `${TABLE}\nP600\tLost\tP999\t\t\t`, { leaveOutFaulty: true }).added).toHaveLength(5)
  })
  it('ends what it no longer has, where that is wanted', () => {
    const model = apply(EMPTY, plan(EMPTY, TABLE).change).model
    const shorter = TABLE.replace('\nP400\tAsk the customer\tP200\t\t\tDesk', '').replace(
      'P300, P400\tyes, no',
      'P300\tyes',
    )
    const planned = plan(model, shorter, { endGone: true })
    expect(planned.gone.map(({ name }) => name)).toEqual(['Ask the customer'])
    expect(text(apply(model, planned.change).model)).not.toContain('Ask the customer')
  })
  it('cells of the register are written like cells', () => {
    const model = told('Check the order @ Desk\nSend the parcel')
    const register = process.registers[0]
    const write = (column: string, row: string, value: string) => {
      const found = register?.columns
        .find(({ id }) => id === column)
        ?.write?.(wishOf(model), nodeNamed(model, row), value)
      return found ?? { refused: 'no column' }
    }
    expect(shown(after(model, write('lane', 'Send the parcel', 'Store'))).lanes).toHaveLength(2)
    expect(
      after(model, write('duration', 'Check the order', '5')).entities.get(nodeNamed(model, 'Check the order'))?.fields[
        'duration'
      ],
    ).toBe(5)
    expect(write('next', 'Check the order', 'Nowhere')).toHaveProperty('refused')
    expect(write('type', 'Check the order', 'parallel')).toHaveProperty('refused')
    expect(outline.hint).toContain('Lane')
    // A phase is shown and written by its name, and made where there is none of it.
    const begun = after(model, write('phase', 'Check the order', 'Intake'))
    const cell = register?.columns.find(({ id }) => id === 'phase')
    const [one, other] = [nodeNamed(begun, 'Check the order'), nodeNamed(begun, 'Send the parcel')]
    expect(cell?.read(begun, one, DAY)).toBe('Intake')
    const both = after(begun, cell?.write?.(wishOf(begun), other, ' intake '))
    expect([both.ofKind('phase').length, shown(both).nodes.get(other)?.phase]).toEqual([1, both.ofKind('phase')[0]?.id])
    expect(shown(after(both, cell?.write?.(wishOf(both), one, ''))).nodes.get(one)?.phase).toBeUndefined()
  })
  it('what says where something is drawn is a name of something there, in the margin too', () => {
    const pool: Entity = { id: asId('p'), kind: 'pool', name: 'Customer', fields: {} }
    const base = told('Check the order @ Desk')
    const model = apply(base, { label: '', steps: [{ do: 'add-entity', entity: pool }] }).model
    const column = anyFieldColumn(fieldOf(process.entityKinds, 'lane', 'pool'))
    const row = model.ofKind('lane')[0]?.id ?? asId('')
    const put = after(model, column.write?.(wishOf(model), row, 'customer'))
    expect([put.entities.get(row)?.fields['pool'], column.read(put, row, DAY)]).toEqual(['p', 'Customer'])
    expect(column.write?.(wishOf(model), row, 'Nobody')).toEqual({ refused: 'There is no pool “Nobody”.' })
  })
})
