import type { Day, Model, View } from '../../../model'
import type { Suits } from '../../../notation'
import { linesOn, withBranch, type Part } from '../structure'
import { shownOf } from './draw'

/** What lines may have, by which arrangements suit them. */
type Trait =
  'details' | 'values' | 'pictures' | 'checks' | 'places' | 'sets' | 'deep' | 'sequence' | 'opposites' | 'cycle'

const WORDS: Readonly<Record<Trait, string>> = {
  details: 'something is said under its parts',
  values: 'its parts have numbers',
  pictures: 'its parts have pictures',
  checks: 'some of it is done',
  places: 'its parts have two numbers',
  sets: 'its parts are sets',
  deep: 'its lines are several levels deep',
  sequence: 'its parts read as one after the other',
  opposites: 'it has two sides',
  cycle: 'its last part leads to the first',
}

/** The traits of the lines that a view shows. O(lines) */
function traitsOf(parts: readonly Part[], title: string): ReadonlySet<Trait> {
  const all = parts.flatMap((one) => withBranch(one))
  const has = (field: string) => (one: Part) => one.entity.fields[field] !== undefined
  const most = (count: number) => count * 2 > parts.length
  const traits = new Set<Trait>()
  if (most(parts.filter((one) => one.parts.length > 0).length)) traits.add('details')
  if (all.some((one) => one.depth > (parts[0]?.depth ?? 0) + 1)) traits.add('deep')
  if (most(parts.filter(has('value')).length)) traits.add('values')
  if (all.some(has('image'))) traits.add('pictures')
  if (all.some(has('done'))) traits.add('checks')
  if (most(parts.filter((one) => has('across')(one) && has('up')(one)).length)) traits.add('places')
  if (parts.some(has('gathers')) || parts.some(({ entity }) => / & /.test(entity.name))) traits.add('sets')
  if (parts.length === 2 || /\b(?:vs|versus|or|against|pros)\b/i.test(title)) traits.add('opposites')
  if (/\b(?:cycle|loop|again|round|continuous|every)\b/i.test(title)) traits.add('cycle')
  // Most parts begin with a verb of a process, or a number: words of more than a few parts in order.
  if (/\b(?:how|step|stage|phase|process|when|way to|plan|path|journey|road)\b/i.test(title)) traits.add('sequence')
  return traits
}

/** What an arrangement is best for, where there is something that others are not. */
const LIKES: Readonly<Record<string, readonly Trait[]>> = {
  rows: ['details'],
  columns: ['details'],
  'picture-cards': ['pictures'],
  compare: ['opposites', 'details'],
  checklist: ['checks'],
  arrows: ['sequence'],
  'stairs-up': ['sequence'],
  'stairs-down': ['sequence'],
  chain: ['sequence', 'details'],
  bending: ['sequence'],
  funnel: ['values'],
  gates: ['sequence'],
  overlap: ['sets'],
  ring: ['cycle'],
  arcs: ['cycle'],
  'tree-down': ['deep', 'details'],
  'tree-across': ['deep', 'details'],
  indented: ['deep'],
  'pyramid-beside': ['details'],
  grid: ['details'],
  placed: ['places'],
  'large-small': ['pictures'],
  strip: ['pictures'],
  frames: ['pictures'],
  scale: ['opposites', 'details'],
  'big-number': ['values'],
  share: ['values'],
}

/** What many lines have. */
const PLAIN: ReadonlySet<Trait> = new Set(['details', 'deep', 'sequence'])
/** What needs something that is not there suits less than what needs nothing. */
const NEEDED: ReadonlySet<Trait> = new Set(['values', 'pictures', 'places', 'checks', 'sets'])

/** How well an arrangement suits the lines that a view shows. O(lines) */
export const suiting =
  (id: string, [least, most]: readonly [number, number]) =>
  (model: Model, view: View, day: Day): Suits => {
    const lines = linesOn(model, view, day)
    const { parts } = shownOf(lines, view, model, day)
    const count = parts.length
    const traits = traitsOf(parts, `${lines.figure?.name ?? ''} ${view.title}`)
    const likes = LIKES[id] ?? []
    const liked = likes.find((one) => traits.has(one))
    const isIn = count >= least && count <= most
    const miss = isIn ? 0 : count < least ? (least - count) / least : (count - most) / most
    const lacks = !liked && likes.some((one) => NEEDED.has(one))
    const score =
      0.55 + (liked ? (PLAIN.has(liked) ? 0.3 : 0.45) : 0) - (lacks ? 0.3 : 0) - (isIn ? 0 : 0.2 + Math.min(0.3, miss))
    const range = least === most ? `${least} parts` : `${least} to ${most} parts`
    const why = !isIn ? `takes ${range} well, here are ${count}` : liked ? WORDS[liked] : `takes ${range}`
    return { score: Math.max(0, score), why }
  }
