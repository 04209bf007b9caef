import type { Id, Model } from '../../model'
import { plainView, type Column, type Handling } from '../../notation'
import { actions } from './actions'
import { flow, lanes, raci } from './gestures'
import { entityKinds, inside, process as ofProcess, relationKinds } from './kinds'
import { lists } from './lists'
import { outline } from './outline'
import { registers } from './registers'
import { calledNode, laneHolders, processOn } from './structure'

/** Columns of a register as ties in the margin. */
const tiesOf = (register: string, ids: readonly string[]): readonly Column[] =>
  registers.find(({ id }) => id === register)?.columns.filter(({ id }) => ids.includes(id)) ?? []

const TIES: Readonly<Record<string, readonly Column[]>> = {
  step: tiesOf('steps', ['lane', 'phase', 'next', 'tool']),
  gateway: tiesOf('steps', ['lane', 'phase', 'next', 'labels', 'shares']),
  event: tiesOf('steps', ['lane', 'phase', 'next']),
  lane: tiesOf('lanes', ['of', 'held']),
  process: tiesOf('processes', ['owner']),
  system: tiesOf('systems', ['owner']),
}

/** How it is stated who does what, in which order, on any day. */
export const handling: Handling = {
  id: 'process',
  title: 'Process',
  chapter: 'Work',
  entityKinds,
  relationKinds,
  pictures: [lanes, flow, raci],
  scope: [ofProcess, inside],
  actions,
  registers,
  outline,
  lists,
  describe,
  ties: (_model, { kind }) => TIES[kind] ?? [],
  view: plainView('process', 'lanes'),
  blank: { process: '' },
}

function describe(model: Model, id: Id, day: Parameters<Handling['describe']>[2]): string | undefined {
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
