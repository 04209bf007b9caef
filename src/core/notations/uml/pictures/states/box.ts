import { kit, textWidth, wrap, type Box, type Mark } from '../../../../scene'
import { isUnnamed, type Region, type Transition, type Vertex } from '../../states/structure'
import type { Id } from '../../../../model'

/** How states and pseudostates are drawn (UML 2.5.1, 14.2.4). */

const NAME = { size: 12, line: 16 } as const
const LINE = { size: 10.5, line: 14 } as const
const PAD = { side: 12, top: 9, bottom: 8 } as const
const WIDTH = { least: 92, most: 210 } as const
/** The signs of pseudostates and ends, across. */
const SIGN = {
  initial: 14,
  final: 20,
  choice: 30,
  history: 24,
  bar: 6,
  barLength: 84,
  junction: 10,
  terminate: 16,
} as const
/** So many things that a state does are written in it; the last says how many more there are. */
const MOST_LINES = 16

/** A line in a state: what it does, or which transition it is of. */
export interface Does {
  readonly id: Id | undefined
  readonly text: string
}

export function doesOf({ entity: { fields }, internal }: Vertex): readonly Does[] {
  const lines: Does[] = [
    ...(['entry', 'do', 'exit'] as const).flatMap((field): Does[] => {
      const text = fields[field]
      return typeof text === 'string' && text !== '' ? [{ id: undefined, text: `${field} / ${text}` }] : []
    }),
    ...internal.map((one: Transition): Does => ({ id: one.id, text: one.text })),
  ]
  return lines.length <= MOST_LINES
    ? lines
    : [...lines.slice(0, MOST_LINES - 1), { id: undefined, text: `… and ${lines.length - MOST_LINES + 1} more` }]
}

export interface Size {
  readonly width: number
  readonly height: number
}

/** The head of a state: its name, and what it does beneath. */
export interface Head extends Size {
  readonly name: readonly string[]
  readonly does: readonly Does[]
}

export function headOf(one: Vertex): Head {
  const does = doesOf(one)
  const name = wrap(one.name, WIDTH.most - 2 * PAD.side, NAME.size, 'text700', 3)
  const widths = [
    ...name.map((line) => textWidth(line, NAME.size, 'text700')),
    ...does.map(({ text }) => textWidth(text, LINE.size, 'text400')),
  ]
  return {
    name,
    does,
    width: Math.min(WIDTH.most, Math.max(WIDTH.least, Math.ceil(Math.max(...widths)) + 2 * PAD.side)),
    height: PAD.top + name.length * NAME.line + PAD.bottom - 2 + (does.length > 0 ? does.length * LINE.line + 8 : 0),
  }
}

/** What a vertex without regions takes. */
export function sizeOf(one: Vertex): Size {
  switch (one.form) {
    case 'state':
      return headOf(one)
    case 'initial':
      return { width: SIGN.initial, height: SIGN.initial }
    case 'final':
      return { width: SIGN.final, height: SIGN.final }
    case 'choice':
      return { width: SIGN.choice, height: SIGN.choice }
    case 'junction':
      return { width: SIGN.junction, height: SIGN.junction }
    case 'terminate':
      return { width: SIGN.terminate, height: SIGN.terminate }
    case 'history':
    case 'deep history':
      return { width: SIGN.history, height: SIGN.history }
    default:
      return { width: SIGN.barLength, height: SIGN.bar }
  }
}

/** How a vertex’s sides run. */
export const sidesOf = ({ form }: Vertex): 'box' | 'diamond' | 'round' =>
  form === 'choice'
    ? 'diamond'
    : form === 'state' || form === 'fork' || form === 'join' || form === 'terminate'
      ? 'box'
      : 'round'

/** The name that a pseudostate or an end has of its own, which stands beside it. */
export const besideName = (one: Vertex): string | undefined =>
  one.form === 'state' || isUnnamed(one) ? undefined : one.name

export const BESIDE_SIZE = 10.5

