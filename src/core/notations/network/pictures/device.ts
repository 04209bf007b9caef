import { kit, textWidth, type Mark, type Role } from '../../../scene'
import type { DeviceType } from '../kinds'

/** How the card of a device is drawn, in every picture that has one. */

export const CARD = { least: 112, most: 200, height: 44, head: 22 } as const
const NAME = { size: 11.5, left: 25 } as const
const LINE = { size: 10.5, left: 8 } as const

/** Signs of the sorts of devices, drawn within 12 × 11 px. */
const SIGNS: Readonly<Record<DeviceType | 'device', string>> = {
  router: 'M1 5.5H11M3.6 2.9L1 5.5L3.6 8.1M8.4 2.9L11 5.5L8.4 8.1',
  switch: 'M1 3H11V8.5H1ZM3.4 5.7h1M5.6 5.7h1M7.8 5.7h1',
  firewall: 'M1 1.5H11V9.8H1ZM1 5.6H11M4.4 1.5V5.6M7.6 5.6V9.8',
  server: 'M2.5 1H9.5V10.2H2.5ZM4.4 3.4H7.6M4.4 5.4H7.6',
  storage: 'M2 2.7C2 .6 10 .6 10 2.7V8.5C10 10.6 2 10.6 2 8.5ZM2 2.7C2 4.6 10 4.6 10 2.7',
  'access point': 'M6 9.6V7.6M3.7 6.2C4.9 5 7.1 5 8.3 6.2M1.7 4.2C4 1.9 8 1.9 10.3 4.2',
  endpoint: 'M1.5 1.8H10.5V7.6H1.5ZM6 7.6V9.8M3.8 9.8H8.2',
  radio: 'M6 5.2L3.2 10.2M6 5.2L8.8 10.2M3.6 1.4C2.4 2.6 2.4 4.4 3.6 5.6M8.4 1.4C9.6 2.6 9.6 4.4 8.4 5.6',
  'cloud service': 'M3.2 9.2C.6 9.2 .6 5.4 3 5.2C3 2 7.8 1.6 8.4 4.4C11.4 4.2 11.6 9.2 8.8 9.2Z',
  device: 'M2 2H10V9.2H2Z',
}

export const signOf = (type: DeviceType | undefined, stroke: Role, x: number, y: number): Mark =>
  kit.path(shifted(SIGNS[type ?? 'device'], x, y), {
    fill: 'none',
    stroke,
    'stroke-width': 1.1,
    'stroke-linejoin': 'round',
  })

/** Path data of absolute points, and of steps to the right, elsewhere. */
function shifted(d: string, dx: number, dy: number): string {
  return d.replace(/([MLHVCZh])([^MLHVCZh]*)/g, (_, command: string, rest: string) => {
    if (command === 'Z' || command === 'h') return command + rest
    const numbers = rest.match(/-?(?:\d+\.?\d*|\.\d+)/g)?.map(Number) ?? []
    const moved = numbers.map((value, at) => {
      const across = command === 'H' || (command !== 'V' && at % 2 === 0)
      return Number((value + (across ? dx : dy)).toFixed(2))
    })
    return command + moved.join(' ')
  })
}

/** How wide a card has to be for its name and its second line. */
export const widthFor = (name: string, line: string): number =>
  Math.min(
    CARD.most,
    Math.max(
      CARD.least,
      Math.ceil(
        Math.max(
          textWidth(name, NAME.size, 'mono400') + NAME.left + 12,
          textWidth(line, LINE.size, 'mono400') + LINE.left + 24,
        ),
      ),
    ),
  )

export interface CardLook {
  readonly name: string
  readonly line: string
  readonly type: DeviceType | undefined
  readonly critical: boolean
  readonly state: 'up' | 'down' | 'cut off'
  readonly width: number
  readonly height: number
}

/** A card: a head with its sign and name, beneath it an address; a triangle where it is critical. What is down is struck through, what is cut off pale and dashed. */
export function cardMarks({ name, line, type, critical, state, width, height }: CardLook): Mark[] {
  const room = width - NAME.left - 8
  const isDown = state === 'down'
  const marks: Mark[] = [
    kit.rect(
      { x: 0.5, y: 0.5, width: width - 1, height: height - 1 },
      {
        rx: 3,
        fill: 'plate',
        stroke: isDown ? 'error' : 'outline',
        'stroke-width': isDown ? 1.6 : 1,
        ...(state === 'cut off' ? { 'stroke-dasharray': '4 3' } : {}),
      },
    ),
    kit.path(`M1 ${CARD.head}V4Q1 1 4 1H${width - 4}Q${width - 1} 1 ${width - 1} 4V${CARD.head}Z`, {
      fill: 'head',
      stroke: 'none',
    }),
    kit.path(`M1 ${CARD.head}H${width - 1}`, { fill: 'none', stroke: 'hairline' }),
    signOf(type, isDown ? 'error' : 'ink', 8, 6),
    kit.text(NAME.left, 15.5, clipped(name, room, NAME.size), {
      fill: 'ink',
      'font-family': 'mono',
      'font-size': NAME.size,
      'font-weight': 700,
    }),
  ]
  if (line !== '')
    marks.push(
      kit.text(LINE.left, 36, clipped(line, width - LINE.left - (critical ? 22 : 8), LINE.size), {
        fill: 'ink-quiet',
        'font-family': 'mono',
        'font-size': LINE.size,
      }),
    )
  if (critical)
    marks.push(
      kit.path(`M${width - 18} ${height - 9}H${width - 8}L${width - 13} ${height - 17}Z`, {
        fill: 'none',
        stroke: 'ink',
        'stroke-width': 1.2,
      }),
    )
  if (isDown)
    marks.push(
      kit.path(`M8 ${height - 5}L${width - 8} ${CARD.head + 5}`, {
        fill: 'none',
        stroke: 'error',
        'stroke-width': 1.8,
      }),
    )
  return state === 'cut off' ? [kit.group(marks, { opacity: 0.42 })] : marks
}

function clipped(text: string, room: number, size: number): string {
  if (textWidth(text, size, 'mono400') <= room) return text
  let short = text
  while (short.length > 1 && textWidth(`${short}…`, size, 'mono400') > room) short = short.slice(0, -1)
  return `${short}…`
}
