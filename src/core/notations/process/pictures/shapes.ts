import { kit, textWidth, wrap, type Mark, type Paint } from '../../../scene'
import { UNNAMED } from '../kinds'
import type { FlowNode } from '../structure'

export type ShapeSet = 'BPMN' | 'flowchart'

/** How an element is drawn: its size, how its sides run, and its marks from its upper left corner. */
export interface Shape {
  readonly width: number
  readonly height: number
  readonly form: 'box' | 'diamond' | 'round'
  readonly marks: readonly Mark[]
  /** A name that stands outside the shape, in lines. */
  readonly outside: readonly string[]
}

export const NAME = { size: 11, line: 14, width: 104 }
const TEXT = { size: 11.5, line: 15, width: 98 }
const BOX = { width: 112, least: 44 }

const rect = (width: number, height: number, attrs: { readonly rx?: number }): Mark =>
  kit.rect(
    { x: 0.5, y: 0.5, width: width - 1, height: height - 1 },
    { fill: 'sheet', stroke: 'ink', 'stroke-width': 1.25, ...attrs },
  )
const path = (d: string, attrs: Partial<Paint> = {}): Mark =>
  kit.path(d, { fill: 'sheet', stroke: 'ink', 'stroke-width': 1.25, 'stroke-linejoin': 'round', ...attrs })
const line = (d: string, width = 1.25): Mark => path(d, { fill: 'none', 'stroke-width': width })
const circle = (r: number, width: number, inner = 0): Mark =>
  kit.circle(r, r, r - width / 2 - inner, { fill: inner > 0 ? 'none' : 'sheet', stroke: 'ink', 'stroke-width': width })

function textLines(lines: readonly string[], x: number, middle: number): Mark[] {
  const top = middle - ((lines.length - 1) * TEXT.line) / 2 + 4
  return lines.map((text, index) =>
    kit.text(x, top + index * TEXT.line, text, { fill: 'ink', 'font-size': TEXT.size, 'text-anchor': 'middle' }),
  )
}

const named = ({ entity }: FlowNode): string => (entity.name === UNNAMED ? '' : entity.name)

/** An element as BPMN 2.0 (ISO/IEC 19510) or ISO 5807 draws it. O(text). */
export function shapeOf(node: FlowNode, set: ShapeSet, isCrossed = true): Shape {
  if (node.kind === 'step') return stepShape(node, set)
  if (node.kind === 'data') return dataShape(node, set)
  const outside = wrap(named(node), NAME.width, NAME.size, 'text400', 3)
  if (node.kind === 'event') return set === 'BPMN' ? { ...eventShape(node), outside } : terminal(node)
  return set === 'BPMN' || node.type !== 'parallel'
    ? { ...gatewayShape(node, set, isCrossed), outside }
    : { ...bars(), outside }
}

function stepShape(node: FlowNode, set: ShapeSet): Shape {
  const lines = wrap(
    named(node),
    TEXT.width - (set === 'flowchart' && node.type === 'subprocess' ? 10 : 0),
    TEXT.size,
    'text400',
    4,
  )
  const marked = set === 'BPMN' && node.type !== 'task'
  const height = Math.max(BOX.least, lines.length * TEXT.line + 14 + (marked ? 12 : 0))
  const width = BOX.width
  const middle = marked && node.type !== 'subprocess' ? height / 2 + 6 : marked ? height / 2 - 6 : height / 2
  const text = textLines(lines, width / 2, middle)
  const marks =
    set === 'BPMN'
      ? [rect(width, height, { rx: 7 }), ...text, ...typeMarks(node.type, width, height)]
      : [...outlineIso(node.type, width, height), ...text]
  return { width, height, form: 'box', marks, outside: [] }
}

/** The small signs by which BPMN tells sorts of tasks. */
function typeMarks(type: string, width: number, height: number): Mark[] {
  switch (type) {
    case 'user task':
      return [
        kit.circle(12, 9, 3, { fill: 'sheet', stroke: 'ink', 'stroke-width': 1 }),
        line('M7 18Q7 13 12 13Q17 13 17 18Z', 1),
      ]
    case 'service task':
      return [
        kit.circle(12, 12, 4.2, { fill: 'none', stroke: 'ink', 'stroke-width': 2, 'stroke-dasharray': '2 1.3' }),
        kit.circle(12, 12, 2, { fill: 'sheet', stroke: 'ink', 'stroke-width': 1 }),
      ]
    case 'manual task':
      return [line('M6 11H12L10 8.5Q11 7 12.5 8.5L16 12V16.5H8Q6 16.5 6 14.5Z', 1)]
    case 'subprocess': {
      const [x, y] = [width / 2, height - 9]
      return [
        kit.rect({ x: x - 6, y: y - 6, width: 12, height: 12 }, { fill: 'sheet', stroke: 'ink', 'stroke-width': 1 }),
        line(`M${x - 3.5} ${y}H${x + 3.5}M${x} ${y - 3.5}V${y + 3.5}`, 1),
      ]
    }
    default:
      return []
  }
}

/** ISO 5807: a process is a rectangle, a predefined one has bars at its sides, a manual operation is wider at its top. */
function outlineIso(type: string, width: number, height: number): Mark[] {
  if (type === 'manual task') return [path(`M0.5 0.5H${width - 0.5}L${width - 8} ${height - 0.5}H8Z`)]
  const plate = rect(width, height, {})
  return type === 'subprocess' ? [plate, line(`M6.5 0.5V${height - 0.5}M${width - 6.5} 0.5V${height - 0.5}`)] : [plate]
}

const EVENT_R = 15

