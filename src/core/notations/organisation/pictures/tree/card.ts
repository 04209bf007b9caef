import { dayInWords, type Day, type Entity, type Id, type Model } from '../../../../model'
import { kit, textWidth, wrap, type EditableText, type Mark, type Role } from '../../../../scene'
import { titleIn } from '../../kinds'
import { fteOf, unitName, vacantSince } from '../../structure'
import { faceMarks, faceOf, type Face } from '../face'
import type { CardSize } from './arrange'
import type { PlanNode } from './plan'

/** The words on a card, before they are broken into lines. */
interface CardWords {
  readonly name: string
  readonly title: string
  readonly vacant: boolean
  readonly contractor: boolean
  readonly acting: boolean
  /** Chosen lines beneath name and title. */
  readonly more: readonly string[]
  /** Where a photo is wanted: the asset, or the initials that stand for it. */
  readonly face?: Face
}

/** What a card says besides the name. */
export interface CardLines {
  readonly title: boolean
  readonly unit: boolean
  readonly location: boolean
  readonly fte: boolean
  readonly dates: boolean
  readonly photo: boolean
}

export interface Card extends CardSize {
  readonly words: CardWords
  readonly moreLines: readonly string[]
  readonly nameLines: readonly string[]
  readonly titleLines: readonly string[]
}

const NAME_SIZE = 12.5
const TITLE_SIZE = 11.5
const MORE_SIZE = 10.5
const MORE_LINE = 14
const FACE = { size: 32, gap: 8 }
const LINE = 16
const PAD = { left: 12, right: 10, top: 6, bottom: 6 }
const WIDTH = { least: 124, most: 188, assistantLeast: 104 }
const CORNER = 3
const CUT = 11

export function wordsOf(model: Model, node: PlanNode, day: Day, lines: CardLines): CardWords {
  const { position, holders } = node.post
  const people = holders.map(({ person }) => person.name)
  return {
    name: people.length > 0 ? people.join(' & ') : vacancyWords(model, position, day),
    title: titleIn(position),
    vacant: people.length === 0,
    contractor: holders.some(({ person }) => typeof person.fields['employer'] === 'string'),
    acting: holders.some(({ holds }) => holds.fields['acting'] === true),
    more: moreOf(model, node.post, lines),
    ...(lines.photo ? { face: faceOf(holders[0]?.person) } : {}),
  }
}

function moreOf(model: Model, { position, holders }: PlanNode['post'], lines: CardLines): string[] {
  const { location } = position.fields
  const [held] = holders
  const [from, to] = [held?.holds.from ?? position.from, held?.holds.to ?? position.to]
  const dates = [from ? `from ${dayInWords(from)}` : '', to ? `to ${dayInWords(to)}` : ''].filter(Boolean).join(' ')
  return [
    lines.unit ? (unitName(model, position) ?? '') : '',
    lines.location && typeof location === 'string' ? location : '',
    lines.fte ? `${fteOf(position)} fte` : '',
    lines.dates ? dates : '',
  ].filter(Boolean)
}

function vacancyWords(model: Model, position: Entity, day: Day): string {
  const since = vacantSince(model, position, day)
  if (since === undefined || since > day) return 'vacant'
  const sameYear = since.slice(0, 4) === day.slice(0, 4)
  return `vacant since ${sameYear ? dayInWords(since).slice(0, -5) : dayInWords(since)}`
}

/**
 * The cards of a plan. All of one rank are equally wide: wide enough for nearly all texts within limits; longer texts take
 * more lines, so a card grows before anything is cut. O(text).
 */
export function makeCards(words: readonly CardWords[], plan: readonly PlanNode[], lines: CardLines): Card[] {
  const faceRoom = lines.photo ? FACE.size + FACE.gap : 0
  const needs = words.map(
    ({ name, title, more }) =>
      faceRoom +
      Math.max(
        textWidth(name, NAME_SIZE, 'text700'),
        lines.title ? textWidth(title.slice(0, 200), TITLE_SIZE, 'text400') : 0,
        ...more.map((line) => textWidth(line.slice(0, 200), MORE_SIZE, 'text400')),
      ),
  )
  const widthOf = (assistant: boolean) => {
    const own = needs.filter((_, index) => plan[index]?.assistant === assistant).sort((a, b) => a - b)
    const most = own[Math.ceil((own.length - 1) * 0.95)] ?? 0
    const least = assistant ? WIDTH.assistantLeast : WIDTH.least
    return 2 * Math.ceil(Math.min(WIDTH.most + faceRoom, Math.max(least, most + PAD.left + PAD.right + 1)) / 2)
  }
  const widths = [widthOf(false), widthOf(true)]
  return words.map((card, index) => {
    const width = widths[plan[index]?.assistant ? 1 : 0] ?? WIDTH.least
    const room = width - PAD.left - PAD.right - faceRoom
    const nameLines = wrap(card.name, room, NAME_SIZE, 'text700', 3)
    // A position without a title leaves its line empty, to be typed into.
    const titleLines = !lines.title ? [] : card.title === '' ? [''] : wrap(card.title, room, TITLE_SIZE, 'text400', 4)
    const moreLines = card.more.flatMap((line) => wrap(line, room, MORE_SIZE, 'text400', 2))
    const text = LINE * (nameLines.length + titleLines.length) + MORE_LINE * moreLines.length
    const height = PAD.top + PAD.bottom + Math.max(text, lines.photo ? FACE.size : 0)
    return { width, height, words: card, nameLines, titleLines, moreLines }
  })
}

