import { middleOfWay, type Point } from '../../../../layout'
import type { Day, Id, Model, View } from '../../../../model'
import { spacingOf, type Picture } from '../../../../notation'
import { aroundPoints, kit, type Box, type Item, type Link, type Mark, type Scene } from '../../../../scene'
import { stateGestures } from '../../states/gestures'
import {
  isState,
  machineShown,
  vertexWords,
  type Machine,
  type Region,
  type Transition,
  type Vertex,
} from '../../states/structure'
import { openHead } from '../heads'
import { BESIDE_SIZE, besideName, doesBox, headOf, nameBox, nestMarks, regionMarks, vertexMarks } from './box'
import { LABEL, layOut, type Laid } from './layout'

export const states: Picture = {
  ...stateGestures,
  draw,
  needs: [
    'machine beside',
    'machine name',
    'region.machine',
    'region.within',
    'state.machine',
    'state.form',
    'state.within',
    'state.entry',
    'state.do',
    'state.exit',
    'transition.trigger',
    'transition.guard',
    'transition.effect',
    'transition.internal',
  ],
}

const SPREAD = { tight: 0.55, normal: 0.85, airy: 1.5 } as const
const HOLD = 10
/** So many vertices are drawn: more are read in the outline. */
const MOST = 600

/** O(layout) */
function draw(model: Model, view: View, day: Day): Scene {
  const machine = machineShown(model, view, day)
  if (!machine || machine.vertices.length === 0) return NOTHING
  if (machine.vertices.length > MOST)
    throw new RangeError(
      `${machine.vertices.length.toLocaleString('en')} states are too many for one picture: ${MOST} is the most`,
    )
  const laid = layOut(machine, SPREAD[spacingOf(view)])
  const links = machine.transitions.map((one) => linkOf(one, laid))
  const { x, y, width, height } = extent(laid, links)
  return {
    bounds: { x: x - 16, y: y - 14, width: width + 32, height: height + 28 },
    backdrop: [
      ...regionMarks(laid.regions.get(undefined) ?? []),
      ...machine.vertices.flatMap((one) => groundMarks(one, laid)),
    ],
    items: [
      ...machine.vertices.map((one) => vertexItem(one, laid)),
      ...[...machine.regionById.values()].flatMap((region) => regionItem(region, laid)),
      ...machine.transitions.map((one) => transitionItem(one, laid)),
    ],
    links,
    headline: headlineOf(machine),
    summary: summaryOf(machine),
  }
}

const NOTHING: Scene = {
  bounds: { x: 0, y: 0, width: 400, height: 200 },
  backdrop: [],
  items: [],
  links: [],
  headline: 'no states',
  summary: 'No states yet.',
}

function headlineOf({ vertices, transitions }: Machine): string {
  const count = (number: number, one: string) => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
  return `${count(vertices.filter(isState).length, 'state')}, ${count(transitions.length, 'transition')}`
}

const summaryOf = ({ name, transitions }: Machine): string =>
  `States of ${name}: ${transitions
    .slice(0, 40)
    .map(
      ({ source, text, target }) =>
        `from ${vertexWords(source)}${text === '' ? '' : ` on ${text}`} to ${vertexWords(target)}`,
    )
    .join('; ')}.`

function extent(laid: Laid, links: readonly Link[]): Box {
  const boxes = [
    { x: 0, y: 0, width: laid.width, height: laid.height },
    ...laid.boxes.values(),
    ...links.map(({ bounds }) => bounds),
  ]
  const [x, y] = [Math.min(...boxes.map((box) => box.x)), Math.min(...boxes.map((box) => box.y))]
  const right = boxes.reduce((most, box) => Math.max(most, box.x + box.width), 0)
  const bottom = boxes.reduce((most, box) => Math.max(most, box.y + box.height), 0)
  return { x, y, width: right - x, height: bottom - y }
}

function linkOf(one: Transition, laid: Laid): Link {
  const way = laid.ways.get(one) ?? []
  const label = laid.labels.get(one)
  const points = [
    ...way,
    ...(label ? [label.box, { x: label.box.x + label.box.width, y: label.box.y + label.box.height }] : []),
  ]
  return {
    id: one.id,
    source: one.source.id,
    target: one.target.id,
    bounds: aroundPoints(points.length > 0 ? points : [{ x: 0, y: 0 }], 6),
    marks: [...lineMarks(way), ...(label ? labelMarks(label) : [])],
  }
}

