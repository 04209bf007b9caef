import type { Day, Id, Model } from '../../../model'
import { kit, textWidth, wrap, type Item, type Mark, type Role } from '../../../scene'
import { loadsOf, WEEK, type WeekLoad } from '../load'
import type { Plan } from '../plan'
import { isoWeek, type Axis } from './axis'
import { NUMBER, TABLE } from './barsAxis'

const HEAD = 26
const ROW = 28
/** Height of all the hours of a week, and of the most that is drawn: above it stands a figure. */
const FULL = 11
const MOST = 17

interface LoadRows {
  readonly items: readonly Item[]
  readonly bottom: number
  readonly summary: string
}

/**
 * The load of each person of a plan beneath it, a column a week: what is within the hours of the week, and what is more than they hold. It counts
 * all the plans that a person works in. O(people · weeks).
 */
export function loadRows(model: Model, plan: Plan, axis: Axis, day: Day, top: number): LoadRows | undefined {
  const mine = new Set(plan.list.flatMap(({ id }) => model.reaching(id, 'assigned').map(({ source }) => source)))
  const people: WeekLoad[][] = []
  // They come person by person.
  for (const load of loadsOf(model, day)) {
    if (!mine.has(load.who.id)) continue
    if (people.at(-1)?.[0]?.who === load.who) people.at(-1)?.push(load)
    else people.push([load])
  }
  if (people.length === 0) return undefined
  const items = people.flatMap((weeks, row) => {
    const y = top + HEAD + row * ROW
    return [nameItem(weeks, y, row), columnsItem(weeks, axis, y)]
  })
  const over = people.filter((weeks) => weeks.some(isOver)).length
  return {
    items: [headItem(plan, top), ...items],
    bottom: top + HEAD + people.length * ROW,
    summary: `Beneath it the load of ${people.length === 1 ? '1 person' : `${people.length} people`} by week${over > 0 ? `, ${over} with more than a week holds` : ''}.`,
  }
}

/** A hundredth above is a matter of rounding. */
const isOver = ({ minutes, full }: WeekLoad): boolean => minutes > full * 1.01
const percentOf = ({ minutes, full }: WeekLoad): number => Math.round((minutes / full) * 100)

const text = kit.texts({ fill: 'ink', 'font-size': 12 })
const ground = (height: number, fill: Role): Mark[] => [
  kit.rect({ x: 0, y: 0, width: TABLE, height }, { fill, stroke: 'none' }),
  kit.path(`M0 ${height}H${TABLE}M${TABLE - 0.5} 0V${height}`, {
    stroke: 'hairline',
    'stroke-width': 0.8,
    fill: 'none',
  }),
]

const headItem = (plan: Plan, top: number): Item => ({
  id: 'loads' as Id,
  facts: plan.plan ? [plan.plan.id] : [],
  label: 'Load by week',
  box: { x: 0, y: top, width: TABLE, height: HEAD },
  ground: true,
  stays: 'left',
  marks: [...ground(HEAD, 'head'), text(12, 17, 'Load by week', { fill: 'ink-quiet', 'font-size': 11 })],
  texts: [],
})

function nameItem(weeks: readonly WeekLoad[], y: number, row: number): Item {
  const [{ who } = { who: undefined }] = weeks
  const most = Math.max(...weeks.map(percentOf))
  const figure = `${most} %`
  const figureRoom = textWidth(figure, 11, 'mono400') + 20
  const left = NUMBER + 8
  const name = wrap(who?.name ?? '', TABLE - left - figureRoom, 12, 'text400', 1)[0] ?? ''
  const over = weeks.some(isOver)
  return {
    id: `load ${who?.id ?? ''}` as Id,
    facts: who ? [who.id] : [],
    label: `${who?.name ?? ''}, at most ${most} %`,
    box: { x: 0, y, width: TABLE, height: ROW },
    stays: 'left',
    marks: [
      ...ground(ROW, row % 2 === 0 ? 'sheet' : 'plate'),
      text(left, 18, name),
      text(TABLE - 12, 18, figure, {
        'text-anchor': 'end',
        'font-family': 'mono',
        'font-size': 11,
        fill: over ? 'error' : 'ink-quiet',
        ...(over ? { 'font-weight': 700 } : {}),
      }),
    ],
    texts: [],
  }
}

function columnsItem(weeks: readonly WeekLoad[], axis: Axis, y: number): Item {
  const seen = weeks.filter(({ week }) => week + WEEK > axis.from && week < axis.to)
  const at = (week: number) => [Math.max(axis.x(week), TABLE) - TABLE, axis.x(week + WEEK) - TABLE] as const
  const base = ROW - 3
  let within = ''
  let above = ''
  const figures: Mark[] = []
  for (const one of seen) {
    const [a, b] = at(one.week)
    const gap = b - a > 6 ? 1 : 0
    const [x, width] = [a + gap, Math.max(0.5, b - a - 2 * gap)]
    const height = Math.min(MOST, (one.minutes / one.full) * FULL)
    const low = Math.min(FULL, height)
    within += `M${x} ${base}h${width}v${-low}h${-width}Z`
    if (!isOver(one)) continue
    above += `M${x} ${base - FULL}h${width}v${FULL - height}h${-width}Z`
    const figure = String(percentOf(one))
    if (textWidth(figure, 9, 'text400') <= width + 4)
      figures.push(
        text(x + width / 2, base - height - 2, figure, { 'text-anchor': 'middle', 'font-size': 9, fill: 'error' }),
      )
  }
  const full = base - FULL
  const [{ who } = { who: undefined }] = weeks
  const words = seen.filter(isOver).map((one) => `w${isoWeek(one.week)} ${percentOf(one)} %`)
  return {
    id: `loads ${who?.id ?? ''}` as Id,
    facts: who ? [who.id] : [],
    label: `Load of ${who?.name ?? ''}${words.length > 0 ? `: ${words.join(', ')}` : ''}`,
    ground: true,
    box: { x: TABLE, y, width: axis.width, height: ROW },
    marks: [
      kit.path(`M0 ${ROW}H${axis.width}`, { stroke: 'hairline', 'stroke-width': 0.6, fill: 'none' }),
      kit.path(within || 'M0 0', { fill: 'bar', stroke: 'none' }),
      kit.path(above || 'M0 0', { fill: 'error', stroke: 'none' }),
      kit.path(`M0 ${full}H${axis.width}`, {
        stroke: 'outline',
        'stroke-width': 0.8,
        'stroke-dasharray': '3 3',
        fill: 'none',
      }),
      ...figures,
    ],
    texts: [],
  }
}
