import { nth } from '../../../graph'
import { flowchart, middleOfWay, type FlowShape, type Point } from '../../../layout'
import type { Day, Model, View } from '../../../model'
import { spacingOf, type Picture } from '../../../notation'
import {
  around,
  aroundPoints,
  kit,
  textWidth,
  wrap,
  type Box,
  type Item,
  type Link,
  type Mark,
  type Scene,
} from '../../../scene'
import { caseGestures } from '../usecases/gestures'
import {
  casesShown,
  isCase,
  type Actor,
  type CaseLink,
  type Subject,
  type UseCase,
  type UseCases,
} from '../usecases/structure'
import { ACTOR_HEIGHT, actorMarks } from './figures'
import { openHead } from './heads'

export const useCases: Picture = { ...caseGestures, draw, needs: ['use-case.subject', 'extend.condition'] }

const SPREAD = { tight: 0.5, normal: 0.8, airy: 1.4 } as const
const NAME = { size: 11.5, line: 15 } as const
const ELLIPSE = { least: 110, most: 150, pad: 22 } as const
const FRAME = { head: 24, pad: 14 } as const
const WORD = { size: 10, line: 12 } as const
const HOLD = 10
const KEYWORD = '«actor»'
const BOXED = { top: 18 } as const
const MOST = 600

/** A use case or an actor with its size. */
interface Shape {
  readonly one: Actor | UseCase
  readonly lines: readonly string[]
  /** An actor in a rectangle. */
  readonly isBoxed?: boolean
  readonly width: number
  readonly height: number
}

function shapeOf(one: Actor | UseCase, isBoxed: boolean): Shape {
  if (isCase(one)) {
    const lines = wrap(one.name, ELLIPSE.most - ELLIPSE.pad, NAME.size, 'text400', 3)
    const widest = Math.max(...lines.map((line) => textWidth(line, NAME.size, 'text400')))
    return {
      one,
      lines,
      width: Math.max(ELLIPSE.least, Math.ceil(widest) + 2 * ELLIPSE.pad),
      height: 26 + lines.length * NAME.line,
    }
  }
  const lines = wrap(one.name, 110, NAME.size, 'text700', 2)
  const widest = Math.max(24, ...lines.map((line) => textWidth(line, NAME.size, 'text700')))
  if (isBoxed) {
    const wide = Math.max(widest, textWidth(KEYWORD, WORD.size, 'text400'))
    return { one, isBoxed, lines, width: Math.ceil(wide) + 24, height: BOXED.top + lines.length * NAME.line + 8 }
  }
  return { one, lines, width: Math.ceil(widest) + 8, height: ACTOR_HEIGHT + 4 + lines.length * NAME.line }
}

