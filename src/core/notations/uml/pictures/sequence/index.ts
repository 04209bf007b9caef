import type { Day, Model, View } from '../../../../model'
import { spacingOf, type Picture } from '../../../../notation'
import { around, kit, textWidth, type Box, type Item, type Link, type Mark, type Scene } from '../../../../scene'
import { sequenceGestures } from '../../sequences/gestures'
import { interactionShown, type Call, type Interaction, type Lifeline } from '../../sequences/structure'
import { actorMarks } from '../figures'
import { openHead } from '../heads'
import { BAR, HEAD, layOut, TEXT, type CallPlace, type FramePlace, type HeadPlace, type Laid } from './layout'

export const sequence: Picture = {
  ...sequenceGestures,
  draw,
  needs: [
    'interaction beside',
    'interaction name',
    'lifeline.interaction',
    'lifeline.actor',
    'lifeline.order',
    'call.interaction',
    'call.from',
    'call.to',
    'call.order',
    'call.sort',
    'call.within',
    'operand.interaction',
    'operand.sort',
    'operand.order',
    'operand.within',
  ],
}

const SPREAD = { tight: 0.6, normal: 1, airy: 1.5 } as const
const MOST = 3000

/** O(messages × lifelines) */
function draw(model: Model, view: View, day: Day): Scene {
  const shown = interactionShown(model, view, day)
  if (!shown || shown.lifelines.length === 0) return NOTHING
  if (shown.calls.length > MOST)
    throw new RangeError(
      `${shown.calls.length.toLocaleString('en')} messages are too many for one picture: ${MOST.toLocaleString('en')} is the most`,
    )
  const laid = layOut(shown, view.options['numbers'] === true, SPREAD[spacingOf(view)])
  const items = [
    ...laid.frames.flatMap(frameItems),
    ...shown.lifelines.flatMap((one) => lifelineItem(one, laid)),
    ...shown.calls.flatMap((one) => callItem(one, laid)),
  ]
  const links = shown.calls.flatMap((one) => callLink(one, laid))
  const box = around(
    [
      ...items.map((item) => item.box),
      ...links.map(({ bounds }) => bounds),
      { x: 0, y: 0, width: laid.width, height: laid.height },
    ],
    14,
  )
  return {
    bounds: box,
    backdrop: [
      ...shown.lifelines.flatMap((one) => lineMarks(one, laid)),
      ...laid.bars.map(barMark),
      ...laid.frames.flatMap(frameMarks),
    ],
    items,
    links,
    headline: headlineOf(shown),
    summary: summaryOf(shown),
  }
}

const NOTHING: Scene = {
  bounds: { x: 0, y: 0, width: 400, height: 200 },
  backdrop: [],
  items: [],
  links: [],
  headline: 'no messages',
  summary: 'No messages yet.',
}

const count = (number: number, one: string): string => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
const headlineOf = ({ lifelines, calls }: Interaction): string =>
  `${count(calls.length, 'message')} between ${count(lifelines.length, 'lifeline')}`
const summaryOf = ({ name, calls }: Interaction): string =>
  `${name}: ${calls
    .slice(0, 40)
    .map(({ from, sort, to, text }) => `${from.name} ${sort} ${to.name}${text === '' ? '' : ` ${text}`}`)
    .join('; ')}.`

const line = { fill: 'none', stroke: 'line', 'stroke-width': 1.2 } as const

function lineMarks(one: Lifeline, laid: Laid): Mark[] {
  const span = laid.spans.get(one)
  if (!span) return []
  const { x, from, to, isEnded } = span
  return [
    kit.path(`M${x} ${from}V${to}`, { fill: 'none', stroke: 'outline', 'stroke-width': 1, 'stroke-dasharray': '4 4' }),
    ...(isEnded
      ? [
          kit.path(`M${x - 8} ${to - 8}L${x + 8} ${to + 8}M${x - 8} ${to + 8}L${x + 8} ${to - 8}`, {
            fill: 'none',
            stroke: 'ink',
            'stroke-width': 1.8,
          }),
        ]
      : []),
  ]
}

const barMark = ({ x, from, to }: Laid['bars'][number]): Mark =>
  kit.rect({ x, y: from, width: BAR, height: to - from }, { fill: 'plate', stroke: 'outline', 'stroke-width': 1 })

