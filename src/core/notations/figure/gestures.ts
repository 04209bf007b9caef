import {
  GONE,
  changed,
  setEntity,
  setField,
  tooLongName,
  type Gestures,
  type Option,
  type Outcome,
  type Pull,
  type Wish,
} from '../../notation'
import { plainOf } from '../../scene'
import { placing } from './outline'
import { linesOn, peersOf, withBranch } from './structure'

const TITLE: Option = { id: 'title', label: 'Title', type: 'flag', initial: true }

/** A row of the table: title, what it is good for, how many parts it takes well, words by which it is searched. */
type Row = readonly [title: string, good: string, takes: readonly [number, number], words: string]

/** Arrangements by family and id. */
const FAMILIES: Readonly<Record<string, Readonly<Record<string, Row>>>> = {
  Lists: {
    rows: [
      'Rows',
      'Points of equal weight, what is said of each beside it',
      [2, 9],
      'list bullets stacked vertical agenda points reasons',
    ],
    columns: ['Columns', 'Topics side by side, each with its points', [2, 5], 'list pillars topics vertical groups'],
    cards: ['Cards', 'Separate things at a glance', [3, 12], 'list boxes tiles blocks overview team'],
    'picture-cards': [
      'Cards with pictures',
      'People, places or products with a word on each',
      [2, 8],
      'photo image team people gallery portfolio',
    ],
    compare: [
      'Side by side',
      'Choices compared line by line',
      [2, 4],
      'compare comparison versus before after options difference',
    ],
    checklist: ['Checklist', 'What is done and what is open', [3, 14], 'todo tasks done check tick ready'],
  },
  Steps: {
    arrows: [
      'Row of arrows',
      'Steps that lead straight to a result',
      [3, 6],
      'process flow steps arrow sequence chevron phases roadmap',
    ],
    'stairs-up': [
      'Staircase up',
      'Steps that build on one another',
      [3, 7],
      'growth maturity levels progress improve ladder',
    ],
    'stairs-down': [
      'Staircase down',
      'What is handed down from stage to stage',
      [3, 7],
      'cascade waterfall decline handed',
    ],
    chain: [
      'Chain with detail',
      'Numbered stops, each with what happens there',
      [3, 7],
      'process numbered milestones stops journey',
    ],
    bending: [
      'Bending row',
      'Many steps in order, over several lines',
      [5, 15],
      'process long snake many steps sequence',
    ],
    funnel: ['Funnel', 'Many become few on the way', [3, 6], 'funnel filter narrow sales selection pipeline'],
    gates: [
      'Stages with a gate',
      'Stages that are left only after a decision',
      [3, 6],
      'stage gate approval decision review release',
    ],
  },
  Rings: {
    ring: ['Ring', 'Parts that come round again', [3, 7], 'cycle circle loop repeat continuous iterate'],
    arcs: [
      'Arrows round a centre',
      'A loop that keeps something going',
      [3, 6],
      'cycle circle loop centre continuous improvement',
    ],
    segments: ['Segments', 'Parts of one whole, each told beside it', [3, 8], 'circle donut whole parts areas'],
    wheel: ['Turning wheel', 'Short words that make up a whole', [3, 6], 'circle pie sectors whole aspects'],
  },
  Trees: {
    'tree-down': [
      'Tree down',
      'What something is made up of',
      [2, 7],
      'hierarchy breakdown structure organisation levels',
    ],
    'tree-across': [
      'Tree across',
      'What belongs to what, with room for words',
      [2, 9],
      'hierarchy breakdown mind structure horizontal issue',
    ],
    indented: ['Indented', 'Many lines on several levels', [2, 30], 'outline hierarchy contents list levels'],
  },
  Pyramids: {
    pyramid: ['Pyramid', 'Few stand on many', [3, 5], 'pyramid hierarchy needs foundation priority levels'],
    'pyramid-turned': [
      'Pyramid on its tip',
      'All comes down to one thing',
      [3, 5],
      'pyramid inverted focus narrowing priority',
    ],
    'pyramid-beside': [
      'Pyramid with text',
      'Levels with more to say than fits in them',
      [3, 7],
      'pyramid text beside levels foundation',
    ],
  },
  Matrices: {
    quadrants: [
      'Two by two',
      'Four cases of two questions',
      [4, 4],
      'matrix quadrant swot priority effort impact risk axes',
    ],
    grid: ['Table of cells', 'The same points for each', [2, 8], 'matrix table grid rows criteria'],
    placed: [
      'Placed by two numbers',
      'Where each stands on two scales',
      [3, 12],
      'matrix quadrant priority effort value risk scatter position axes',
    ],
  },
  'Around one': {
    spokes: ['Spokes', 'What hangs on one thing', [3, 8], 'hub radial centre star around stakeholders'],
    orbit: ['Orbit', 'What moves around one thing', [3, 8], 'hub radial centre circle around'],
    converging: ['Converging', 'Several causes of one effect', [2, 6], 'cause causes inputs merge lead to result'],
    diverging: ['Diverging', 'One cause of several effects', [2, 6], 'effects outputs split consequences options'],
  },
  Overlaps: {
    overlap: [
      'Overlapping sets',
      'What two to five things share, and what they do not',
      [2, 5],
      'venn euler sets circles shared common intersection overlap',
    ],
    nested: [
      'Sets within sets',
      'Each is part of the one around it',
      [2, 5],
      'nested onion layers within subset scope',
    ],
    'sets-row': [
      'Sets in a row',
      'Each shares something with the next',
      [2, 5],
      'linked circles overlap row chain shared',
    ],
  },
  Pictures: {
    'large-small': [
      'One large, others small',
      'A main picture with what belongs to it',
      [2, 7],
      'photo image hero feature',
    ],
    strip: ['Strip of pictures', 'Pictures in order', [2, 6], 'photo image row sequence film'],
    frames: ['Framed pictures', 'Pictures to be looked at one by one', [2, 9], 'photo image gallery wall captions'],
  },
  'Balance and sums': {
    sum: ['Sum', 'What together comes to the last', [3, 5], 'plus equals equation add total formula'],
    scale: ['Scale', 'What speaks for and what against', [2, 2], 'pros cons balance weigh for against decision'],
  },
  'Facts as figures': {
    'big-number': [
      'Large numbers',
      'Numbers that speak for themselves',
      [1, 6],
      'number figure kpi fact statistic percent',
    ],
    share: ['Shares of a whole', 'How much of all each is', [2, 7], 'share percent donut part whole proportion'],
  },
}

