import type { Day, Entity, Id, Model, View } from '../../../model'
import { kit, around, wrap, type Box, type Item, type Link, type Mark, type Scene } from '../../../scene'
import { UNNAMED } from '../kinds'
import { inFlowOrder, processShown, type FlowNode, type Process } from '../structure'
import { flowHandle, flowLabel, LABEL } from './flow'
import { lineMarks } from './flowLines'
import { NAME, shapeOf } from './shapes'

const MARGIN = 24

/** Where everything of a process stood in the file it came from; what has come since and has no place there stands beneath. O(elements + lines) */
export function placesOf(
  view: View,
  process: Process,
): { boxes: ReadonlyMap<Id, Box>; ways: ReadonlyMap<Id, readonly { x: number; y: number }[]> } {
  const placeOf = (id: Id): Box | undefined => {
    const [at, size] = [view.pins[`at ${id}`], view.pins[`size ${id}`]]
    return at && size ? { x: at[0], y: at[1], width: size[0], height: size[1] } : undefined
  }
  const boxes = new Map<Id, Box>()
  for (const { id } of [...process.pools, ...process.lanes]) {
    const box = placeOf(id)
    if (box) boxes.set(id, box)
  }
  const nodes = inFlowOrder(process)
  const known = nodes.flatMap((node) => placeOf(node.id) ?? [])
  const whole = around(known.length > 0 ? known : [{ x: 0, y: 0, width: 1, height: 1 }], 0)
  let spare = whole.x
  for (const node of nodes) {
    const { width, height } = shapeOf(node, 'BPMN')
    const box = placeOf(node.id) ?? { x: spare, y: whole.y + whole.height + 60, width, height }
    if (!placeOf(node.id)) spare += width + 30
    boxes.set(node.id, box)
  }
  const ways = new Map<Id, readonly { x: number; y: number }[]>()
  for (const { id, source, target } of [...process.flows, ...process.messages]) {
    const way = wayOf(view, id) ?? straight(boxes.get(source), boxes.get(target))
    if (way) ways.set(id, way)
  }
  return { boxes, ways }
}

/** A process where another program put it. What has come since and has no place there stands beneath. O(elements + lines). */
export function drawForeign(model: Model, view: View, day: Day, headline: string, summary: string): Scene {
  const process = processShown(model, view, day)
  const { boxes, ways } = placesOf(view, process)
  const nodes = inFlowOrder(process)
  const areas = [...process.pools, ...process.lanes].flatMap((entity) => {
    const box = boxes.get(entity.id)
    return box ? [{ entity, box }] : []
  })
  const links: Link[] = []
  const handles: Item[] = []
  for (const relation of [...process.flows, ...process.messages]) {
    const way = ways.get(relation.id)
    if (!way) continue
    const sort = relation.kind === 'message' ? 'message' : 'flow'
    const bounds = around(
      way.map(({ x, y }) => ({ x, y, width: 0, height: 0 })),
      8,
    )
    links.push({
      id: relation.id,
      source: relation.source,
      target: relation.target,
      bounds,
      marks: lineMarks(way, sort, relation, undefined),
    })
    const lines = wrap(flowLabel(relation), LABEL.width, LABEL.size, 'text400', 2)
    const [a, b] = way
    const label =
      lines.length > 0 && a && b
        ? {
            x: a.x === b.x ? a.x + 5 : Math.min(a.x, b.x) + 6,
            y: a.x === b.x ? Math.min(a.y, b.y) + 6 : a.y - lines.length * LABEL.line - 2,
            width: LABEL.width,
            height: lines.length * LABEL.line,
          }
        : undefined
    handles.push(flowHandle(relation, lines, label, way, process.nodes.get(relation.source)))
  }
  const items = nodes.map((node) => nodeItem(node, boxes.get(node.id) ?? { x: 0, y: 0, width: 10, height: 10 }))
  const grounds = areas.map(({ entity, box }): Item => ({
    id: entity.id,
    facts: [entity.id],
    label: `${entity.kind} ${entity.name}`,
    box,
    marks: [],
    texts: [],
    ground: true,
  }))
  const all = [...items.map(({ box }) => box), ...areas.map(({ box }) => box), ...links.map(({ bounds }) => bounds)]
  return {
    bounds: around(all, MARGIN),
    backdrop: areas.flatMap(({ entity, box }) => areaMarks(entity, box)),
    items: [...grounds, ...handles, ...items],
    links,
    headline: `${headline}, places as in the file`,
    summary,
  }
}

function wayOf(view: View, id: Id): { x: number; y: number }[] | undefined {
  const way: { x: number; y: number }[] = []
  for (let pin = view.pins[`way ${id} 0`]; pin; pin = view.pins[`way ${id} ${way.length}`])
    way.push({ x: pin[0], y: pin[1] })
  return way.length > 1 ? way : undefined
}

function straight(a: Box | undefined, b: Box | undefined): { x: number; y: number }[] | undefined {
  if (!a || !b) return undefined
  const [from, to] = [
    { x: a.x + a.width, y: a.y + a.height / 2 },
    { x: b.x, y: b.y + b.height / 2 },
  ]
  const middle = (from.x + to.x) / 2
  return [from, { x: middle, y: from.y }, { x: middle, y: to.y }, to]
}

function nodeItem(node: FlowNode, box: Box): Item {
  const { width, height, marks, outside } = shapeOf(node, 'BPMN')
  const [sx, sy] = [box.width / width, box.height / height]
  const same = Math.abs(sx - 1) < 0.02 && Math.abs(sy - 1) < 0.02
  const scaled: readonly Mark[] = same
    ? marks
    : [{ tag: 'g', attrs: { transform: `scale(${Number(sx.toFixed(3))} ${Number(sy.toFixed(3))})` }, children: marks }]
  const names = outside.map((text, line): Mark =>
    kit.text(box.width / 2, box.height + 13 + line * NAME.line, text, {
      fill: 'ink',
      'font-size': NAME.size,
      'text-anchor': 'middle',
    }),
  )
  return {
    id: node.id,
    facts: [node.id],
    label: node.entity.name,
    box,
    marks: [...scaled, ...names],
    texts: [
      {
        part: 'name',
        label: 'Name',
        value: node.entity.name === UNNAMED ? '' : node.entity.name,
        box: { x: 2, y: 2, width: Math.max(90, box.width - 4), height: Math.max(22, box.height - 4) },
      },
    ],
  }
}

function areaMarks(entity: Entity, { x, y, width, height }: Box): Mark[] {
  const band = 30
  const [cx, cy] = [x + band / 2, y + height / 2]
  const name = wrap(entity.name, height - 10, 11, 'text700', 1)[0] ?? ''
  return [
    kit.rect({ x, y, width, height }, { fill: 'sheet', stroke: 'outline' }),
    kit.rect({ x, y, width: band, height }, { fill: 'head', stroke: 'outline' }),
    kit.text(cx, cy + 4, name, {
      fill: 'ink',
      'font-size': 11,
      'font-weight': 700,
      'text-anchor': 'middle',
      transform: `rotate(-90 ${cx} ${cy})`,
    }),
  ]
}