/** The marks of a card, relative to its corner: a plate with an edge in the colour of its category. */
export function cardMarks(card: Card, category: number, hidden: number): Mark[] {
  const { words, width, height } = card
  const edge: Role = `edge-${category}`
  const left = textLeft(words)
  const under = PAD.top + LINE * card.nameLines.length
  const plate: Mark = kit.path(outlinePath(width, height, words.contractor), {
    fill: 'plate',
    stroke: 'outline',
    'stroke-width': 1,
    ...(words.vacant ? { 'stroke-dasharray': '4 3' } : {}),
  })
  const marks: Mark[] = [
    plate,
    kit.path(
      `M4 0.5V${height - 0.5}H${CORNER}Q0.5 ${height - 0.5} 0.5 ${height - CORNER}V${CORNER}Q0.5 0.5 ${CORNER} 0.5Z`,
      { fill: edge, stroke: 'none', ...(words.vacant ? { 'fill-opacity': 0.45 } : {}) },
    ),
    ...textLines(card.nameLines, left, PAD.top, NAME_SIZE, 700, words.vacant ? 'warning' : 'ink'),
    ...textLines(words.title === '' ? [] : card.titleLines, left, under, TITLE_SIZE, 400, 'ink-quiet'),
    ...kit.lines(left, under + LINE * card.titleLines.length + 10.5, MORE_LINE, card.moreLines, {
      fill: 'ink-quiet',
      'font-size': MORE_SIZE,
    }),
    ...(words.face ? faceMarks(words.face, PAD.left, PAD.top, FACE.size) : []),
  ]
  if (words.acting) marks.push(...tab('acting', width - 8, -1))
  if (hidden > 0) marks.push(...tab(`${hidden} below`, width - 26, height - 5))
  return marks
}

function outlinePath(width: number, height: number, contractor: boolean): string {
  const [w, h] = [width - 0.5, height - 0.5]
  const corner = contractor ? `H${w - CUT}L${w} ${0.5 + CUT}` : `H${w - CORNER}Q${w} 0.5 ${w} ${0.5 + CORNER}`
  return `M${CORNER} 0.5${corner}V${h - CORNER}Q${w} ${h} ${w - CORNER} ${h}H${CORNER}Q0.5 ${h} 0.5 ${h - CORNER}V${CORNER}Q0.5 0.5 ${CORNER} 0.5Z`
}

/** Where a card's texts begin: beside the face, where there is one. */
const textLeft = ({ face }: CardWords): number => PAD.left + (face ? FACE.size + FACE.gap : 0)

const textLines = (
  lines: readonly string[],
  left: number,
  top: number,
  size: number,
  weight: number,
  fill: Role,
): Mark[] =>
  kit.lines(left, top + 12, LINE, lines, {
    fill,
    'font-size': size,
    ...(weight === 700 ? { 'font-weight': 700 } : {}),
  })

/** A small label on a card's edge that ends at `right`. */
function tab(text: string, right: number, top: number): Mark[] {
  const width = textWidth(text, 10, 'text400') + 10
  return [
    kit.rect({ x: right - width, y: top - 6, width, height: 14 }, { rx: 2, fill: 'sheet', stroke: 'outline' }),
    kit.text(right - width + 5, top + 4.5, text, { fill: 'ink-quiet', 'font-size': 10 }),
  ]
}

/** The texts of a card that are typed in place. */
export function cardTexts(card: Card): EditableText[] {
  const { words, width, nameLines, titleLines } = card
  const x = textLeft(words) - 4
  const nameHeight = LINE * nameLines.length
  const name: EditableText[] = [
    {
      part: 'holder',
      label: 'Name',
      value: words.vacant ? '' : words.name,
      box: { x, y: PAD.top - 2, width: width - x - 2, height: nameHeight + 1 },
    },
  ]
  if (titleLines.length === 0) return name
  return [
    ...name,
    {
      part: 'title',
      label: 'Title',
      value: words.title,
      box: { x, y: PAD.top + nameHeight - 1, width: width - x - 2, height: LINE * titleLines.length + 3 },
    },
  ]
}

/** The facts that a card stands for: the position, who holds it, and the ties that put it there. */
export function factsOf(node: PlanNode): Id[] {
  const { position, holders, line, assistsBy } = node.post
  return [
    position.id,
    ...holders.flatMap(({ person, holds }) => [person.id, holds.id]),
    ...(line ? [line.id] : []),
    ...(assistsBy ? [assistsBy.id] : []),
  ]
}