export const arrangements: readonly Gestures[] = Object.entries(FAMILIES).flatMap(([family, rows]) =>
  Object.entries(rows).map(([id, [title, good, takes, words]]): Gestures => ({
    id,
    title,
    good,
    draws: ['figure', 'part'],
    options: [TITLE],
    arranges: { family, takes, words },
    drop: dropOn,
    pull: pullPoint,
    write: writePart,
  })),
)

/** A part dropped on another of its level takes its place; on one of another level it goes under it. */
function dropOn({ model, view, day, selection: [id], target }: Wish): Outcome {
  const lines = linesOn(model, view, day)
  const one = id === undefined ? undefined : lines.byId.get(id)
  const other = target === undefined ? undefined : lines.byId.get(target)
  if (!one || !other) return { refused: 'Drop a part on another part.' }
  if (withBranch(one).includes(other)) return { refused: 'It cannot stand under itself.' }
  const peers = peersOf(lines, other)
  if (one.above === other.above) {
    const [from, to] = [peers.indexOf(one), peers.indexOf(other)]
    return changed(
      `Put “${one.entity.name}” at the place of “${other.entity.name}”`,
      placing(one, other.above, peers, from < to ? to + 1 : to),
      { select: one.id },
    )
  }
  if (one.above === other) return { refused: `It stands under “${other.entity.name}” already.` }
  const isDetail = one.depth > other.depth
  return isDetail
    ? changed(
        `Put “${one.entity.name}” under “${other.entity.name}”`,
        placing(one, other, other.parts, other.parts.length),
        { select: one.id },
      )
    : changed(
        `Put “${one.entity.name}” before “${other.entity.name}”`,
        placing(one, other.above, peers, peers.indexOf(other)),
        { select: one.id },
      )
}

/** The point of a picture that matters goes along with the pointer, within the picture. */
function pullPoint({ model, selection: [id] }: Wish, { handle, by }: Pull): Outcome {
  const one = id === undefined ? undefined : model.entities.get(id)
  const [, wide, high] = /^point (\d+) (\d+)$/.exec(handle) ?? []
  if (!one || wide === undefined || high === undefined) return GONE
  const moved = (field: string, share: number) =>
    Math.max(0, Math.min(100, Math.round(Number(one.fields[field] ?? 50) + share * 100)))
  const [across, down] = [moved('pointAcross', by.x / Number(wide)), moved('pointDown', by.y / Number(high))]
  return changed(`Show the picture of “${one.name}” around ${across} % across and ${down} % down`, [
    setField(one.id, 'pointAcross', across),
    setField(one.id, 'pointDown', down),
  ])
}

function writePart({ model, view, selection: [id] }: Wish, part: string, text: string): Outcome {
  const one = id === undefined ? undefined : model.entities.get(id)
  if (part !== 'name' || !one || (one.kind !== 'part' && one.kind !== 'figure')) return GONE
  const name = text.trim()
  const tooLong = tooLongName(name, 'A line')
  if (tooLong) return tooLong
  if (name === '') return { refused: 'A part has a text. Delete removes it.' }
  return changed(`Write “${plainOf(name).slice(0, 60)}”`, [
    setEntity(one.id, 'name', name),
    ...(one.kind === 'figure' && view.title === one.name
      ? [{ do: 'set-view' as const, id: view.id, path: 'title', value: name }]
      : []),
  ])
}
