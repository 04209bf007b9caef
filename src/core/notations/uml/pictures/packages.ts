import { cyclicComponents, nth } from '../../../graph'
import { flowchart, type FlowShape, type Point } from '../../../layout'
import type { Day, Id, Model, View } from '../../../model'
import { spacingOf, type Picture } from '../../../notation'
import { aroundPoints, kit, textWidth, wrap, type Item, type Link, type Mark, type Scene } from '../../../scene'
import { packages as gestures } from '../gestures'
import { packageLinks } from '../packages'
import { classesOn, shownIn, type Package } from '../structure'
import { openHead } from './heads'

export const packages: Picture = {
  ...gestures,
  draw,
  needs: [
    'class beside',
    'class beyond',
    'class name',
    'class.package',
    'attribute beside',
    'attribute beyond',
    'attribute.class',
    'attribute.type',
    'operation beside',
    'operation beyond',
    'operation.class',
    'operation.type',
    'operation.parameters',
    'association beside',
    'association beyond',
    'generalization beside',
    'generalization beyond',
    'realization beside',
    'realization beyond',
    'dependency beside',
    'dependency beyond',
  ],
}

const SPREAD = { tight: 0.6, normal: 1, airy: 1.7 } as const
const TAB = { height: 15, least: 46 } as const
const NAME = { size: 12, line: 18 } as const
const CLASS = { size: 10.5, line: 14 } as const
const PAD = 10
/** From one line at a side to the next: room for open heads. */
const APART = 20
const MOST_CLASSES = 8
/** So many dependencies are drawn: of more, those in circles and then the heaviest; the headline says so. */
const MOST_LINES = 600
const WIDTH = { least: 120, most: 240 } as const

/** What stands in the folder of a package. */
interface Folder {
  readonly one: Package
  readonly name: string
  readonly classes: readonly string[]
  readonly width: number
  readonly height: number
}

function folderOf(one: Package, hasClasses: boolean): Folder {
  const outer: string[] = []
  for (let at = one.parent; at; at = at.parent) outer.unshift(at.name)
  const name = [...outer, one.name].join('::')
  const all = one.classes.map((each) => each.name)
  const classes = !hasClasses
    ? []
    : all.length <= MOST_CLASSES
      ? all
      : [...all.slice(0, MOST_CLASSES - 1), `… and ${all.length - MOST_CLASSES + 1} more`]
  const widths = [
    textWidth(name, NAME.size, 'text700'),
    ...classes.map((each) => textWidth(each, CLASS.size, 'text400')),
  ]
  return {
    one,
    name,
    classes,
    width: Math.min(WIDTH.most, Math.max(WIDTH.least, Math.ceil(Math.max(...widths)) + 2 * PAD)),
    height: TAB.height + NAME.line + 8 + classes.length * CLASS.line + (classes.length > 0 ? 8 : 0),
  }
}

