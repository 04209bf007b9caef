import type { Day, Entity, Id, Model, View } from '../../../model'
import { spacingOf, type Picture } from '../../../notation'
import { kit, wrap, type Box, type Handle, type Item, type Mark, type Scene } from '../../../scene'
import { isForeign } from '../foreignPlaces'
import * as gestures from '../gestures'
import { UNNAMED } from '../kinds'
import { inFlowOrder, laneHolders, lanesDrawn, processShown, type Process } from '../structure'
import { drawFlow, type DrawnFlow } from './flow'
import { drawForeign } from './foreign'
import type { ShapeSet } from './shapes'
import { partsOf } from './strips'

const HEAD = { across: 124, along: 44 }
const POOL = 26
const PHASE = 24
const MARGIN = 0

/** Who does what, in which order: lanes across, the flow along. */
export const lanes: Picture = {
  ...gestures.lanes,
  needs: [
    'performed-in beside',
    'role beside',
    'role beyond',
    'fills beside',
    'fills beyond',
    'position beside',
    'position beyond',
    'holds beside',
    'holds beyond',
    'holds to',
    'person beside',
    'person beyond',
    'person name',
    'process beside',
    'process name',
    'lane.process',
    'lane.of',
    'lane.pool',
    'pool.process',
    'phase.process',
    'step.process',
    'step.type',
    'step.phase',
    'event.process',
    'event.type',
    'event.trigger',
    'event.phase',
    'gateway.process',
    'gateway.type',
    'gateway.phase',
    'data.process',
    'data.type',
    'flow.label',
  ],
  draw: (model, view, day) => (isForeign(view) ? foreign(model, view, day) : drawLanes(model, view, day)),
}

/** The flow alone. */
export const flow: Picture = {
  ...gestures.flow,
  needs: [
    'process beside',
    'process name',
    'step.process',
    'step.type',
    'event.process',
    'event.type',
    'event.trigger',
    'gateway.process',
    'gateway.type',
    'data.process',
    'data.type',
    'flow.label',
  ],
  draw: (model, view, day) => drawBare(model, view, day),
}

const optionsOf = ({ options }: View) => ({
  shapes: (options['shapes'] === 'flowchart' ? 'flowchart' : 'BPMN') as ShapeSet,
  isCrossed: options['crosses'] !== false,
  down: options['runs'] === 'down',
  showData: options['data'] !== false,
  showPhases: options['phases'] !== false,
  showNumbers: options['numbers'] === true,
  spacing: SPREAD[spacingOf({ options })],
  page: PAGES[String(options['strips'])],
})

/** Width to height that strips aim at: A4 either way (ISO 216), margins included. */
const PAGES: Readonly<Record<string, number>> = { landscape: 1.5, portrait: 0.68 }
const SPREAD = { tight: 0.45, normal: 1, airy: 1.8 } as const

export function headlineOf(model: Model, process: Process, plain = false): string {
  const steps = [...process.nodes.values()].filter(({ kind }) => kind === 'step').length
  const { owner, version } = process.process?.fields ?? {}
  const named = typeof owner === 'string' ? (model.entities.get(owner as Id)?.name ?? owner) : undefined
  return [
    typeof version === 'string' ? `version ${version}` : '',
    named ? `owner ${named}` : '',
    steps === 1 ? '1 step' : `${steps} steps`,
    plain ? 'lines laid plainly, since there are too many to look for the fewest crossings' : '',
  ]
    .filter(Boolean)
    .join(', ')
}

const foreign = (model: Model, view: View, day: Day): Scene => {
  const process = processShown(model, view, day)
  return drawForeign(model, view, day, headlineOf(model, process), summaryOf(process))
}

function drawBare(model: Model, view: View, day: Day): Scene {
  const process = processShown(model, view, day)
  const choices = optionsOf(view)
  const margin = 16
  const wish = { model, view, day, process, lanes: [], ...choices, showPhases: false }
  const drawn = drawFlow(
    { ...wish, toPage: choices.page ? { shape: choices.page, head: 0, above: 0 } : undefined },
    margin,
    margin,
  )
  const { length, breadth } = drawn.strips
  const size = choices.down ? { width: breadth, height: length } : { width: length, height: breadth }
  return {
    bounds: { x: 0, y: 0, width: size.width + 2 * margin, height: size.height + 2 * margin },
    backdrop: [],
    items: drawn.items,
    links: drawn.links,
    headline: headlineOf(model, process, drawn.places.plain),
    summary: summaryOf(process),
  }
}

const summaryOf = (process: Process): string =>
  `The process ${process.process?.name ?? ''}: ${inFlowOrder(process)
    .map(({ entity }) => entity.name)
    .filter((name) => name !== UNNAMED)
    .slice(0, 40)
    .join(', ')}.`

