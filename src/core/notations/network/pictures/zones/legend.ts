import { kit, textWidth, type Mark } from '../../../../scene'
import { capacityOf, type Cable, type Device, type Zone } from '../../structure'
import { hatch } from './ground'
import { tip, WEIGHTS, weightOf } from './lines'

interface Shown {
  readonly zones: readonly Zone[]
  readonly cables: readonly Cable[]
  readonly devices: readonly Device[]
  readonly flows: boolean
  readonly ways: boolean
}

interface Entry {
  readonly words: string
  readonly width: number
  readonly marks: (x: number, y: number) => readonly Mark[]
}

const ROW = 20
const TRUST_WORDS = { none: 'no trust', low: 'low trust', medium: 'medium trust', high: 'high trust' } as const

/** What the signs of the picture mean, as far as they are in it: in rows no wider than the picture. */
export function legendMarks(shown: Shown, left: number, top: number, width: number): { marks: Mark[]; height: number } {
  const entries = entriesOf(shown)
  if (entries.length === 0) return { marks: [], height: 0 }
  const marks: Mark[] = [kit.path(`M${left} ${top}H${left + width - 4}`, { fill: 'none', stroke: 'hairline' })]
  let [x, y] = [left, top + 14]
  for (const { words, width: sign, marks: drawn } of entries) {
    const whole = sign + 6 + textWidth(words, 10.5, 'text400') + 22
    if (x > left && x + whole > left + width) {
      x = left
      y += ROW
    }
    marks.push(...drawn(x, y), kit.text(x + sign + 6, y + 4, words, { fill: 'ink-quiet', 'font-size': 10.5 }))
    x += whole
  }
  return { marks, height: y + ROW - top + 6 }
}

function entriesOf({ zones, cables, devices, flows, ways }: Shown): Entry[] {
  const trusts = (['none', 'low', 'medium', 'high'] as const).filter((trust) =>
    zones.some((zone) => zone.trust === trust),
  )
  const weights = WEIGHTS.filter(([, weight]) => cables.some((cable) => weightOf(capacityOf(cable)) === weight))
  return [
    ...trusts.map((trust): Entry => ({
      words: TRUST_WORDS[trust],
      width: 24,
      marks: (x, y) => {
        const box = { x, y: y - 7, width: 24, height: 14 }
        return [
          kit.rect(box, { fill: 'sheet', stroke: 'none' }),
          ...hatch(box, trust),
          kit.rect(box, { fill: 'none', stroke: 'outline' }),
        ]
      },
    })),
    ...weights.map(([, weight, words]): Entry => ({
      words,
      width: 24,
      marks: (x, y) => [kit.path(`M${x} ${y}H${x + 24}`, { fill: 'none', stroke: 'line', 'stroke-width': weight })],
    })),
    ...(flows && cables.length > 0
      ? [
          {
            words: 'which way flows go',
            width: 24,
            marks: (x: number, y: number) => [
              kit.path(`M${x} ${y}H${x + 20}`, { fill: 'none', stroke: 'line', 'stroke-width': 1.4 }),
              tip({ x: x + 24, y }, { x, y }, 'ink'),
            ],
          },
        ]
      : []),
    ...(ways
      ? [
          {
            words: 'shortest way',
            width: 24,
            marks: (x: number, y: number) => [
              kit.path(`M${x} ${y}H${x + 24}`, { fill: 'none', stroke: 'wash', 'stroke-width': 11 }),
              kit.path(`M${x} ${y}H${x + 24}`, { fill: 'none', stroke: 'action', 'stroke-width': 2.6 }),
            ],
          },
          {
            words: 'a way apart from it',
            width: 24,
            marks: (x: number, y: number) => [
              kit.path(`M${x} ${y}H${x + 24}`, { fill: 'none', stroke: 'wash', 'stroke-width': 11 }),
              kit.path(`M${x} ${y}H${x + 24}`, {
                fill: 'none',
                stroke: 'action',
                'stroke-width': 1.4,
                'stroke-dasharray': '9 4',
              }),
            ],
          },
          {
            words: 'without it there is no way',
            width: 16,
            marks: (x: number, y: number) => [
              kit.path(`M${x + 5} ${y - 7}V${y + 7}M${x + 11} ${y - 7}V${y + 7}`, {
                fill: 'none',
                stroke: 'ink',
                'stroke-width': 2,
              }),
            ],
          },
        ]
      : []),
    ...(devices.some(({ critical }) => critical)
      ? [
          {
            words: 'critical',
            width: 12,
            marks: (x: number, y: number) => [
              kit.path(`M${x + 1} ${y + 4}H${x + 11}L${x + 6} ${y - 4}Z`, {
                fill: 'none',
                stroke: 'ink',
                'stroke-width': 1.2,
              }),
            ],
          },
        ]
      : []),
  ]
}
