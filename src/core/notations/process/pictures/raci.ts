import { counted, covers, type Day, type Entity, type Id, type Model, type View } from '../../../model'
import type { Picture } from '../../../notation'
import { kit, wrap, type Item, type Mark, type Scene } from '../../../scene'
import { raci as gestures } from '../gestures'
import { calledNode, inFlowOrder, laneHolders, processShown, type FlowNode, type Process } from '../structure'

const CELL = { width: 92, height: 30 }
const HEAD = { width: 240, height: 62 }
const MARGIN = 0

export const raci: Picture = {
  ...gestures,
  draw,
  needs: [
    'performed-in beside',
    'role beside',
    'role name',
    'lane beside',
    'lane.of',
    'lane.process',
    'process beside',
    'process name',
    'flow beside',
    'flow beyond',
    'gateway beside',
    'gateway beyond',
    'gateway.process',
    'step.process',
    'raci.part',
  ],
}

/** The roles of a process’s lanes, and those that have a part in its steps. */
function rolesOf(model: Model, process: Process, day: Day, all: boolean): Entity[] {
  if (all) return [...model.ofKind('role')]
  const ids = new Set<Id>()
  for (const lane of process.lanes) {
    const { of } = laneHolders(model, lane, day)
    if (of?.kind === 'role') ids.add(of.id)
  }
  for (const id of process.nodes.keys()) for (const part of model.reaching(id, 'raci')) ids.add(part.source)
  return [...ids].flatMap((id) => model.entities.get(id) ?? [])
}

function partsOf(
  model: Model,
  role: Id,
  step: FlowNode,
  process: Process,
  day: Day,
): { text: string; stated: boolean; ids: Id[] } {
  const all = model.reaching(step.id, 'raci').filter((part) => covers(part, day))
  const own = all.filter(({ source }) => source === role)
  const order = 'RACI'
  const letters = own
    .map(({ fields }) => String(fields['part'] ?? ''))
    .sort((a, b) => order.indexOf(a) - order.indexOf(b))
  if (all.length > 0) return { text: letters.join(' '), stated: true, ids: own.map(({ id }) => id) }
  const lane = process.lanes.find(({ id }) => id === step.lane)
  const derived = lane && laneHolders(model, lane, day).of?.id === role
  return { text: derived ? '(R)' : '', stated: false, ids: [] }
}

function draw(model: Model, view: View, day: Day): Scene {
  const process = processShown(model, view, day)
  const steps = inFlowOrder(process).filter(({ kind }) => kind === 'step')
  const roles = rolesOf(model, process, day, view.options['roles'] === 'all')
  const width = HEAD.width + roles.length * CELL.width
  const height = HEAD.height + steps.length * CELL.height
  const text = kit.texts({ 'font-size': 11.5, fill: 'ink' })
  const top: Mark[] = [
    kit.rect({ x: 0, y: 0, width, height: HEAD.height }, { fill: 'head', stroke: 'hairline' }),
    ...roles.flatMap((role, column): Mark[] =>
      wrap(role.name, CELL.width - 10, 11, 'text700', 3).map((words, line) =>
        text(HEAD.width + column * CELL.width + CELL.width / 2, 18 + line * 14, words, {
          'text-anchor': 'middle',
          'font-weight': 700,
          'font-size': 11,
        }),
      ),
    ),
  ]
  const corner: Mark[] = [
    kit.rect({ x: 0, y: 0, width: HEAD.width, height: HEAD.height }, { fill: 'head', stroke: 'hairline' }),
    text(14, HEAD.height - 12, 'R does it, A answers for it, C is asked, I is told', {
      fill: 'ink-quiet',
      'font-size': 10.5,
    }),
  ]
  const left: Mark[] = steps.flatMap((step, row): Mark[] => {
    const y = HEAD.height + row * CELL.height
    return [
      kit.rect({ x: 0, y, width: HEAD.width, height: CELL.height }, { fill: 'head', stroke: 'hairline' }),
      text(14, y + 19, wrap(calledNode(step).replace(/[“”]/g, ''), HEAD.width - 24, 11.5, 'text400', 1)[0] ?? '', {}),
    ]
  })
  const backdrop: Mark[] = steps.map((_, row) =>
    kit.rect(
      { x: HEAD.width, y: HEAD.height + row * CELL.height, width: roles.length * CELL.width, height: CELL.height },
      { fill: row % 2 === 0 ? 'sheet' : 'plate', stroke: 'none' },
    ),
  )
  const items: Item[] = steps.flatMap((step, row): Item[] => [
    {
      id: step.id,
      facts: [step.id],
      label: calledNode(step),
      box: { x: MARGIN, y: HEAD.height + row * CELL.height, width: HEAD.width, height: CELL.height },
      marks: [],
      stays: 'left',
      texts: [],
    },
    ...roles.map((role, column): Item => {
      const { text: words, stated, ids } = partsOf(model, role.id, step, process, day)
      return {
        id: `${step.id} ${role.id}` as Id,
        facts: [...ids, step.id],
        label: `${role.name} in ${calledNode(step)}: ${words || 'no part'}`,
        box: {
          x: HEAD.width + column * CELL.width,
          y: HEAD.height + row * CELL.height,
          width: CELL.width,
          height: CELL.height,
        },
        marks: [
          kit.rect({ x: 0, y: 0, width: CELL.width, height: CELL.height }, { fill: 'none', stroke: 'hairline' }),
          text(CELL.width / 2, 20, words, {
            'text-anchor': 'middle',
            'font-size': 13,
            ...(stated ? { 'font-weight': 700 } : { fill: 'ink-quiet' }),
          }),
        ],
        texts: [
          {
            part: `part ${role.id} ${step.id}`,
            label: 'Part',
            value: stated ? words : '',
            box: { x: 6, y: 4, width: CELL.width - 12, height: 22 },
          },
        ],
      }
    }),
  ])
  return {
    bounds: { x: 0, y: 0, width: Math.max(width, HEAD.width + 20), height: Math.max(height, HEAD.height + 20) },
    backdrop,
    items,
    links: [],
    frozen: { top, left, corner, width: HEAD.width, height: HEAD.height },
    headline: `${counted(steps.length, 'step')}, ${counted(roles.length, 'role')}`,
    summary: `Responsibilities of ${roles.map(({ name }) => name).join(', ')} in ${counted(steps.length, 'step')}.`,
  }
}
