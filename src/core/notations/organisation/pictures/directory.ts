import type { Day, Entity, Id, Model, View } from '../../../model'
import { spacingOf, type Picture, type Spacing } from '../../../notation'
import { kit, wrap, type Item, type Mark, type Role, type Scene } from '../../../scene'
import { directory as gestures } from '../gestures'
import { titleIn } from '../kinds'
import { sumsInWords } from '../numbers'
import { branchOf, structureOn, unitName, walk, type Post, type Structure } from '../structure'
import { countOf, lineOf } from '../words'
import { faceMarks, faceOf } from './face'

const MARGIN = 24
const PLATE = { width: 258, height: 68, face: 52, pad: 8 }
const GAPS: Readonly<Record<Spacing, number>> = { tight: 5, normal: 10, airy: 20 }
const SECTION = { head: 30, gap: 18 }

export const directory: Picture = {
  ...gestures,
  draw,
  needs: ['holds beside', 'holds to', 'reports-to beside', 'reports-to.line', 'assists beside'],
}

interface Entry {
  readonly post: Post
  readonly person: Entity | undefined
}

/** O(positions log positions). */
function draw(model: Model, view: View, day: Day): Scene {
  const structure = structureOn(model, day)
  const columns = Number(view.options['columns'] ?? 4) || 4
  const gap = GAPS[spacingOf(view)]
  const items: Item[] = []
  const backdrop: Mark[] = []
  const width = columns * (PLATE.width + gap) - gap
  let y = MARGIN
  for (const [name, entries] of sections(model, structure, view)) {
    backdrop.push(
      ...heading(name, sumsInWords(structure, new Set(entries.map(({ post }) => post.position.id))), y, width),
    )
    y += SECTION.head
    entries.forEach((entry, index) => {
      const box = {
        x: MARGIN + (index % columns) * (PLATE.width + gap),
        y: y + Math.floor(index / columns) * (PLATE.height + gap),
        width: PLATE.width,
        height: PLATE.height,
      }
      items.push(itemOf(entry, box))
    })
    y += Math.ceil(entries.length / columns) * (PLATE.height + gap) - gap + SECTION.gap
  }
  const people = new Set(items.map(({ id }) => id)).size
  return {
    bounds: { x: 0, y: 0, width: width + 2 * MARGIN, height: Math.max(2 * MARGIN, y - SECTION.gap + MARGIN) },
    backdrop,
    items,
    links: [],
    headline: sumsInWords(structure, structure.posts.keys()),
    summary: `A directory of ${countOf(people, 'person', 'people')} by unit.`,
  }
}

/** The entries of each unit, in the order of the tree or of names. One who holds two positions stands at each. */
function sections(model: Model, structure: Structure, { options, scope }: View): Map<string, Entry[]> {
  const groups = new Map<string, Entry[]>()
  const root = scope['root']
  const inBranch = typeof root === 'string' ? new Set(branchOf(structure, root as Id)) : undefined
  for (const { id } of walk(structure)) {
    const post = structure.posts.get(id)
    if (!post || (inBranch && !inBranch.has(id))) continue
    const people: (Entity | undefined)[] = post.holders.map(({ person }) => person)
    if (people.length === 0 && options['vacant'] !== true) continue
    const unit = unitName(model, post.position) ?? 'Without a unit'
    const group = groups.get(unit) ?? []
    groups.set(unit, group)
    for (const person of people.length > 0 ? people : [undefined]) group.push({ post, person })
  }
  if (options['sorted'] === 'name')
    for (const group of groups.values()) group.sort((a, b) => nameOf(a).localeCompare(nameOf(b), 'en'))
  return groups
}

const nameOf = ({ person, post }: Entry): string => person?.name ?? post.position.name

function heading(name: string, counted: string, y: number, width: number): Mark[] {
  const words = wrap(name, width * 0.6, 13, 'text700', 1)[0] ?? ''
  return [
    kit.text(MARGIN, y + 12, words, { fill: 'ink', 'font-size': 13, 'font-weight': 700 }),
    kit.text(MARGIN + width, y + 12, counted, { fill: 'ink-quiet', 'font-size': 11, 'text-anchor': 'end' }),
    kit.path(`M${MARGIN} ${y + 19.5}H${MARGIN + width}`, { fill: 'none', stroke: 'hairline' }),
  ]
}

function itemOf({ post, person }: Entry, box: Item['box']): Item {
  const { position } = post
  const left = PLATE.pad + PLATE.face + 10
  const room = PLATE.width - left - 6
  const { email } = person?.fields ?? {}
  const { location } = position.fields
  const texts: readonly { text: string; size: number; bold: boolean; fill: Role }[] = [
    { text: person?.name ?? 'vacant', size: 12.5, bold: true, fill: person ? 'ink' : 'warning' },
    { text: titleIn(position), size: 11.5, bold: false, fill: 'ink-quiet' },
    {
      text: typeof email === 'string' ? email : typeof location === 'string' ? location : '',
      size: 10.5,
      bold: false,
      fill: 'ink-quiet',
    },
  ]
  return {
    id: (person ? `${person.id} ${position.id}` : position.id) as Id,
    facts: [position.id, ...(person ? [person.id] : [])],
    label: lineOf(post),
    box,
    marks: [
      kit.rect(
        { x: 0.5, y: 0.5, width: PLATE.width - 1, height: PLATE.height - 1 },
        { rx: 3, fill: 'plate', stroke: 'outline', ...(person ? {} : { 'stroke-dasharray': '4 3' }) },
      ),
      ...faceMarks(faceOf(person), PLATE.pad, PLATE.pad, PLATE.face),
      ...texts.map(({ text, size, bold, fill }, line): Mark =>
        kit.text(left, 22 + line * 16.5, wrap(text, room, size, bold ? 'text700' : 'text400', 1)[0] ?? '', {
          fill,
          'font-size': size,
          ...(bold ? { 'font-weight': 700 } : {}),
        }),
      ),
    ],
    texts: [],
  }
}
