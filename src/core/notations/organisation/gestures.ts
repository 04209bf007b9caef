import { covers, type Id } from '../../model'
import {
  changed,
  NOT_IN_FORCE,
  setEntity,
  setRelation,
  SPACING,
  tie,
  writing,
  type Gestures,
  type Outcome,
  type Wish,
} from '../../notation'
import { writeLineSteps } from './edits'
import { handOver, handOverAlone } from './handOver'
import { UNTITLED } from './kinds'
import { structureOn } from './structure'
import { readHolders, saidOf } from './words'

/** What may colour the cards. */
const COLOURINGS = [
  'unit',
  'grade',
  'location',
  'role',
  'employer',
  'fte',
  'cost',
  'planned',
  'holder',
  'none',
] as const

const LINES = 'Lines of a box'

/** Positions beneath those they report to. */
export const tree: Gestures = {
  id: 'tree',
  title: 'Tree',
  good: 'Who reports to whom, and what a reorganisation changes',
  draws: ['position'],
  options: [
    { id: 'levels', label: 'Levels', type: 'choice', choices: ['all', '1', '2', '3', '4', '5', '6'], initial: 'all' },
    { id: 'colour', label: 'Colour by', type: 'choice', choices: COLOURINGS, initial: 'unit' },
    {
      id: 'leaves',
      label: 'Leaves in',
      type: 'choice',
      choices: ['auto', 'row', 'column', 'two columns'],
      initial: 'auto',
    },
    { id: 'grows', label: 'Grows', type: 'choice', choices: ['down', 'right'], initial: 'down' },
    SPACING,
    {
      id: 'page',
      label: 'For a page',
      type: 'choice',
      choices: ['landscape', 'portrait', 'screen'],
      initial: 'landscape',
    },
    { id: 'pages', label: 'Pages', type: 'choice', choices: ['one', 'a branch each'], initial: 'one' },
    { id: 'title', label: 'Title', type: 'flag', initial: true, group: LINES },
    { id: 'unit', label: 'Unit', type: 'flag', initial: false, group: LINES },
    { id: 'location', label: 'Location', type: 'flag', initial: false, group: LINES },
    { id: 'fte', label: 'Fte', type: 'flag', initial: false, group: LINES },
    { id: 'dates', label: 'Dates', type: 'flag', initial: false, group: LINES },
    { id: 'photo', label: 'Photo', type: 'flag', initial: false, group: LINES },
  ],
  drop: (wish) => (wish.alone ? handOverAlone(wish) : handOver(wish)),
  write: writePosition,
}

/** Units within units, each with its people and its lead. */
export const units: Gestures = {
  id: 'units',
  title: 'Units',
  good: 'Which unit lies in which, with its people and its lead',
  draws: ['unit'],
  options: [SPACING, { id: 'lead', label: 'Lead', type: 'flag', initial: true, group: 'Lines of a box' }],
  drop: intoUnit,
  write: rename,
}

/** A board of faces, unit by unit. */
export const directory: Gestures = {
  id: 'directory',
  title: 'Directory',
  good: 'Faces with titles and addresses, unit by unit',
  draws: ['person'],
  options: [
    { id: 'columns', label: 'Columns', type: 'choice', choices: ['2', '3', '4', '5', '6'], initial: '4' },
    SPACING,
    { id: 'sorted', label: 'Sorted by', type: 'choice', choices: ['rank', 'name'], initial: 'rank' },
    { id: 'vacant', label: 'Vacant positions', type: 'flag', initial: false, group: 'Shown' },
  ],
}

function writePosition(wish: Wish, part: string, text: string): Outcome {
  const { model, day, selection } = wish
  const id = selection[0]
  const post = id === undefined ? undefined : structureOn(model, day).posts.get(id)
  if (id === undefined || !post) return NOT_IN_FORCE
  const said = saidOf(post)
  const all = said.holders.length > 0 && said.holders.every(({ acting }) => acting)
  const line =
    part === 'title' ? { ...said, title: text.trim() || UNTITLED } : { ...said, holders: readHolders(text, all) }
  return changed(writing(text), writeLineSteps(wish, id, line))
}

function intoUnit({ model, day, selection, target, newId }: Wish): Outcome {
  const units = selection.flatMap((id) => model.entities.get(id) ?? []).filter(({ kind }) => kind === 'unit')
  const [unit, second] = units
  const into = target === undefined ? undefined : model.entities.get(target)
  if (!unit || second) return { refused: 'Move one unit at a time.' }
  if (into?.kind !== 'unit') return { refused: 'A unit can only be put into another unit.' }
  for (let at: Id | undefined = into.id, steps = 0; at !== undefined && steps < 1000; steps++) {
    if (at === unit.id) return { refused: `“${into.name}” is part of “${unit.name}”. That would be a circle.` }
    at = model.leaving(at, 'part-of').find((tie) => covers(tie, day))?.target
  }
  const now = model.leaving(unit.id, 'part-of').find((one) => covers(one, day))
  const label = `“${unit.name}” is part of “${into.name}”`
  if (now) return changed(label, [setRelation(now.id, 'target', into.id)])
  return changed(label, [tie(newId(), 'part-of', unit.id, into.id)])
}

function rename({ model, selection }: Wish, _part: string, text: string): Outcome {
  const [id] = selection
  const unit = id === undefined ? undefined : model.entities.get(id)
  const name = text.trim().slice(0, 400)
  if (!unit || name === '') return { refused: 'A unit needs a name.' }
  return changed(`Rename “${unit.name}” to “${name}”`, [setEntity(unit.id, 'name', name)])
}