function lifelineItem(one: Lifeline, laid: Laid): Item[] {
  const place = laid.heads.get(one)
  if (!place) return []
  const { x, y, width, height, lines } = place
  return [
    {
      id: one.id,
      facts: [one.id],
      label: `${one.isActor ? 'actor' : 'lifeline'} ${one.name}`,
      box: { x, y, width, height },
      marks: headMarks(one, place),
      texts: [
        {
          part: 'name',
          label: 'Lifeline',
          value: one.name,
          box: {
            x: 2,
            y: height - lines.length * HEAD.line - HEAD.pad,
            width: width - 4,
            height: lines.length * HEAD.line + 6,
          },
        },
      ],
      handles: [{ id: 'call', box: { x: width / 2 - 5, y: height - 4, width: 10, height: 8 }, pulls: 'line' }],
    },
  ]
}

/** A rectangle, or for an actor a figure with its name beneath (18.1.4). */
function headMarks({ isActor }: Lifeline, { width, height, lines }: HeadPlace): Mark[] {
  const top = height - lines.length * HEAD.line - HEAD.pad + 2
  const middle = width / 2
  const name = kit.lines(middle, top + 11, HEAD.line, lines, {
    fill: 'ink',
    'font-size': HEAD.size,
    'font-weight': 700,
    'text-anchor': 'middle',
  })
  if (!isActor)
    return [
      kit.rect(
        { x: 0.5, y: 0.5, width: width - 1, height: height - 1 },
        { rx: 2, fill: 'plate', stroke: 'outline', 'stroke-width': 1.2 },
      ),
      ...name,
    ]
  return [...actorMarks(middle), ...name]
}

/** Where a message begins and ends: at the bars, or at the head of what it makes. */
function endsOf(call: Call, { from, to, y, endY, isSelf }: CallPlace, laid: Laid) {
  const side = to >= from ? 1 : -1
  const at = (lifeline: Lifeline, height: number, x: number): number => {
    const bars = laid.bars.filter(
      (bar) => bar.lifeline === lifeline && bar.from - 0.5 <= height && height <= bar.to + 0.5,
    )
    return bars.length === 0 ? x : Math.max(...bars.map((bar) => bar.x)) + BAR
  }
  const leftOf = (lifeline: Lifeline, height: number, x: number): number =>
    at(lifeline, height, x) === x ? x : x - BAR / 2
  if (isSelf) return { a: { x: at(call.from, y, from), y }, b: { x: at(call.to, endY, to), y: endY } }
  const head = call.sort === 'makes' ? laid.heads.get(call.to) : undefined
  const isMadeHere = head && Math.abs(head.y + head.height / 2 - y) < 0.5
  const a = { x: side > 0 ? at(call.from, y, from) : leftOf(call.from, y, from), y }
  const b = {
    x: isMadeHere ? (side > 0 ? head.x : head.x + head.width) : side > 0 ? leftOf(call.to, y, to) : at(call.to, y, to),
    y,
  }
  return { a, b }
}

function callLink(call: Call, laid: Laid): Link[] {
  const place = laid.calls.get(call.id)
  if (!place) return []
  const { a, b } = endsOf(call, place, laid)
  const isDashed = call.sort === 'answers' || call.sort === 'makes'
  const out = Math.max(a.x, b.x) + 24
  const way = place.isSelf ? [a, { x: out, y: a.y }, { x: out, y: b.y }, b] : [a, b]
  const before = way.at(-2) ?? a
  const box = labelBox(place, a.x, b.x)
  const isWritten = place.lines.length > 0
  return [
    {
      id: call.id,
      source: call.from.id,
      target: call.to.id,
      bounds: around(
        [
          box,
          { x: Math.min(a.x, b.x), y: a.y, width: Math.abs(b.x - a.x) + (place.isSelf ? 24 : 0), height: b.y - a.y },
        ],
        8,
      ),
      marks: [
        kit.path(kit.way(way), { ...line, ...(isDashed ? { 'stroke-dasharray': '5 3' } : {}) }),
        // Filled for a call that waits (17.4.4), open for any other message.
        ...(call.sort === 'asks'
          ? [kit.path(kit.head(b, before, 9, 4), { fill: 'line', stroke: 'none' })]
          : [openHead(b, before)]),
        ...(place.isAcross && isWritten
          ? [
              kit.rect(
                { x: box.x - 3, y: box.y - 1, width: box.width + 6, height: box.height },
                { fill: 'sheet', stroke: 'none' },
              ),
            ]
          : []),
        ...kit.lines(box.x, box.y + 10, TEXT.line, place.lines, { fill: 'ink', 'font-size': TEXT.size }),
      ],
    },
  ]
}

