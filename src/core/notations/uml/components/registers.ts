import {
  adding,
  fieldOf,
  fromColumn,
  nameColumn,
  referenceColumn,
  rowsOf,
  toColumn,
  type Column,
  type Register,
} from '../../../notation'
import { entityKinds } from '../kinds'
import { lastOrder } from './edits'
import { componentsOn } from './structure'

const reference = (kind: string, id: string, width: number): Column =>
  referenceColumn(fieldOf(entityKinds, kind, id), width)

const offered = (sort: 'provides' | 'requires', label: string): Column => ({
  id: sort,
  label,
  type: 'text',
  width: 160,
  read: (model, row, day) => {
    const component = componentsOn(model, day).byId.components.get(row)
    const names = component?.interfaces.flatMap((one) => (one.sort === sort ? [one.to.name] : []))
    return names?.join(', ') || undefined
  },
})

export const componentRegisters: readonly Register[] = [
  {
    id: 'components',
    title: 'Components',
    kind: 'component',
    pictures: ['components'],
    columns: [
      nameColumn('Component', 170),
      reference('component', 'system', 140),
      offered('provides', 'Provides'),
      offered('requires', 'Requires'),
      {
        id: 'nodes',
        label: 'Runs on',
        type: 'text',
        width: 160,
        read: (model, row, day) =>
          componentsOn(model, day)
            .byId.components.get(row)
            ?.nodes.map(({ name }) => name)
            .join(', '),
      },
      fromColumn,
      toColumn,
    ],
    rows: rowsOf('component'),
    add: adding('component', 'New component', ({ model }) => ({ order: lastOrder(model.ofKind('component')) + 1 })),
  },
  {
    id: 'nodes',
    title: 'Nodes',
    kind: 'deployment-node',
    pictures: ['components'],
    columns: [
      nameColumn('Node', 170),
      reference('deployment-node', 'device', 140),
      reference('deployment-node', 'within', 140),
      {
        id: 'deploys',
        label: 'Deploys',
        type: 'text',
        width: 220,
        read: (model, row, day) =>
          componentsOn(model, day)
            .byId.nodes.get(row)
            ?.deploys.map(({ component }) => component.name)
            .join(', '),
      },
      fromColumn,
      toColumn,
    ],
    rows: rowsOf('deployment-node'),
    add: adding('deployment-node', 'New node', ({ model }) => ({
      order: lastOrder(model.ofKind('deployment-node')) + 1,
    })),
  },
]