/** Lanes with their heads, phases across them, and the flow. O(layout). */
function drawLanes(model: Model, view: View, day: Day): Scene {
  const process = processShown(model, view, day)
  const choices = optionsOf(view)
  const { down } = choices
  const phased = choices.showPhases && process.phases.length > 0
  const pooled = process.pools.length > 0
  const bands = lanesDrawn(process)
  const head = (down ? HEAD.along : HEAD.across) + (pooled ? POOL : 0)
  const [left, top] = down ? [phased ? PHASE : 0, head] : [head, phased ? PHASE : 0]
  const drawn = drawFlow(
    {
      model,
      view,
      day,
      process,
      lanes: bands,
      ...choices,
      toPage: choices.page ? { shape: choices.page, head, above: top } : undefined,
    },
    left + MARGIN,
    top + MARGIN,
  )
  const { places } = drawn
  const { strips, length, breadth } = drawn.strips
  const extent = down
    ? { width: left + breadth, height: top + length }
    : { width: left + length, height: top + breadth }
  const grounds: Item[] = []
  const heads: Item[] = []
  const backdrop: Mark[] = []
  const frozen: Mark[] = []
  const poolItems: Item[] = []
  const stays = down ? 'top' : 'left'
  strips.forEach((strip, at) => {
    const again = (id: Id): Id => (at === 0 ? id : (`${id} ${at + 1}` as Id))
    const areaOf = (index: number): Box | undefined => {
      const lane = strip.lanes[index]
      if (!lane) return undefined
      const { from, to } = lane
      return down
        ? { x: left + from, y: top, width: to - from, height: length }
        : { x: left, y: top + from, width: length, height: to - from }
    }
    const headOf = (area: Box): Box => {
      const band = pooled ? POOL : 0
      return down
        ? { x: area.x, y: band, width: area.width, height: HEAD.along }
        : { x: band, y: area.y, width: HEAD.across, height: area.height }
    }
    bands.forEach((lane, index) => {
      const area = areaOf(index)
      if (!area) return
      // A pool without lanes is its band alone, and room for what is sent to it.
      if (lane.kind === 'pool') {
        const whole = down
          ? { ...area, y: POOL, height: area.y + area.height - POOL }
          : { ...area, x: POOL, width: area.x + area.width - POOL }
        backdrop.push(ground(whole, index))
        return
      }
      backdrop.push(ground(area, index))
      const about = { facts: [lane.id], label: `lane ${lane.name}`, marks: [] }
      grounds.push({ ...about, id: again(`ground ${lane.id}` as Id), box: area, texts: [], ground: true })
      const box = headOf(area)
      frozen.push(...headMarks(model, lane, day, box))
      heads.push({
        ...about,
        id: again(lane.id),
        box,
        stays,
        handles: laneHandles(box, down),
        texts: [
          {
            part: 'name',
            label: 'Lane',
            value: lane.name,
            box: { x: 8, y: box.height / 2 - 20, width: box.width - 16, height: 20 },
          },
        ],
      })
    })
    for (const { pool, box } of poolBoxes(process.pools, bands, areaOf, down)) {
      frozen.push(...poolMarks(pool, box, down))
      poolItems.push({
        id: again(pool.id),
        facts: [pool.id],
        label: `pool ${pool.name}`,
        box,
        marks: [],
        stays,
        texts: [],
      })
    }
  })
  const phaseHeads = phased ? phaseItems(process.phases, drawn, left, top, down) : []
  const many = strips.length > 1
  for (const { box, end } of phaseHeads) backdrop.push(...dividers(box, end, down))
  const phaseMarks = phaseHeads.flatMap(({ box, phase }) => phaseHead(phase, box))
  if (many) backdrop.push(...phaseMarks)
  const corner: Mark[] = [
    kit.rect({ x: 0, y: 0, width: down ? left : head, height: down ? head : top }, { fill: 'sheet', stroke: 'none' }),
  ]
  return {
    bounds: { x: 0, y: 0, ...extent },
    backdrop,
    items: [
      ...grounds,
      ...poolItems,
      ...heads,
      ...phaseHeads.map(({ box, phase, part }): Item => ({
        id: part === 0 ? phase.id : (`${phase.id} ${part + 1}` as Id),
        facts: [phase.id],
        label: `phase ${phase.name}`,
        box,
        marks: [],
        // Over strips beneath one another it scrolls with its strip.
        ...(many ? {} : { stays: down ? ('left' as const) : ('top' as const) }),
        texts: [
          {
            part: 'name',
            label: 'Phase',
            value: phase.name,
            box: { x: 4, y: 1, width: Math.max(90, box.width - 8), height: 20 },
          },
        ],
      })),
      ...drawn.items,
    ],
    links: drawn.links,
    frozen: {
      ...(down ? { top: frozen, left: phaseMarks } : { left: frozen, top: many ? [] : phaseMarks }),
      corner: phased && !many ? corner : [],
      width: left,
      height: many ? 0 : top,
    },
    headline: headlineOf(model, process, places.plain),
    summary: summaryOf(process),
  }
}

const EDGE = 6

/** A lane is made wider by its far edge, and put elsewhere by the rest of its head. */
const laneHandles = ({ width, height }: Box, down: boolean): Handle[] => [
  {
    id: `breadth ${down ? width : height}`,
    box: down ? { x: width - EDGE, y: 0, width: EDGE, height } : { x: 0, y: height - EDGE, width, height: EDGE },
    pulls: down ? 'along' : 'across',
  },
  { id: 'order', box: { x: 0, y: 0, width, height }, pulls: 'freely' },
]

