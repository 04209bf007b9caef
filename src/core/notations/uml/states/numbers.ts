import type { Id } from '../../../model'
import type { NumberSheet, SheetRow } from '../../../notation'
import { isState, machinesOn, type Machine } from './structure'
import { testPaths } from './tour'

const column = (id: string, label: string, unit: string | null = null) => ({ id, label, unit })
const counted: NonNullable<NumberSheet['counted']> = (_model, _day, row) =>
  typeof row['id'] === 'string' ? [row['id'] as Id] : []

/** Transitions − vertices + 2: how many ways through it there are that none of the others makes up (McCabe 1976). */
export const cyclomatic = ({ transitions, vertices }: Machine): number =>
  vertices.length === 0 ? 0 : transitions.length - vertices.length + 2

const states: NumberSheet = {
  id: 'states',
  title: 'State machines',
  columns: [
    column('id', 'Id'),
    column('machine', 'State machine'),
    column('states', 'States'),
    column('transitions', 'Transitions'),
    column('cyclomatic', 'Cyclomatic number'),
  ],
  rows: (model, day) =>
    [...machinesOn(model, day).values()].map((one): SheetRow => ({
      id: one.id,
      machine: one.name,
      states: one.vertices.filter(isState).length,
      transitions: one.transitions.length,
      cyclomatic: cyclomatic(one),
    })),
  counted,
  chart: { sort: 'bars', key: 'id', label: 'machine', values: ['transitions', 'states', 'cyclomatic'] },
}

const paths: NumberSheet = {
  id: 'paths',
  title: 'Test paths',
  columns: [
    column('id', 'Id'),
    column('machine', 'State machine'),
    column('path', 'Path'),
    column('transitions', 'Transitions'),
    column('triggers', 'Events, in their order'),
  ],
  rows: (model, day) =>
    [...machinesOn(model, day).values()].flatMap((one) =>
      testPaths(one).map(({ taken, triggers }, at): SheetRow => ({
        id: one.id,
        machine: one.name,
        path: at + 1,
        transitions: taken.length,
        triggers: triggers.join(', '),
      })),
    ),
  counted: (model, day, row) => {
    const one = machinesOn(model, day).get(row['id'] as Id)
    const path = one && testPaths(one)[Number(row['path']) - 1]
    return path ? [...new Set(path.taken.flatMap(({ source, id, target }) => [source.id, id, target.id]))] : []
  },
}

export const stateNumbers: readonly NumberSheet[] = [states, paths]
