import type { Id, Model } from '../../../model'
import {
  adding,
  between,
  endColumn,
  fieldColumn,
  fieldOf,
  fromColumn,
  nameColumn,
  referenceColumn,
  relationColumn,
  toColumn,
  type Column,
  type Register,
} from '../../../notation'
import { entityKinds } from '../kinds'
import { leadTo, writeTransition } from './actions'
import { lastOrder } from './edits'
import { NEW_STATE } from './outline'
import { machine, machineShown, machinesOn, type Transition } from './structure'

const own = (id: string, width: number): Column => fieldColumn(fieldOf(entityKinds, 'state', id), width)
export const withinColumn: Column = referenceColumn(fieldOf(entityKinds, 'state', 'within'), 120)
export const lifeColumn: Column = referenceColumn(fieldOf(entityKinds, 'machine', 'class'), 140)

const transitionOn = (model: Model, row: Id, day: Parameters<Column['read']>[2]): Transition | undefined => {
  const source = model.relations.get(row)?.source
  const home = source === undefined ? undefined : model.entities.get(source)?.fields['machine']
  const shown = typeof home === 'string' ? machinesOn(model, day).get(home as Id) : undefined
  const vertex = source === undefined ? undefined : shown?.byId.get(source)
  return [...(vertex?.out ?? []), ...(vertex?.internal ?? [])].find(({ id }) => id === row)
}

/** What is written at a transition, as the standard writes it. */
const textColumn: Column = {
  id: 'text',
  label: 'On [if] / does',
  type: 'text',
  width: 280,
  mono: true,
  read: (model, row, day) => transitionOn(model, row, day)?.text,
  write: writeTransition,
}

const leads = between('leads to')

export const stateRegisters: readonly Register[] = [
  {
    id: 'states',
    title: 'States',
    kind: 'state',
    pictures: ['states'],
    columns: [
      nameColumn('State', 150),
      own('form', 100),
      withinColumn,
      own('entry', 150),
      own('do', 150),
      own('exit', 150),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => machineShown(model, view, day)?.vertices.map(({ id }) => id) ?? [],
    count: (model, view, day) => machineShown(model, view, day)?.vertices.length ?? 0,
    add: (wish) => {
      const home = machine.forWish(wish)
      const outcome = adding('state', NEW_STATE, ({ model }) => ({ machine: home.id, order: lastOrder(model) + 1 }))(
        wish,
      )
      return 'refused' in outcome
        ? outcome
        : { ...outcome, change: { ...outcome.change, steps: [...home.steps, ...outcome.change.steps] } }
    },
  },
  {
    id: 'transitions',
    title: 'Transitions',
    kind: 'state',
    pictures: ['states'],
    columns: [
      endColumn('source', 'From', 140),
      textColumn,
      endColumn('target', 'To', 140),
      relationColumn({ id: 'from', label: 'Since', type: 'day' }, 96, leads),
      relationColumn({ id: 'to', label: 'Until', type: 'day' }, 96, leads),
    ],
    rows: (model, view, day) => {
      const shown = machineShown(model, view, day)
      return shown ? shown.vertices.flatMap(({ internal, out }) => [...internal, ...out].map(({ id }) => id)) : []
    },
    count: (model, view, day) => {
      const shown = machineShown(model, view, day)
      return shown?.vertices.reduce((sum, { internal, out }) => sum + internal.length + out.length, 0) ?? 0
    },
    add: (wish) => {
      const all = machineShown(wish.model, wish.view, wish.day)?.vertices ?? []
      const from = all.find(({ id }) => id === wish.selection[0]) ?? all.find(({ form }) => form === 'state')
      const to = all.find((one) => one !== from && one.form === 'state') ?? from
      return from && to
        ? leadTo(wish, from.id, to.id)
        : { refused: 'A transition leads from a state to another. Add them first.' }
    },
  },
]