/** The marks of a vertex within which none stand, in a box of this size. */
export function vertexMarks(one: Vertex, { width, height }: Size): Mark[] {
  const [cx, cy] = [width / 2, height / 2]
  const solid = { fill: 'ink', stroke: 'none' } as const
  const outlined = { fill: 'plate', stroke: 'outline', 'stroke-width': 1.2 } as const
  switch (one.form) {
    case 'state':
      return stateMarks(one, { x: 0, y: 0, width, height }, false)
    case 'initial':
    case 'junction':
      return [kit.circle(cx, cy, width / 2, solid)]
    case 'final':
      return [
        kit.circle(cx, cy, width / 2 - 0.6, { fill: 'plate', stroke: 'ink', 'stroke-width': 1.2 }),
        kit.circle(cx, cy, width / 2 - 4, solid),
      ]
    case 'choice':
      return [kit.path(`M${cx} 0L${width} ${cy}L${cx} ${height}L0 ${cy}Z`, outlined)]
    case 'terminate':
      return [
        kit.path(`M1 1L${width - 1} ${height - 1}M1 ${height - 1}L${width - 1} 1`, {
          fill: 'none',
          stroke: 'ink',
          'stroke-width': 2,
        }),
      ]
    case 'history':
    case 'deep history':
      return [
        kit.circle(cx, cy, width / 2 - 0.6, outlined),
        kit.text(cx, cy + 4, one.form === 'history' ? 'H' : 'H*', {
          fill: 'ink',
          'font-size': 11,
          'font-weight': 700,
          'text-anchor': 'middle',
        }),
      ]
    default:
      return [kit.rect({ x: 0, y: 0, width, height }, { ...solid, rx: 1 })]
  }
}

const CORNER = 10

/** A state within which others stand, where it stands itself. */
export const nestMarks = (one: Vertex, box: Box): Mark[] => stateMarks(one, box, true)

function stateMarks(one: Vertex, { x, y, width, height }: Box, isGround: boolean): Mark[] {
  const { name, does } = headOf(one)
  const marks: Mark[] = [
    kit.rect(
      { x: x + 0.5, y: y + 0.5, width: width - 1, height: height - 1 },
      { rx: CORNER, fill: isGround ? 'sheet' : 'plate', stroke: 'outline', 'stroke-width': 1.2 },
    ),
  ]
  name.forEach((line, at) =>
    marks.push(
      kit.text(x + (isGround ? PAD.side : width / 2), y + PAD.top + 11 + at * NAME.line, line, {
        fill: 'ink',
        'font-size': NAME.size,
        'font-weight': 700,
        ...(isGround ? {} : { 'text-anchor': 'middle' }),
      }),
    ),
  )
  if (does.length === 0) return marks
  const top = y + doesTop(name.length)
  marks.push(
    kit.path(`M${x + 0.5} ${top}H${x + width - 0.5}`, { fill: 'none', stroke: 'outline', 'stroke-width': 0.8 }),
  )
  does.forEach(({ text }, at) => {
    const [line = ''] = wrap(text, width - 2 * PAD.side, LINE.size, 'text400', 1)
    marks.push(kit.text(x + PAD.side, top + 15 + at * LINE.line, line, { fill: 'ink-quiet', 'font-size': LINE.size }))
  })
  return marks
}

const doesTop = (names: number): number => PAD.top + names * NAME.line + 2

/** Where the name of a state is typed into, and each thing that it does on an event. */
export const nameBox = (head: Head, width: number) => ({
  x: 4,
  y: PAD.top - 3,
  width: width - 8,
  height: head.name.length * NAME.line + 2,
})
export const doesBox = (head: Head, at: number, width: number) => ({
  x: 6,
  y: doesTop(head.name.length) + 4 + at * LINE.line,
  width: width - 12,
  height: LINE.line,
})

/** The dashed lines between regions, and their names. */
export function regionMarks(
  regions: readonly { readonly region: Region; readonly x: number; readonly y: number; readonly height: number }[],
): Mark[] {
  return regions.flatMap(({ region, x, y, height }, at) => [
    ...(at === 0
      ? []
      : [
          kit.path(`M${x} ${y}V${y + height}`, {
            fill: 'none',
            stroke: 'outline',
            'stroke-width': 1,
            'stroke-dasharray': '6 4',
          }),
        ]),
    ...(region.entity
      ? [
          kit.text(x + 10, y + 12, region.entity.name, {
            fill: 'ink-quiet',
            'font-size': LINE.size,
            'font-weight': 700,
          }),
        ]
      : []),
  ])
}
export const REGION_NAME = 18
export const regionNameWidth = ({ entity }: Region): number =>
  entity ? Math.ceil(textWidth(entity.name, LINE.size, 'text700')) + 20 : 0