function eventShape(node: FlowNode): Omit<Shape, 'outside'> {
  const size = 2 * EVENT_R
  const width = node.type === 'end' ? 3 : 1.25
  const rings =
    node.type === 'intermediate' ? [circle(EVENT_R, 1.25), circle(EVENT_R, 1.25, 3)] : [circle(EVENT_R, width)]
  const trigger = node.entity.fields['trigger']
  return {
    width: size,
    height: size,
    form: 'round',
    marks: [...rings, ...triggerMarks(typeof trigger === 'string' ? trigger : 'none', node.type === 'end')],
  }
}

/** What an event waits for or sends, by BPMN's signs; filled where it sends. */
function triggerMarks(trigger: string, sends: boolean): Mark[] {
  const fill = sends ? 'ink' : 'none'
  switch (trigger) {
    case 'message':
      return [
        path('M8.5 10.5H21.5V19.5H8.5Z', { fill: sends ? 'ink' : 'sheet', 'stroke-width': 1 }),
        path('M8.5 10.5L15 15.5L21.5 10.5', { fill: 'none', stroke: sends ? 'sheet' : 'ink', 'stroke-width': 1 }),
      ]
    case 'timer':
      return [kit.circle(15, 15, 6.5, { fill: 'sheet', stroke: 'ink', 'stroke-width': 1 }), line('M15 11V15L18 16', 1)]
    case 'error':
      return [path('M9.5 20L12.5 10.5L16.5 16L20.5 9.5L17.5 19.5L13.5 14.5Z', { fill, 'stroke-width': 1 })]
    case 'signal':
      return [path('M15 8.5L21 19.5H9Z', { fill, 'stroke-width': 1 })]
    default:
      return []
  }
}

const GATE = 44

function gatewayShape(node: FlowNode, set: ShapeSet, isCrossed: boolean): Omit<Shape, 'outside'> {
  const h = GATE / 2
  const plate = path(`M${h} 0.75L${GATE - 0.75} ${h}L${h} ${GATE - 0.75}L0.75 ${h}Z`)
  const sign = set === 'flowchart' || (node.type === 'exclusive' && !isCrossed) ? [] : gateSign(node.type, h)
  return { width: GATE, height: GATE, form: 'diamond', marks: [plate, ...sign] }
}

function gateSign(type: string, h: number): Mark[] {
  switch (type) {
    case 'parallel':
      return [line(`M${h - 9} ${h}H${h + 9}M${h} ${h - 9}V${h + 9}`, 2.5)]
    case 'inclusive':
      return [kit.circle(h, h, 8.5, { fill: 'none', stroke: 'ink', 'stroke-width': 2.5 })]
    case 'event-based':
      return [
        kit.circle(h, h, 10.5, { fill: 'none', stroke: 'ink', 'stroke-width': 1 }),
        line(`M${h} ${h - 7}L${h + 6.7} ${h - 2.2}L${h + 4.1} ${h + 5.7}H${h - 4.1}L${h - 6.7} ${h - 2.2}Z`, 1),
      ]
    default:
      return [line(`M${h - 6} ${h - 6}L${h + 6} ${h + 6}M${h + 6} ${h - 6}L${h - 6} ${h + 6}`, 2.5)]
  }
}

/** ISO 5807's parallel mode: two bars between which things are done at once. */
function bars(): Omit<Shape, 'outside'> {
  return { width: 12, height: GATE, form: 'box', marks: [line(`M2 0V${GATE}M10 0V${GATE}`, 1.75)] }
}

/** ISO 5807's terminator. */
function terminal(node: FlowNode): Shape {
  const fallback = node.type === 'start' ? 'Start' : node.type === 'end' ? 'End' : ''
  const lines = wrap(named(node) || fallback, TEXT.width - 8, TEXT.size, 'text400', 3)
  const widest = Math.max(30, ...lines.map((text) => textWidth(text, TEXT.size, 'text400')))
  const height = Math.max(30, lines.length * TEXT.line + 10)
  const width = Math.ceil(widest / 2) * 2 + 28
  const r = Math.min(height / 2, 18)
  return {
    width,
    height,
    form: 'box',
    marks: [rect(width, height, { rx: r }), ...textLines(lines, width / 2, height / 2)],
    outside: [],
  }
}

function dataShape(node: FlowNode, set: ShapeSet): Shape {
  const outside = wrap(named(node), NAME.width, NAME.size, 'text400', 2)
  if (node.type === 'store') {
    const [w, h] = [40, 36]
    const marks = [
      path(
        `M0.5 6V${h - 6}C0.5 ${h + 1.5} ${w - 0.5} ${h + 1.5} ${w - 0.5} ${h - 6}V6C${w - 0.5} -1.5 0.5 -1.5 0.5 6Z`,
      ),
      line(`M0.5 6C0.5 13 ${w - 0.5} 13 ${w - 0.5} 6`),
    ]
    return { width: w, height: h, form: 'box', marks, outside }
  }
  if (set === 'flowchart') {
    const [w, h] = [44, 34]
    return {
      width: w,
      height: h,
      form: 'box',
      marks: [path(`M0.5 0.5H${w - 0.5}V${h - 6}C${w * 0.72} ${h - 12} ${w * 0.35} ${h + 5} 0.5 ${h - 3}Z`)],
      outside,
    }
  }
  const [w, h] = [30, 38]
  return {
    width: w,
    height: h,
    form: 'box',
    marks: [path(`M0.5 0.5H${w - 10}L${w - 0.5} 10V${h - 0.5}H0.5Z`), line(`M${w - 10} 0.5V10H${w - 0.5}`)],
    outside,
  }
}
