import type { Id, Model } from '../../model'
import type { Column, Notation } from '../../notation'
import { actions } from './actions'
import { stepTable } from './formats/stepTable'
import { bpmnExport } from './formats/writeBpmn'
import { entityKinds, inside, process as ofProcess, relationKinds } from './kinds'
import { measuresOf, numbers } from './numbers'
import { outline } from './outline'
import { flow, lanes } from './pictures/lanes'
import { raci } from './pictures/raci'
import { registers } from './registers'
import { rules } from './rules'
import { newView, starters } from './starters'
import { calledNode, laneHolders, processOn, processShown } from './structure'

/** Columns of a register as ties in the margin. */
const tiesOf = (register: string, ids: readonly string[]): readonly Column[] =>
  registers.find(({ id }) => id === register)?.columns.filter(({ id }) => ids.includes(id)) ?? []

const TIES: Readonly<Record<string, readonly Column[]>> = {
  step: tiesOf('steps', ['lane', 'next', 'tool']),
  gateway: tiesOf('steps', ['lane', 'next', 'labels', 'shares']),
  event: tiesOf('steps', ['lane', 'next']),
  lane: tiesOf('lanes', ['of', 'held']),
  process: tiesOf('processes', ['owner']),
  system: tiesOf('systems', ['owner']),
}

/** Who does what, in which order, on any day. */
export const process: Notation = {
  id: 'process',
  title: 'Process',
  chapter: 'Work',
  entityKinds,
  relationKinds,
  pictures: [lanes, flow, raci],
  scope: [ofProcess, inside],
  actions,
  rules,
  registers,
  outline,
  numbers,
  measures: (model, day, selected, view) => measuresOf(selected, processShown(model, view, day)),
  imports: [stepTable],
  files: [{ id: 'bpmn', title: 'BPMN 2.0', extensions: ['.bpmn', '.xml'], load: () => import('./formats/readBpmn') }],
  exports: [bpmnExport],
  starters,
  describe,
  ties: (_model, { kind }) => TIES[kind] ?? [],
  view: newView,
  blank: { process: '' },
}

function describe(model: Model, id: Id, day: Parameters<Notation['describe']>[2]): string | undefined {
  const entity = model.entities.get(id)
  const within = entity?.fields['process']
  if (!entity || typeof within !== 'string') return undefined
  if (entity.kind === 'lane') return laneHolders(model, entity, day).words || 'Lane'
  const inside = entity.fields['inside']
  const node = processOn(model, within as Id, day, typeof inside === 'string' ? (inside as Id) : undefined).nodes.get(
    id,
  )
  if (!node) return undefined
  const lane = node.lane === undefined ? undefined : model.entities.get(node.lane)?.name
  const said =
    node.kind === 'gateway' && node.out.length > 1 ? 'Decision' : node.type.charAt(0).toUpperCase() + node.type.slice(1)
  return [said, lane].filter(Boolean).join(' · ') || calledNode(node)
}
