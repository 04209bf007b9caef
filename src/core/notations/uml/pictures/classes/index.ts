import { middleOfWay, type Point } from '../../../../layout'
import type { Day, Id, Model, View } from '../../../../model'
import { spacingOf, type Picture } from '../../../../notation'
import {
  aroundPoints,
  CATEGORIES,
  kit,
  textWidth,
  type Item,
  type Link,
  type Mark,
  type Scene,
} from '../../../../scene'
import { classes as gestures } from '../../gestures'
import { shownIn, type Classifier, type Package, type Shown, type Tie } from '../../structure'
import { boxMarks, boxSize, contentOf, memberBox, memberPlaces, nameBox, type Choices, type Content } from './box'
import { FRAME, type Area } from './frames'
import { layOut, USUAL_SPACING, type Laid } from './layout'
import { sidesOf } from './sides'
import { loopOf, loopsOf, tieMarks, widthOf, wordsOf, type Loops, type TieWords } from './lines'

export const classes: Picture = {
  ...gestures,
  draw,
  needs: [
    'class.form',
    'class.package',
    'class.abstract',
    'class.leaf',
    'attribute.class',
    'attribute.type',
    'attribute.visibility',
    'attribute.default',
    'attribute.multiplicity',
    'attribute.properties',
    'attribute.derived',
    'attribute.static',
    'operation.class',
    'operation.type',
    'operation.visibility',
    'operation.parameters',
    'operation.properties',
    'operation.abstract',
    'operation.static',
    'literal.class',
    'association.aggregation',
    'association.sourceMultiplicity',
    'association.sourceRole',
    'association.sourceNavigable',
    'association.sourceProperties',
    'association.targetMultiplicity',
    'association.targetRole',
    'association.targetNavigable',
    'association.targetProperties',
    'dependency.keyword',
  ],
}

const SPREAD = { tight: 0.4, normal: USUAL_SPACING, airy: 1.3 } as const
const HOLD = 10
/** So many are drawn: of more, those listed first; the headline says so. */
const MOST = { classes: 1200, ties: 3000 } as const

/** O(layout) */
function draw(model: Model, view: View, day: Day): Scene {
  const { options } = view
  const choices: Choices = {
    attributes: options['attributes'] !== false,
    operations: options['operations'] !== false,
    hidden: options['private'] !== false,
  }
  const all = shownIn(model, view, day)
  const drawn = bounded(all)
  const shown = options['packages'] === false ? { ...drawn, packages: [] } : drawn
  const contents = new Map(shown.classes.map((one) => [one, contentOf(one, choices)]))
  const hasEnds = options['ends'] !== false
  const none: TieWords = { a: [], b: [] }
  const words = new Map(shown.ties.map((tie) => [tie, hasEnds ? wordsOf(tie) : none]))
  const loops = loopsOf(shown.ties, (tie) => words.get(tie) ?? none)
  const sizes = new Map(
    [...contents].map(([one, content]) => {
      const { width, height } = boxSize(content)
      return [one, { width, height: Math.max(height, loops.get(one)?.height ?? 0) }]
    }),
  )
  const laid = layOut(
    shown,
    (one) => sizes.get(one) ?? { width: 118, height: 40 },
    (one) => loops.get(one)?.width ?? 0,
    (tie) => ({ a: widthOf(words.get(tie)?.a ?? []), b: widthOf(words.get(tie)?.b ?? []) }),
    SPREAD[spacingOf(view)],
  )
  const category = categories(shown.classes)
  const ways = waysOf(shown.ties, laid, loops)
  const sides = sidesOf(ways, (tie) => words.get(tie) ?? none, [...laid.classes.values()])
  const headed = new Set<Classifier>()
  const links = shown.ties.map((tie): Link => {
    const way = ways.get(tie) ?? []
    const isJoined = tie.sort === 'generalization'
    const hasHead = !isJoined || !headed.has(tie.b)
    if (isJoined) headed.add(tie.b)
    const own = words.get(tie) ?? none
    return {
      id: tie.id,
      source: tie.a.id,
      target: tie.b.id,
      bounds: aroundPoints(way.length > 0 ? way : [{ x: 0, y: 0 }], 20 + Math.max(widthOf(own.a), widthOf(own.b))),
      marks: tieMarks(tie, way, own, hasHead, sides.get(tie)),
    }
  })
  const frames = shown.packages.flatMap((one) => {
    const area = laid.frames.get(one)
    return area ? [{ one, area }] : []
  })
  const right = links.reduce((most, { bounds }) => Math.max(most, bounds.x + bounds.width - 20), laid.width)
  return {
    bounds: { x: -16, y: -14, width: right + 32, height: laid.height + 28 },
    backdrop: frames.flatMap(({ one, area }) => frameMarks(one, area)),
    items: [
      ...frames.map(({ one, area }) => frameItem(one, area)),
      ...shown.ties.map((tie) => tieItem(tie, ways.get(tie) ?? [])),
      ...shown.classes.map((one) =>
        classItem(one, contents.get(one), laid.classes.get(one), category.get(one.package) ?? 0),
      ),
    ],
    links,
    headline: headlineOf(shown, all),
    summary: `${
      shown.classes.length === 0
        ? 'No classes'
        : `Classes and what they are tied by: ${shown.classes
            .slice(0, 40)
            .map(({ name }) => name)
            .join(', ')}`
    }.`,
  }
}