/** Actors left and right of the subjects, use cases by what they include and what extends them. O(layout) */
function draw(model: Model, view: View, day: Day): Scene {
  const shown = casesShown(model, view, day)
  const everybody = [...shown.actors, ...shown.cases]
  if (everybody.length === 0) return NOTHING
  if (everybody.length > MOST)
    throw new RangeError(
      `${everybody.length.toLocaleString('en')} are too many for one picture: ${MOST} is the most. Show one subject`,
    )
  const isBoxed = view.options['actors'] === 'boxes'
  const shapes = everybody.map((one) => shapeOf(one, isBoxed))
  const index = new Map<Actor | UseCase, number>(everybody.map((one, at) => [one, at]))
  const right = rightHand(shown)
  const lanes = lanesOf(shown)
  const laneOf = (one: Actor | UseCase): number =>
    isCase(one)
      ? lanes.indexOf(shown.subjects.includes(one.subject as Subject) ? one.subject : undefined)
      : homeOf(one, shown, lanes)
  const edges = shown.links.map((link) => edgeOf(link, right, index))
  const shape: FlowShape = {
    nodes: shapes.map(({ one, width, height }) => ({
      lane: Math.max(0, laneOf(one)),
      phase: isCase(one) ? 1 : right.has(one) ? 2 : 0,
      halfU: width / 2,
      halfV: height / 2,
      form: isCase(one) ? ('round' as const) : ('box' as const),
    })),
    edges: edges.map(({ from, to, label }) => ({
      from,
      to,
      sort: 'flow' as const,
      ...(label.length === 0
        ? {}
        : {
            label: {
              u: Math.ceil(Math.max(...label.map((line) => textWidth(line, WORD.size, 'text400')))) + 4,
              v: label.length * WORD.line,
            },
          }),
    })),
    lanes: lanes.map((_, at) => ({ pool: at, least: 80 })),
    isThorough: true,
    isCentred: true,
    mostLooked: 4_000_000,
    apart: 20,
    spacing: SPREAD[spacingOf(view)],
  }
  const places = flowchart(shape)
  const boxes = shapes.map(({ width, height }, at): Box => {
    const { u, v } = nth(places.nodes, at)
    return { x: u - width / 2, y: v - height / 2, width, height }
  })
  const frames = framesOf(shown, shapes, boxes, places.lanes, lanes)
  const links = shown.links.map((link, at): Link => {
    const edge = nth(edges, at)
    const way = (places.ways[at] ?? []).map(({ u, v }): Point => ({ x: u, y: v }))
    const area = places.labels[at]
    const words = area
      ? { box: { x: area.u, y: area.v, width: area.du, height: area.dv }, lines: edge.label }
      : undefined
    const along = edge.isTurned ? way.toReversed() : way
    return {
      id: link.id,
      source: link.a.id,
      target: link.b.id,
      bounds: words
        ? around([aroundPoints(way, 8), words.box], 2)
        : aroundPoints(way.length > 0 ? way : [{ x: 0, y: 0 }], 8),
      marks: [
        ...lineMarks(link, along),
        ...(words
          ? kit.lines(words.box.x + 2, words.box.y + 9, WORD.line, words.lines, {
              fill: 'ink-quiet',
              'font-size': WORD.size,
            })
          : []),
      ],
    }
  })
  const items = [
    ...frames.map(({ subject, box }) => frameItem(subject, box)),
    ...shapes.map((one, at) => shapeItem(one, nth(boxes, at))),
    ...shown.links.map((link, at) =>
      linkItem(
        link,
        (places.ways[at] ?? []).map(({ u, v }) => ({ x: u, y: v })),
      ),
    ),
  ]
  return {
    bounds: around([...items.map(({ box }) => box), ...links.map(({ bounds }) => bounds)], 14),
    backdrop: frames.flatMap(({ subject, box }) => frameMarks(subject, box)),
    items,
    links,
    headline: headlineOf(shown),
    summary: `Use cases: ${shown.links
      .slice(0, 40)
      .map(({ a, sort, b }) => `${a.name} ${WORDS[sort]} ${b.name}`)
      .join('; ')}.`,
  }
}

const NOTHING: Scene = {
  bounds: { x: 0, y: 0, width: 400, height: 200 },
  backdrop: [],
  items: [],
  links: [],
  headline: 'no use cases',
  summary: 'No use cases yet.',
}
const WORDS: Readonly<Record<CaseLink['sort'], string>> = {
  participation: 'takes part in',
  include: 'includes',
  extend: 'extends',
  generalization: 'is a',
}

const count = (number: number, one: string): string => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
const headlineOf = ({ cases, actors }: UseCases): string =>
  `${count(cases.length, 'use case')}, ${count(actors.length, 'actor')}`

/** Each subject in a strip of its own, then what stands in none. */
function lanesOf({ subjects, cases }: UseCases): readonly (Subject | undefined)[] {
  const hasLoose = cases.some(({ subject }) => !subject || !subjects.includes(subject))
  return [...subjects, ...(hasLoose || subjects.length === 0 ? [undefined] : [])]
}

