import { join, grouped, covers, type Day, type Entity, type Id, type Model, type View } from '../../../model'
import { spacingOf, type Picture, type Spacing } from '../../../notation'
import { packed } from '../../../layout'
import { kit, textWidth, wrap, type Box, type Item, type Mark, type Role, type Scene } from '../../../scene'
import { units as gestures } from '../gestures'
import { titleIn } from '../kinds'
import { sumsInWords } from '../numbers'
import { structureOn, unitName, walk, type Structure } from '../structure'
import { countOf } from '../words'

const MARGIN = 24
const PAD = 14
const GAPS: Readonly<Record<Spacing, number>> = { tight: 7, normal: 14, airy: 26 }
const HEAD = 62
const LEAST_WIDTH = 178
const NAME_SIZE = 13
const LINE_SIZE = 11
/** Width to height that the boxes within a box aim at. */
const SHAPE = 1.7

export const units: Picture = {
  ...gestures,
  draw,
  needs: [
    'position.unit',
    'position.fte',
    'part-of beside',
    'holds beside',
    'holds beyond',
    'holds to',
    'person beside',
    'person beyond',
    'reports-to beside',
    'reports-to beyond',
    'reports-to.line',
  ],
}

interface Nest {
  readonly unit: Entity | undefined
  readonly inner: readonly Nest[]
  /** Positions of the unit itself. */
  readonly own: readonly Id[]
  /** The same, and those of all units within. */
  readonly positions: readonly Id[]
}

interface Laid {
  readonly nest: Nest
  readonly box: Box
  readonly depth: number
  readonly parent: Id | undefined
}

/** Nested boxes, a unit that is part of another within it; positions without a unit in a box of their own. O(units log units + positions). */
function draw(model: Model, view: View, day: Day): Scene {
  const structure = structureOn(model, day)
  const { places, width, height } = packed(nestsOn(model, structure, day), {
    inner: ({ inner }) => inner,
    least: ({ unit }) => ({ width: Math.max(LEAST_WIDTH, nameWidth(unit?.name ?? '')), head: HEAD }),
    pad: PAD,
    gap: GAPS[spacingOf(view)],
    ratio: SHAPE,
  })
  const laid = places.map(({ node, box, depth, parent }): Laid => ({
    nest: node,
    box: { ...box, x: box.x + MARGIN, y: box.y + MARGIN },
    depth,
    parent: parent?.unit?.id,
  }))
  const lead = view.options['lead'] !== false
  return {
    bounds: { x: 0, y: 0, width: width + 2 * MARGIN, height: height + 2 * MARGIN },
    backdrop: [],
    items: laid.map((one) => itemOf(structure, one, lead)),
    links: [],
    headline: `${countOf(laid.filter(({ nest }) => nest.unit).length, 'unit')}, ${sumsInWords(structure, structure.posts.keys())}`,
    summary: `Units within units: ${countOf(laid.length, 'box', 'boxes')}.`,
  }
}

const nameWidth = (name: string): number => Math.min(260, textWidth(name, NAME_SIZE, 'text700') + 2 * PAD)

