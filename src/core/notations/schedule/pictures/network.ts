import { flowchart, type FlowShape, type Spot } from '../../../layout'
import { counted, asDay, dayInWords, type Day, type Id, type Model, type View } from '../../../model'
import { spacingOf, type Picture } from '../../../notation'
import { aroundPoints, kit, wrap, type Item, type Link, type Mark, type Paint, type Scene } from '../../../scene'
import { network as gestures } from '../gestures'
import { durationWords, inDays, momentText, planShown, textOf, typeOfLink, type Plan, type Work } from '../plan'
import { workTurns } from '../turns'
import { headlineOf } from './bars'
import { PLAN_NEEDS } from './needs'

export const network: Picture = {
  ...gestures,
  draw: drawNetwork,
  turns: workTurns,
  needs: PLAN_NEEDS,
}

const BOX = { width: 172, height: 74 } as const
/** Tasks hang together by many lines: they stand nearer than the steps of a process. */
const SPREAD = { tight: 0.4, normal: 0.65, airy: 1.3 } as const
const MARK = { width: 116, height: 46 } as const
const EDGE = 18
const MARGIN = 20
const LABEL = 30

/** O(layout). */
function drawNetwork(model: Model, view: View, day: Day): Scene {
  const plan = planShown(model, view, day)
  const works = plan.list.filter(({ kind }) => kind !== 'group')
  const index = new Map(works.map(({ id }, i) => [id, i]))
  const down = view.options['runs'] === 'down'
  const size = (work: Work) => (work.kind === 'milestone' ? MARK : BOX)
  const edges = plan.links.flatMap((link) => {
    const [from, to] = [index.get(link.source), index.get(link.target)]
    return from === undefined || to === undefined ? [] : [{ link, from, to }]
  })
  const shape: FlowShape = {
    nodes: works.map((work) => {
      const { width, height } = size(work)
      return {
        lane: 0,
        phase: -1,
        halfU: (down ? height : width) / 2,
        halfV: (down ? width : height) / 2,
        form: 'box' as const,
      }
    }),
    edges: edges.map(({ link, from, to }) => {
      const words = wordsOf(link)
      const label =
        words === '' ? undefined : { u: down ? 14 : LABEL + words.length * 3, v: down ? LABEL + words.length * 3 : 14 }
      return { from, to, sort: 'flow' as const, ...(label ? { label } : {}) }
    }),
    lanes: [{ pool: 0, least: 0 }],
    spacing: SPREAD[spacingOf(view)],
  }
  const places = flowchart(shape)
  const at = ({ u, v }: Spot) => (down ? { x: MARGIN + v, y: MARGIN + u } : { x: MARGIN + u, y: MARGIN + v })
  const items = works.map((work, i): Item => {
    const { x, y } = at(places.nodes[i] ?? { u: 0, v: 0 })
    const { width, height } = size(work)
    return boxItem(work, { x: x - width / 2, y: y - height / 2, width, height })
  })
  const links = edges.map(({ link, from, to }, i): Link => {
    const way = (places.ways[i] ?? []).map(at)
    const strong = works[from]?.critical === true && works[to]?.critical === true
    const area = places.labels[i]
    const spot = area && at({ u: area.u + area.du / 2, v: area.v + area.dv / 2 })
    return {
      id: link.id,
      source: link.source,
      target: link.target,
      bounds: aroundPoints(way.length > 0 ? way : [{ x: 0, y: 0 }], 6),
      marks: [
        ...kit.arrow(way, strong ? 'ink' : 'line', { width: strong ? 1.6 : 1, length: 6, half: 3.4 }),
        ...(spot
          ? [
              text(spot.x, spot.y + 4, wordsOf(link), {
                'text-anchor': 'middle',
                'font-family': 'mono',
                'font-size': 10,
              }),
            ]
          : []),
      ],
    }
  })
  const [length, breadth] = [places.length, places.breadth]
  return {
    bounds: {
      x: 0,
      y: 0,
      width: (down ? breadth : length) + 2 * MARGIN,
      height: (down ? length : breadth) + 2 * MARGIN,
    },
    backdrop: [],
    items,
    links,
    headline: headlineOf(plan),
    summary: `A network of ${counted(works.length, 'task')}: ${pathWords(plan)}.`,
  }
}