function lineMarks(way: readonly Point[]): Mark[] {
  const [end, before] = [way.at(-1), way.at(-2)]
  if (!end || !before) return []
  return [kit.path(kit.way(way, 7), { fill: 'none', stroke: 'line', 'stroke-width': 1.2 }), openHead(end, before)]
}

const labelMarks = ({ box, lines }: { readonly box: Box; readonly lines: readonly string[] }): Mark[] =>
  kit.lines(box.x + 2, box.y + 10, LABEL.line, lines, { fill: 'ink', 'font-size': LABEL.size })

const isNest = ({ form, regions }: Vertex): boolean => form === 'state' && regions.length > 0

/** A state within which others stand lies beneath what leads there. */
function groundMarks(one: Vertex, laid: Laid): Mark[] {
  const box = laid.boxes.get(one)
  if (!box || !isNest(one)) return []
  return [...nestMarks(one, box), ...regionMarks(laid.regions.get(one) ?? [])]
}

function vertexItem(one: Vertex, laid: Laid): Item {
  const box = laid.boxes.get(one) ?? { x: 0, y: 0, width: 92, height: 34 }
  const { width, height } = box
  const isGround = isNest(one)
  const beside = besideName(one)
  const name = laid.names.get(one)
  const head = headOf(one)
  return {
    id: one.id,
    facts: [one.id, ...one.internal.map(({ id }) => id)],
    label: `${one.form} ${one.name}`,
    box,
    marks: [
      ...(isGround ? [] : vertexMarks(one, { width, height })),
      ...(beside !== undefined && name
        ? [kit.text(name.x - box.x + 2, name.y - box.y + 11, beside, { fill: 'ink-quiet', 'font-size': BESIDE_SIZE })]
        : []),
    ],
    texts:
      one.form === 'state'
        ? [
            { part: 'name', label: 'State', value: one.name, box: nameBox(head, width) },
            ...head.does.flatMap(({ id, text }, at) =>
              id === undefined
                ? []
                : [{ part: id, label: 'On [if] / does', value: text, box: doesBox(head, at, width) }],
            ),
          ]
        : [],
    handles: [{ id: 'lead', box: { x: width / 2 - 5, y: height - 4, width: 10, height: 8 }, pulls: 'line' }],
    ...(isGround ? { ground: true } : {}),
    ...(one.region.owner ? { parent: one.region.owner.id } : {}),
  }
}

function regionItem(region: Region, laid: Laid): readonly Item[] {
  const { entity, owner } = region
  const place = laid.regions.get(owner)?.find((each) => each.region === region)
  if (!entity || !place) return []
  const { x, y, width, height } = place
  return [
    {
      id: entity.id,
      facts: [entity.id],
      label: `region ${entity.name}`,
      box: { x: x + 4, y: y + 2, width: Math.max(20, width - 8), height: Math.max(16, height - 4) },
      marks: [],
      ground: true,
      texts: [
        {
          part: 'name',
          label: 'Region',
          value: entity.name,
          box: { x: 2, y: 0, width: Math.min(width - 12, 160), height: 15 },
        },
      ],
      ...(owner ? { parent: owner.id } : {}),
    },
  ]
}

/** A place on a transition where it can be selected, typed into, and where its findings stand. */
function transitionItem(one: Transition, laid: Laid): Item {
  const label = laid.labels.get(one)
  const middle = middleOfWay(laid.ways.get(one) ?? []) ?? { x: 0, y: 0 }
  const box = label?.box ?? { x: middle.x - HOLD / 2, y: middle.y - HOLD / 2, width: HOLD, height: HOLD }
  return {
    id: one.id,
    facts: [one.id],
    label: `from ${one.source.name} to ${one.target.name}${one.text === '' ? '' : ` on ${one.text}`}`,
    box,
    marks: [],
    texts: [
      {
        part: 'text',
        label: 'On [if] / does',
        value: one.text,
        box: label
          ? { x: -2, y: -2, width: Math.max(60, box.width + 4), height: box.height + 4 }
          : { x: -40, y: -4, width: 90, height: 18 },
      },
    ],
    parent: one.source.id as Id,
  }
}