/** The units of a day, each within the one it is part of; a circle of units is cut at its first. */
function nestsOn(model: Model, structure: Structure, day: Day): Nest[] {
  const here = model.ofKind('unit').filter((unit) => covers(unit, day))
  const byName = new Map(here.map((unit) => [unit.name, unit]))
  const above = new Map<Id, Id>()
  for (const tie of model.relationsOfKind('part-of')) if (covers(tie, day)) above.set(tie.source, tie.target)
  const known = new Set(here.map(({ id }) => id))
  const within = (unit: Entity): Id | undefined => {
    const up = above.get(unit.id)
    if (up === undefined || !known.has(up)) return undefined
    const seen = new Set<Id>([unit.id])
    for (let at: Id | undefined = up; at !== undefined; at = above.get(at)) {
      if (at === unit.id) return here.findIndex(({ id }) => id === unit.id) === firstOf(here, seen) ? undefined : up
      if (seen.has(at)) return up
      seen.add(at)
    }
    return up
  }
  const own = new Map<Id | undefined, Id[]>()
  for (const { id } of walk(structure)) {
    const post = structure.posts.get(id)
    const unit = byName.get((post && unitName(model, post.position)) ?? '')?.id
    join(own, unit, id)
  }
  const inner = grouped(here, within)
  const nest = (unit: Entity): Nest => {
    const below = (inner.get(unit.id) ?? []).map(nest)
    const here = own.get(unit.id) ?? []
    return {
      unit,
      inner: below,
      own: here,
      positions: [...here, ...below.flatMap(({ positions }) => positions)],
    }
  }
  const rest = own.get(undefined) ?? []
  return [
    ...(inner.get(undefined) ?? []).map(nest),
    ...(rest.length > 0 ? [{ unit: undefined, inner: [], own: rest, positions: rest }] : []),
  ]
}

const firstOf = (units: readonly Entity[], ids: ReadonlySet<Id>): number => units.findIndex(({ id }) => ids.has(id))

function itemOf(structure: Structure, { nest, box, depth, parent }: Laid, showLead: boolean): Item {
  const { unit, own, positions } = nest
  const name = unit?.name ?? 'Without a unit'
  const counted = sumsInWords(structure, positions)
  const lead = showLead ? leadOf(structure, nest) : undefined
  const room = box.width - 2 * PAD
  const line = (text: string, y: number, size: number, fill: Role, bold = false): Mark =>
    kit.text(PAD, y, wrap(text, room, size, bold ? 'text700' : 'text400', 1)[0] ?? '', {
      fill,
      'font-size': size,
      ...(bold ? { 'font-weight': 700 } : {}),
    })
  const { width, height } = box
  return {
    id: unit?.id ?? ('no-unit' as Id),
    facts: [...(unit ? [unit.id] : []), ...own],
    label: `${name}: ${counted}`,
    box,
    marks: [
      kit.rect(
        { x: 0.5, y: 0.5, width: width - 1, height: height - 1 },
        {
          rx: 3,
          fill: depth % 2 === 0 ? 'plate' : 'sheet',
          stroke: 'outline',
          ...(unit ? {} : { 'stroke-dasharray': '4 3' }),
        },
      ),
      // A rule under the head, so that a unit with others in it reads as their heading.
      ...(nest.inner.length > 0
        ? [kit.path(`M${PAD} ${HEAD - 7}H${width - PAD}`, { stroke: 'hairline', fill: 'none' })]
        : []),
      line(name, 19, NAME_SIZE, 'ink', true),
      line(counted, 35, LINE_SIZE, 'ink-quiet'),
      ...(lead === undefined ? [] : [line(lead, 50, LINE_SIZE, 'ink-quiet')]),
    ],
    texts: unit
      ? [{ part: 'name', label: 'Unit', value: unit.name, box: { x: PAD - 4, y: 4, width: room + 8, height: 21 } }]
      : [],
    ...(parent === undefined ? {} : { parent }),
  }
}

/** Who leads a unit: the holder of the one position in it whose manager is not in it. */
function leadOf(structure: Structure, { unit, positions }: Nest): string | undefined {
  if (!unit) return undefined
  const here = new Set(positions)
  const tops = positions.filter((id) => {
    const post = structure.posts.get(id)
    return post && !post.assists && !(post.manager !== undefined && here.has(post.manager))
  })
  const [top, second] = tops
  const post = top === undefined || second !== undefined ? undefined : structure.posts.get(top)
  return (
    post && (post.holders.map(({ person }) => person.name).join(' & ') || `${titleIn(post.position) || 'lead'}: vacant`)
  )
}

/** A unit becomes part of another; on positions dropped from elsewhere nothing is known here. */