const pathWords = (plan: Plan): string =>
  `critical are ${plan.list
    .filter(({ critical, kind }) => critical && kind !== 'group')
    .map(({ entity }) => entity.name)
    .slice(0, 30)
    .join(', ')}`

/** What a line says besides “starts after the end”. */
function wordsOf(link: Plan['links'][number]): string {
  const type = typeOfLink(link)
  const lag = textOf(link, 'lag')
  const signed = lag === undefined || /^0/.test(lag) ? '' : lag.startsWith('-') ? lag : `+${lag}`
  return `${type === 'FS' ? '' : type}${signed}`
}

const text = kit.texts({ fill: 'ink-quiet', 'font-size': 11 })

/** `24 Nov 26`, where `2026-11-24` would not fit. */
const shortDay = (moment: string): string => dayInWords(asDay(moment.slice(0, 10))).replace(/ \d\d(\d\d)$/, ' $1')

function boxItem(work: Work, box: Item['box']): Item {
  const { entity, time, critical, kind } = work
  const { width, height } = box
  const start = (at: number) => shortDay(momentText(at, time, 'start'))
  const end = (at: number) => shortDay(momentText(at, time, 'finish'))
  const small = { 'font-size': 10.5 }
  const marks: Mark[] = []
  const outline = (inset: number, rx: number, attrs: Paint): Mark =>
    kit.rect({ x: inset, y: inset, width: width - 2 * inset, height: height - 2 * inset }, { rx, ...attrs })
  if (critical) marks.push(outline(-3, 6, { fill: 'none', stroke: 'ink', 'stroke-width': 1.4 }))
  marks.push(outline(0, 3, { fill: 'sheet', stroke: critical ? 'ink' : 'outline', 'stroke-width': 1.2 }))
  if (kind === 'milestone') {
    marks.push(kit.path('M13 16l7 7l-7 7l-7 -7Z', { fill: 'ink', stroke: 'none' }))
    const names = wrap(entity.name, width - 34, 11.5, 'text700', 2)
    names.forEach((words, i) =>
      marks.push(
        text(27, (names.length === 1 ? 19 : 14) + i * 13, words, {
          fill: 'ink',
          'font-weight': 700,
          'font-size': 11.5,
        }),
      ),
    )
    marks.push(text(27, 40, end(work.finish), small))
  } else {
    marks.push(
      kit.path(`M0 ${EDGE}H${width}M0 ${height - EDGE}H${width}`, {
        stroke: 'hairline',
        'stroke-width': 1,
        fill: 'none',
      }),
    )
    marks.push(
      text(7, 13, start(work.start), small),
      text(width / 2, 13, durationWords(work), { ...small, 'text-anchor': 'middle', fill: 'ink' }),
      text(width - 7, 13, end(work.finish), { ...small, 'text-anchor': 'end' }),
      text(7, height - 6, start(work.lateStart), small),
      text(width / 2, height - 6, `float ${inDays(work.totalFloat, time)}d`, {
        ...small,
        'text-anchor': 'middle',
        fill: 'ink',
      }),
      text(width - 7, height - 6, end(work.lateFinish), { ...small, 'text-anchor': 'end' }),
    )
    const names = wrap(`${work.number} ${entity.name}`, width - 14, 12, 'text700', 2)
    names.forEach((words, i) =>
      marks.push(
        text(width / 2, height / 2 + (names.length === 1 ? 4 : -3) + i * 14, words, {
          fill: 'ink',
          'font-weight': 700,
          'font-size': 12,
          'text-anchor': 'middle',
        }),
      ),
    )
  }
  return {
    id: work.id as Id,
    facts: [work.id],
    label: `${work.number} ${entity.name}`,
    box,
    marks,
    texts: [
      {
        part: 'name',
        value: entity.name,
        label: 'Task',
        box: { x: 4, y: height / 2 - 12, width: width - 8, height: 24 },
      },
    ],
  }
}
