import { kit, textWidth, wrap, type Mark } from '../../../../scene'
import type { Trust } from '../../kinds'
import type { Area } from './boxes'

const TAB = { height: 16, size: 10.5, pad: 10, gap: 9 } as const

export const tabWidth = (name: string, note: string): number =>
  Math.ceil(
    2 * TAB.pad +
      textWidth(name, TAB.size, 'text700') +
      (note === '' ? 0 : TAB.gap + textWidth(note, TAB.size - 1, 'text400')) +
      14,
  )

/** The ground of a box: a frame with a tab, filled by how far it is trusted; `coarse` is 1 or more, for what is mostly looked at from afar. */
export function groundMarks(area: Area, trust: Trust | 'unstated', name: string, note: string, coarse = 1): Mark[] {
  const { x, y, width, height } = area
  const tab = Math.min(width, tabWidth(name, note))
  const words = wrap(name, tab - 2 * TAB.pad, TAB.size, 'text700', 1)[0] ?? ''
  const isFirm = trust !== 'unstated'
  return [
    kit.rect(area, { rx: 2, fill: 'sheet', stroke: 'none' }),
    ...hatch(area, trust, coarse),
    kit.path(
      `M${x} ${y}V${y - TAB.height + 2}Q${x} ${y - TAB.height} ${x + 2} ${y - TAB.height}H${x + tab - 2}Q${x + tab} ${y - TAB.height} ${x + tab} ${y - TAB.height + 2}V${y}Z`,
      {
        fill: 'head',
        stroke: 'outline',
        'stroke-width': 1,
      },
    ),
    kit.rect(
      { x, y, width, height },
      { rx: 2, fill: 'none', stroke: 'outline', 'stroke-width': 1, ...(isFirm ? {} : { 'stroke-dasharray': '4 3' }) },
    ),
    kit.text(x + TAB.pad, y - 4.5, words, { fill: 'ink', 'font-size': TAB.size, 'font-weight': 700 }),
    ...(note === ''
      ? []
      : [
          kit.text(x + TAB.pad + textWidth(words, TAB.size, 'text700') + TAB.gap, y - 4.5, note, {
            fill: 'ink-quiet',
            'font-size': TAB.size - 1,
          }),
        ]),
  ]
}

/** How coarse the grounds of a picture are: from so many px on the stripes and dots of a large one would run together when all of it is seen. */
const FINE_UP_TO = 2800
export const coarsenessFor = (width: number, height: number): number =>
  Math.min(6, Math.max(1, Math.max(width, height) / FINE_UP_TO) ** 1.5)

const tidy = (value: number): number => Math.round(value * 10) / 10

const STRIPE = 9
const DOT = 11

/** Stripes for no trust, dots for little, wider dots for some, nothing for much: it reads in grey print. */
export function hatch({ x, y, width, height }: Area, trust: Trust | 'unstated', coarse = 1): Mark[] {
  if (trust === 'none') {
    const step = tidy(STRIPE * coarse)
    let d = ''
    for (let at = step; at < width + height; at += step) {
      const [x1, y1] = at <= height ? [0, at] : [at - height, height]
      const [x2, y2] = at <= width ? [at, 0] : [width, at - width]
      d += `M${x + x1} ${y + y1}L${x + x2} ${y + y2}`
    }
    return [kit.path(d, { fill: 'none', stroke: 'hairline', 'stroke-width': tidy(Math.sqrt(coarse)) })]
  }
  if (trust !== 'low' && trust !== 'medium') return []
  const step = tidy((trust === 'low' ? DOT : 2 * DOT) * coarse)
  let d = ''
  for (let at = step / 2; at < height; at += step) d += `M${x + step / 2} ${y + at}H${x + width - 2}`
  return [
    kit.path(d, {
      fill: 'none',
      stroke: 'outline',
      'stroke-width': tidy(1.3 * Math.sqrt(coarse)),
      'stroke-dasharray': `0.1 ${step}`,
      'stroke-linecap': 'round',
    }),
  ]
}