const count = (number: number, one: string, many: string): string =>
  `${number.toLocaleString('en')} ${number === 1 ? one : many}`
function headlineOf({ classes, packages, ties }: Shown, all: Shown): string {
  const of = (some: number, every: number) => (some < every ? `${some.toLocaleString('en')} of ` : '')
  const isCut = classes.length < all.classes.length || ties.length < all.ties.length
  return [
    `${of(classes.length, all.classes.length)}${count(all.classes.length, 'class', 'classes')}`,
    ...(packages.length > 0 ? [count(packages.length, 'package', 'packages')] : []),
    ...(isCut ? [`${of(ties.length, all.ties.length)}${count(all.ties.length, 'tie', 'ties')}: show one package`] : []),
  ].join(', ')
}

/** As much as can be drawn while somebody waits. */
function bounded(all: Shown): Shown {
  if (all.classes.length <= MOST.classes && all.ties.length <= MOST.ties) return all
  const classes = all.classes.slice(0, MOST.classes)
  const here = new Set(classes)
  return { ...all, classes, ties: all.ties.filter(({ a, b }) => here.has(a) && here.has(b)).slice(0, MOST.ties) }
}

/** The colour of each package, in the order of its classes; one alone needs none. */
function categories(list: readonly Classifier[]): ReadonlyMap<Package | undefined, number> {
  const packages = [...new Set(list.map((one) => one.package))]
  return new Map(packages.map((one, at) => [one, packages.length < 2 ? 1 : (at % CATEGORIES) + 1]))
}

/** Where every tie runs; those from a class to itself loop at its side. */
function waysOf(
  ties: readonly Tie[],
  laid: Laid,
  loops: ReadonlyMap<Classifier, Loops>,
): ReadonlyMap<Tie, readonly Point[]> {
  return new Map(
    ties.map((tie) => {
      const [area, own] = [laid.classes.get(tie.a), loops.get(tie.a)]
      return [tie, tie.a === tie.b && area && own ? loopOf(area, own, tie) : (laid.ways.get(tie) ?? [])]
    }),
  )
}

function classItem(one: Classifier, content: Content | undefined, area: Area | undefined, category: number): Item {
  const box = area ?? { x: 0, y: 0, width: 118, height: 40 }
  const { width, height } = box
  if (!content) throw new RangeError('a class without content')
  const members = memberPlaces(content)
  return {
    id: one.id,
    facts: [one.id, ...members.map(({ id }) => id)],
    label: `${one.isAbstract ? 'abstract ' : ''}${one.form} ${one.name}`,
    box,
    marks: boxMarks(content, { width, height }, category),
    texts: [
      { part: 'name', label: 'Class', value: one.name, box: nameBox(content, width) },
      ...members.map(({ id, y }) => ({
        part: id,
        label: 'Member',
        value: textOfMember(one, id),
        box: memberBox(y, width),
      })),
    ],
    handles: [
      { id: 'tie', box: { x: width / 2 - 5, y: height - 4, width: 10, height: 8 }, pulls: 'line' },
      { id: 'kind', box: { x: width / 2 - 5, y: -4, width: 10, height: 8 }, pulls: 'line' },
    ],
    ...(one.package ? { parent: one.package.id } : {}),
  }
}

const textOfMember = ({ attributes, operations, literals }: Classifier, id: Id): string =>
  [...attributes, ...operations].find((one) => one.id === id)?.text ?? literals.find((one) => one.id === id)?.name ?? ''

/** A place on a tie where it can be selected and its findings stand. */
function tieItem({ id, sort, a, b }: Tie, way: readonly Point[]): Item {
  const middle = middleOfWay(way) ?? { x: 0, y: 0 }
  return {
    id,
    facts: [id],
    label: `${sort} ${a.name} to ${b.name}`,
    box: { x: middle.x - HOLD / 2, y: middle.y - HOLD / 2, width: HOLD, height: HOLD },
    marks: [],
    texts: [],
    parent: a.id,
  }
}

const tabWidth = (name: string): number => Math.max(72, Math.ceil(textWidth(name, 10.5, 'text700')) + 22)

/** A package: a frame with a tab (UML 2.5.1, 12.2.4). */
function frameMarks({ name }: Package, { x, y, width, height }: Area): Mark[] {
  const tab = Math.min(width, tabWidth(name))
  return [
    kit.rect({ x, y, width, height }, { rx: 2, fill: 'sheet', stroke: 'outline', 'stroke-width': 1 }),
    kit.rect(
      { x, y: y - FRAME.tab, width: tab, height: FRAME.tab },
      { rx: 2, fill: 'head', stroke: 'outline', 'stroke-width': 1 },
    ),
    kit.text(x + 10, y - 7, name, { fill: 'ink', 'font-size': 10.5, 'font-weight': 700 }),
  ]
}

const frameItem = ({ id, name, parent }: Package, { x, y, width, height }: Area): Item => ({
  id,
  facts: [id],
  label: `package ${name}`,
  box: { x, y: y - FRAME.tab, width, height: height + FRAME.tab },
  marks: [],
  ground: true,
  texts: [
    { part: 'name', label: 'Package', value: name, box: { x: 4, y: 0, width: tabWidth(name) - 6, height: FRAME.tab } },
  ],
  ...(parent ? { parent: parent.id } : {}),
})