/** An actor stands beside the subject in most of whose use cases it takes part. */
function homeOf(one: Actor, { links }: UseCases, lanes: readonly (Subject | undefined)[]): number {
  const counts = lanes.map(
    (lane) =>
      links.filter(({ sort, a, b }) => sort === 'participation' && a === one && isCase(b) && b.subject === lane).length,
  )
  return Math.max(0, counts.indexOf(Math.max(...counts)))
}

/** Actors at the right: those who only take part in what is done for others already, or in what others include. */
function rightHand({ actors, links }: UseCases): ReadonlySet<Actor | UseCase> {
  const right = new Set<Actor | UseCase>()
  const taken = new Set<Actor | UseCase>()
  const deeper = new Set(links.flatMap(({ sort, a, b }) => (sort === 'include' ? [b] : sort === 'extend' ? [a] : [])))
  for (const one of actors) {
    const cases = links.flatMap(({ sort, a, b }) => (sort === 'participation' && a === one ? [b] : []))
    const isKind = links.some(({ sort, a, b }) => sort === 'generalization' && (a === one || b === one))
    if (!isKind && cases.length > 0 && cases.every((each) => taken.has(each) || deeper.has(each))) right.add(one)
    for (const each of cases) taken.add(each)
  }
  return right
}

interface Edge {
  readonly from: number
  readonly to: number
  readonly label: readonly string[]
  /** It is laid against its direction. */
  readonly isTurned: boolean
}

function edgeOf(
  { sort, a, b, relation }: CaseLink,
  right: ReadonlySet<Actor | UseCase>,
  index: ReadonlyMap<Actor | UseCase, number>,
): Edge {
  const at = (one: Actor | UseCase) => index.get(one) ?? 0
  const condition = relation.fields['condition']
  const label =
    sort === 'include'
      ? ['«include»']
      : sort === 'extend'
        ? [
            '«extend»',
            ...(typeof condition === 'string' && condition !== ''
              ? wrap(`[${condition}]`, 110, WORD.size, 'text400', 2)
              : []),
          ]
        : []
  // What extends stands behind what it extends, and an actor at the right behind its use cases.
  const isTurned =
    sort === 'extend' || (sort === 'participation' && right.has(a)) || (sort === 'generalization' && isCase(a))
  return isTurned ? { from: at(b), to: at(a), label, isTurned } : { from: at(a), to: at(b), label, isTurned }
}

function framesOf(
  { subjects }: UseCases,
  shapes: readonly Shape[],
  boxes: readonly Box[],
  lanes: readonly { readonly from: number; readonly to: number }[],
  list: readonly (Subject | undefined)[],
): readonly { readonly subject: Subject; readonly box: Box }[] {
  const all = shapes.flatMap(({ one }, at) => (isCase(one) ? [nth(boxes, at)] : []))
  const [left, right] = [Math.min(...all.map(({ x }) => x)), Math.max(...all.map(({ x, width }) => x + width))]
  return subjects.flatMap((subject) => {
    const lane = lanes[list.indexOf(subject)]
    if (!lane) return []
    const own = shapes.flatMap(({ one }, at) => (isCase(one) && one.subject === subject ? [nth(boxes, at)] : []))
    const top = Math.min(lane.from + 10, ...own.map(({ y }) => y - 12))
    const bottom = Math.max(lane.to - 8, ...own.map(({ y, height }) => y + height + 12))
    if (all.length === 0) return [{ subject, box: { x: 60, y: top, width: 180, height: bottom - top } }]
    const width = Math.max(right - left + 2 * FRAME.pad, textWidth(subject.name, 12, 'text700') + 28)
    return [{ subject, box: { x: left - FRAME.pad, y: top - FRAME.head, width, height: bottom - top + FRAME.head } }]
  })
}