const ground = ({ x, y, width, height }: Box, index: number): Mark =>
  kit.rect(
    { x, y, width, height },
    { fill: index % 2 === 0 ? 'sheet' : 'plate', stroke: 'hairline', 'stroke-width': 1 },
  )

/** The lane’s name, and under it who stands behind it on the day. */
function headMarks(model: Model, lane: Entity, day: Day, { x, y, width, height }: Box): Mark[] {
  const { words, empty } = laneHolders(model, lane, day)
  const room = width - 24
  const names = wrap(lane.name, room, 12, 'text700', Math.max(1, Math.floor((height - 20) / 15)))
  const holders =
    words === ''
      ? []
      : wrap(
          empty ? 'nobody today' : words,
          room,
          11,
          'text400',
          Math.max(1, Math.min(3, Math.floor((height - names.length * 15 - 8) / 14))),
        )
  const total = names.length * 15 + holders.length * 14
  const top = y + (height - total) / 2
  return [
    kit.rect({ x, y, width, height }, { fill: 'head', stroke: 'hairline', 'stroke-width': 1 }),
    ...names.map((text, i): Mark =>
      kit.text(x + 14, top + i * 15 + 12, text, { fill: 'ink', 'font-size': 12, 'font-weight': 700 }),
    ),
    ...holders.map((text, i): Mark =>
      kit.text(x + 14, top + names.length * 15 + i * 14 + 11, text, {
        fill: empty ? 'warning' : 'ink-quiet',
        'font-size': 11,
      }),
    ),
  ]
}

/** A band along the lanes of each pool. */
function poolBoxes(
  pools: readonly Entity[],
  lanes: readonly Entity[],
  areaOf: (lane: number) => Box | undefined,
  down: boolean,
): { pool: Entity; box: Box }[] {
  return pools.flatMap((pool) => {
    const own = lanes.flatMap((lane, index) => (lane.fields['pool'] === pool.id ? (areaOf(index) ?? []) : []))
    const [first, last] = [own[0], own.at(-1)]
    if (!first || !last) return []
    const box = down
      ? { x: first.x, y: 0, width: last.x + last.width - first.x, height: POOL }
      : { x: 0, y: first.y, width: POOL, height: last.y + last.height - first.y }
    return [{ pool, box }]
  })
}

/** The band with the pool’s name running up it. */
function poolMarks(pool: Entity, box: Box, down: boolean): Mark[] {
  const name = wrap(pool.name, (down ? box.width : box.height) - 16, 11, 'text700', 1)[0] ?? ''
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2]
  return [
    kit.rect(box, { fill: 'head', stroke: 'hairline', 'stroke-width': 1 }),
    kit.text(cx, cy + 4, name, {
      fill: 'ink',
      'font-size': 11,
      'font-weight': 700,
      'text-anchor': 'middle',
      ...(down ? {} : { transform: `rotate(-90 ${cx} ${cy})` }),
    }),
  ]
}

/** The heads of phases: of one that is cut, one over each of its parts. */
function phaseItems(
  phases: readonly Entity[],
  { places, strips }: DrawnFlow,
  left: number,
  top: number,
  down: boolean,
): { phase: Entity; box: Box; part: number; end: number }[] {
  return phases.flatMap((phase, index) => {
    const place = places.phases[index]
    if (!place) return []
    if (down)
      return [
        {
          phase,
          part: 0,
          end: left + strips.breadth,
          box: { x: 0, y: top + place.from, width: PHASE, height: place.to - place.from },
        },
      ]
    return partsOf(place, strips).map(({ from, to, down: y, bottom }, part) => ({
      phase,
      part,
      end: top + bottom,
      box: { x: left + from, y, width: to - from, height: PHASE },
    }))
  })
}

function dividers(box: Box, end: number, down: boolean): Mark[] {
  const at = down ? box.y : box.x
  if (at <= (down ? HEAD.along : HEAD.across) + POOL + 4) return []
  const d = down ? `M${PHASE} ${at}H${end}` : `M${at} ${box.y + PHASE}V${end}`
  return [kit.path(d, { fill: 'none', stroke: 'outline', 'stroke-width': 1, 'stroke-dasharray': '2 4' })]
}

function phaseHead(phase: Entity, { x, y, width, height }: Box): Mark[] {
  const upright = height > width
  const name = wrap(phase.name, (upright ? height : width) - 20, 11, 'text700', 1)[0] ?? ''
  const [cx, cy] = [x + width / 2, y + height / 2]
  return [
    kit.rect({ x, y, width, height }, { fill: 'head', stroke: 'hairline', 'stroke-width': 1 }),
    kit.text(upright ? cx : x + 12, upright ? cy + 4 : y + 16, name, {
      fill: 'ink-quiet',
      'font-size': 11,
      'font-weight': 700,
      ...(upright ? { 'text-anchor': 'middle', transform: `rotate(-90 ${cx} ${cy})` } : {}),
    }),
  ]
}