/** Where what is said stands: above the line, or beside a message to oneself. */
function labelBox({ y, lines, isSelf, middle }: CallPlace, a: number, b: number): Box {
  const width = lines.length === 0 ? 20 : Math.max(...lines.map((each) => textWidth(each, TEXT.size, 'text400')))
  const height = Math.max(1, lines.length) * TEXT.line
  if (isSelf) return { x: Math.max(a, b) + 30, y: y - 4, width, height }
  return { x: middle - width / 2, y: y - height - 3, width, height }
}

function callItem(call: Call, laid: Laid): Item[] {
  const place = laid.calls.get(call.id)
  if (!place) return []
  const { a, b } = endsOf(call, place, laid)
  const box = labelBox(place, a.x, b.x)
  return [
    {
      id: call.id,
      facts: [call.id],
      label: `${call.from.name} ${call.sort} ${call.to.name}${call.text === '' ? '' : `: ${call.text}`}`,
      box: { ...box, height: box.height + 6 },
      marks: [],
      texts: [
        {
          part: 'text',
          label: 'Message',
          value: call.text,
          box: { x: -3, y: -3, width: Math.max(80, box.width + 6), height: box.height + 6 },
        },
      ],
      parent: call.from.id,
    },
  ]
}

const tabWidth = (operator: string): number => textWidth(operator, TEXT.size, 'text400') + 22

function frameMarks({ fragment, x, y, width, height, operands }: FramePlace): Mark[] {
  const tab = tabWidth(fragment.operator)
  return [
    kit.rect({ x, y, width, height }, { fill: 'none', stroke: 'outline', 'stroke-width': 1.2 }),
    kit.path(`M${x} ${y}H${x + tab}V${y + 10}L${x + tab - 8} ${y + 17}H${x}Z`, {
      fill: 'head',
      stroke: 'outline',
      'stroke-width': 1,
    }),
    kit.text(x + 8, y + 12.5, fragment.operator, { fill: 'ink', 'font-size': TEXT.size, 'font-weight': 700 }),
    ...operands.flatMap(({ operand, y: top }, at) => [
      ...(at === 0
        ? []
        : [
            kit.path(`M${x} ${top}H${x + width}`, {
              fill: 'none',
              stroke: 'outline',
              'stroke-width': 1,
              'stroke-dasharray': '6 4',
            }),
          ]),
      ...(operand.guard === '' ? [] : guardMarks(`[${operand.guard}]`, at === 0 ? x + tab + 8 : x + 10, top + 12.5)),
    ]),
  ]
}

/** When an operand comes about, on ground that hides what runs beneath it. */
const guardMarks = (words: string, x: number, y: number): Mark[] => [
  kit.rect(
    { x: x - 3, y: y - 11, width: textWidth(words, TEXT.size, 'text400') + 6, height: 14 },
    { fill: 'sheet', stroke: 'none' },
  ),
  kit.text(x, y, words, { fill: 'ink-quiet', 'font-size': TEXT.size }),
]

const frameItems = ({ fragment, x, width, operands }: FramePlace): Item[] =>
  operands.map(({ operand, y, height }, at) => {
    const left = at === 0 ? tabWidth(fragment.operator) + 6 : 8
    return {
      id: operand.id,
      facts: [operand.id],
      label: `${operand.sort} ${operand.guard}`,
      box: { x, y, width, height },
      marks: [],
      ground: true,
      texts: [
        {
          part: 'guard',
          label: 'If',
          value: operand.guard,
          box: { x: left, y: 1, width: Math.max(60, Math.min(width - left - 4, 180)), height: 15 },
        },
      ],
    }
  })