function frameMarks({ name }: Subject, { x, y, width, height }: Box): Mark[] {
  return [
    kit.rect({ x, y, width, height }, { rx: 2, fill: 'sheet', stroke: 'outline', 'stroke-width': 1.2 }),
    kit.text(x + width / 2, y + 17, name, {
      fill: 'ink',
      'font-size': 12,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
}

const frameItem = ({ id, name }: Subject, box: Box): Item => ({
  id,
  facts: [id],
  label: `subject ${name}`,
  box,
  marks: [],
  ground: true,
  texts: [{ part: 'name', label: 'Subject', value: name, box: { x: 8, y: 3, width: box.width - 16, height: 19 } }],
})

function shapeItem({ one, lines, width, height, isBoxed }: Shape, box: Box): Item {
  const top = isCase(one) ? (height - lines.length * NAME.line) / 2 : isBoxed ? BOXED.top : ACTOR_HEIGHT + 4
  return {
    id: one.id,
    facts: [one.id],
    label: `${isCase(one) ? 'use case' : 'actor'} ${one.name}`,
    box,
    marks: [
      ...(isCase(one)
        ? [kit.path(ellipse(width, height), { fill: 'plate', stroke: 'outline', 'stroke-width': 1.2 })]
        : isBoxed
          ? boxedActor(width, height)
          : actorMarks(width / 2)),
      ...kit.lines(width / 2, top + 11, NAME.line, lines, {
        fill: 'ink',
        'font-size': NAME.size,
        'text-anchor': 'middle',
        ...(isCase(one) ? {} : { 'font-weight': 700 }),
      }),
    ],
    texts: [
      {
        part: 'name',
        label: isCase(one) ? 'Use case' : 'Actor',
        value: one.name,
        box: { x: 2, y: top - 2, width: width - 4, height: lines.length * NAME.line + 4 },
      },
    ],
    handles: [{ id: 'tie', box: { x: width - 6, y: height / 2 - 5, width: 8, height: 10 }, pulls: 'line' }],
    ...(isCase(one) && one.subject ? { parent: one.subject.id } : {}),
  }
}

const boxedActor = (width: number, height: number) => [
  kit.rect(
    { x: 0.6, y: 0.6, width: width - 1.2, height: height - 1.2 },
    { fill: 'plate', stroke: 'outline', 'stroke-width': 1.2 },
  ),
  kit.text(width / 2, 15, KEYWORD, { fill: 'ink-quiet', 'font-size': WORD.size, 'text-anchor': 'middle' }),
]

/** An ellipse that fills a box. */
const ellipse = (width: number, height: number): string => {
  const [rx, ry] = [width / 2 - 0.6, height / 2 - 0.6]
  return `M0.6 ${height / 2}A${rx} ${ry} 0 1 1 ${width - 0.6} ${height / 2}A${rx} ${ry} 0 1 1 0.6 ${height / 2}Z`
}

function lineMarks({ sort }: CaseLink, way: readonly Point[]): Mark[] {
  const [end, before] = [way.at(-1), way.at(-2)]
  if (!end || !before) return []
  const isDashed = sort === 'include' || sort === 'extend'
  const line = kit.path(kit.way(way, 8), {
    fill: 'none',
    stroke: 'line',
    'stroke-width': 1.2,
    ...(isDashed ? { 'stroke-dasharray': '5 3' } : {}),
  })
  if (sort === 'participation') return [line]
  if (sort === 'generalization')
    return [line, kit.path(kit.head(end, before, 13, 7), { fill: 'sheet', stroke: 'line', 'stroke-width': 1.2 })]
  return [line, openHead(end, before)]
}

function linkItem({ id, sort, a, b }: CaseLink, way: readonly Point[]): Item {
  const middle = middleOfWay(way) ?? { x: 0, y: 0 }
  return {
    id,
    facts: [id],
    label: `${a.name} ${WORDS[sort]} ${b.name}`,
    box: { x: middle.x - HOLD / 2, y: middle.y - HOLD / 2, width: HOLD, height: HOLD },
    marks: [],
    texts: [],
    parent: a.id,
  }
}