/** Packages as a flowchart that runs down to what is depended on. O(layout) */
function draw(model: Model, view: View, day: Day): Scene {
  const all = classesOn(model, day)
  const shown = shownIn(model, view, day)
  const list = shown.within ? [shown.within, ...shown.packages] : shown.packages
  const { leads } = packageLinks(all)
  const folders = list.map((one) => folderOf(one, view.options['classes'] !== false))
  const index = new Map(list.map((one, at) => [one, at]))
  const dependencies = list.flatMap((from) =>
    [...(leads.get(from) ?? [])].flatMap(([to, by]) => (index.has(to) ? [{ from, to, by }] : [])),
  )
  const circleOf = new Map<Package, number>()
  cyclicComponents(list, (one) => leads.get(one)?.keys() ?? []).forEach((circle, number) => {
    for (const one of circle) circleOf.set(one, number)
  })
  const inCircle = (a: Package, b: Package) => circleOf.has(a) && circleOf.get(a) === circleOf.get(b)
  const weight = ({ from, to, by }: (typeof dependencies)[number]) => by.length + (inCircle(from, to) ? 1e6 : 0)
  const edges =
    dependencies.length <= MOST_LINES
      ? dependencies
      : [...dependencies].sort((a, b) => weight(b) - weight(a)).slice(0, MOST_LINES)
  const shape: FlowShape = {
    nodes: folders.map(({ width, height }) => ({
      lane: 0,
      phase: -1,
      halfU: height / 2,
      halfV: width / 2,
      form: 'box' as const,
    })),
    edges: edges.map(({ from, to, by }) => ({
      from: index.get(from) ?? 0,
      to: index.get(to) ?? 0,
      sort: 'flow' as const,
      label: { u: 12, v: Math.ceil(textWidth(String(by.length), 10, 'text400')) },
    })),
    lanes: [{ pool: 0, least: 90 }],
    isThorough: true,
    isCentred: true,
    mostLooked: 6_000_000,
    apart: APART,
    spacing: SPREAD[spacingOf(view)],
  }
  const places = flowchart(shape)
  const boxes = folders.map(({ width, height }, at) => {
    const { u, v } = nth(places.nodes, at)
    return { x: v - width / 2, y: u - height / 2, width, height }
  })
  const links = edges.map(({ from, to, by }, at): Link => {
    const ends = [from, to].map((one) => nth(boxes, index.get(one) ?? 0))
    const way = (places.ways[at] ?? []).map(({ u, v }): Point => ontoBody({ x: v, y: u }, ends))
    const area = places.labels[at]
    const isBold = inCircle(from, to)
    return {
      id: `${from.id}~${to.id}` as Id,
      source: from.id,
      target: to.id,
      bounds: aroundPoints(way.length > 0 ? way : [{ x: 0, y: 0 }], 20),
      marks: [
        ...lineMarks(way, isBold),
        ...(area ? [kit.text(area.v, area.u + 10, String(by.length), { fill: 'ink-quiet', 'font-size': 10 })] : []),
      ],
    }
  })
  const circles = new Set(circleOf.values()).size
  return {
    bounds: { x: -14, y: -10, width: places.breadth + 28, height: places.length + 20 },
    backdrop: [],
    // The sheet opens at the first, and the walk goes from the top down.
    items: folders
      .map((folder, at) => folderItem(folder, nth(boxes, at), circleOf.has(folder.one)))
      .sort((a, b) => a.box.y - b.box.y || a.box.x - b.box.x),
    links,
    headline: `${list.length} ${list.length === 1 ? 'package' : 'packages'}, ${circles === 0 ? 'no circle' : circles === 1 ? '1 circle' : `${circles} circles`}${edges.length < dependencies.length ? `, ${MOST_LINES} of ${dependencies.length.toLocaleString('en')} dependencies` : ''}`,
    summary: `Packages and what they depend on: ${edges.map(({ from, to }) => `${from.name} on ${to.name}`).join(', ') || 'nothing'}.`,
  }
}

const tabOf = (width: number): number => Math.max(TAB.least, Math.round(width * 0.38))

/** A line that would end in the air beside the tab of a package ends at its body. */
function ontoBody(point: Point, boxes: readonly Item['box'][]): Point {
  const box = boxes.find(
    ({ x, y, width }) => Math.abs(point.y - y) < 0.01 && point.x > x + tabOf(width) && point.x < x + width,
  )
  return box ? { x: point.x, y: box.y + TAB.height } : point
}

/** A dependency: dashed, with an open head (UML 2.5.1, 7.7.4); bold where it is part of a circle. */
function lineMarks(way: readonly Point[], isBold: boolean): Mark[] {
  const [last, before] = [way.at(-1), way.at(-2)]
  if (!last || !before) return []
  const width = isBold ? 2.6 : 1.2
  return [
    kit.path(kit.way(way), {
      fill: 'none',
      stroke: isBold ? 'ink' : 'line',
      'stroke-width': width,
      'stroke-dasharray': isBold ? '8 4' : '5 3',
    }),
    openHead(last, before, isBold ? 'ink' : 'line', width),
  ]
}

function folderItem({ one, name, classes, width, height }: Folder, box: Item['box'], isBold: boolean): Item {
  const tab = tabOf(width)
  const [words = ''] = wrap(name, width - 2 * PAD, NAME.size, 'text700', 1)
  const stroke = { stroke: isBold ? 'ink' : 'outline', 'stroke-width': isBold ? 2.2 : 1 } as const
  const top = TAB.height + NAME.line + 8
  return {
    id: one.id,
    facts: [one.id],
    label: `package ${name}`,
    box,
    marks: [
      kit.rect({ x: 0.5, y: 0.5, width: tab, height: TAB.height }, { rx: 2, fill: 'head', ...stroke }),
      kit.rect(
        { x: 0.5, y: TAB.height, width: width - 1, height: height - TAB.height - 0.5 },
        { rx: 2, fill: 'plate', ...stroke },
      ),
      kit.text(PAD, TAB.height + 17, words, { fill: 'ink', 'font-size': NAME.size, 'font-weight': 700 }),
      ...classes.flatMap((each, at) =>
        wrap(each, width - 2 * PAD, CLASS.size, 'text400', 1).map((line) =>
          kit.text(PAD, top + 10 + at * CLASS.line, line, { fill: 'ink-quiet', 'font-size': CLASS.size }),
        ),
      ),
    ],
    texts: [
      {
        part: 'name',
        label: 'Package',
        value: one.name,
        box: { x: 2, y: TAB.height + 2, width: width - 4, height: 20 },
      },
    ],
    ...(one.parent ? { parent: one.parent.id } : {}),
  }
}
