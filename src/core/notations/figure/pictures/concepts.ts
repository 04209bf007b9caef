import type { Id, View } from '../../../model'
import { textOf, type Picture } from '../../../notation'
import {
  aroundPoints,
  kit,
  paperOf,
  textWidth,
  wrap,
  type Box,
  type Item,
  type Link as Line,
  type Mark,
  type Paint,
  type Point,
  type Role,
  type Scene,
  type Size,
} from '../../../scene'
import { conceptGestures } from '../maps/gestures'
import { layOutMap, type MapLaid } from '../maps/layout'
import { asFarAs, crossLinks, levelsOf, mapOn, type Concept, type ConceptMap, type Link } from '../maps/structure'
import { frameOf } from './draw'
import { cutDown } from './frame'
import { oval } from './shape'

const NAME = { size: 13, line: 17, most: 150 } as const
const PHRASE = { size: 11, line: 14, most: 110 } as const
const PAD = { across: 12, down: 9 } as const
const HEAD = { length: 8, half: 3.5, width: 1.3 } as const
const COLOURS = 8
const MOST_LINES = 3

const linesOf = (one: Concept): readonly string[] => wrap(one.entity.name, NAME.most, NAME.size, 'text700', MOST_LINES)
const phraseLines = ({ phrase }: Link): readonly string[] =>
  wrap(phrase, PHRASE.most, PHRASE.size, 'text400', MOST_LINES)
const widest = (lines: readonly string[], size: number, cut: 'text400' | 'text700'): number =>
  Math.max(10, ...lines.map((line) => textWidth(line, size, cut)))

type ConceptShape = 'rounded' | 'square' | 'ovals'

const shapeIn = ({ options }: View): ConceptShape =>
  (['square', 'ovals'] as const).find((one) => one === options['shape']) ?? 'rounded'

/** What is written in an oval needs this much more room: the rectangle within it. */
const OVAL = 1.3

const sizeOf = (one: Concept, shape: ConceptShape): Size => {
  const lines = linesOf(one)
  const [width, height] = [Math.ceil(widest(lines, NAME.size, 'text700')), lines.length * NAME.line]
  return shape === 'ovals'
    ? { width: Math.ceil(width * OVAL) + PAD.across, height: Math.ceil(height * OVAL) + PAD.down }
    : { width: width + 2 * PAD.across, height: height + 2 * PAD.down }
}
const phraseSize = (link: Link): Size | undefined => {
  const lines = phraseLines(link)
  if (lines.length === 0) return undefined
  return { width: Math.ceil(widest(lines, PHRASE.size, 'text400')) + 6, height: lines.length * PHRASE.line + 2 }
}

/** Concepts and what links them, in words (Novak & Gowin 1984): the title and the question on top, the rest fills the page. */
export const concepts: Picture = {
  ...conceptGestures,
  needs: ['figure.question', 'concept.figure', 'links.phrase'],
  draw: (model, view, day): Scene => {
    const whole = mapOn(model, view, day)
    const map = asFarAs(whole, MOST_CONCEPTS, MOST_LINKS)
    const { paper, frame } = frameOf(view)
    const named = paperOf(view.look)
    const base = {
      bounds: paper,
      backdrop: [],
      items: [],
      links: [],
      ...(named ? { paper: { ...named, box: paper, scale: 1 } } : {}),
    }
    if (map.concepts.length === 0) return { ...base, headline: 'No concepts yet', summary: 'A map without concepts.' }
    const title = view.options['title'] === false ? undefined : titleItem(map, frame)
    const [, below] = cutDown(frame, title ? title.box.height : 0, title ? 12 : 0)
    const form = shapeIn(view)
    const laid = layOutMap(map, below, (one) => sizeOf(one, form), phraseSize)
    const levels = levelsOf(map)
    const cross = new Set(crossLinks(map))
    return {
      ...base,
      items: [
        ...(title ? [title] : []),
        ...map.concepts.map((one) => conceptItem(one, laid, levels, form)),
        ...map.links.flatMap((link) => linkItem(link, laid)),
      ],
      links: map.links.flatMap((link) => lineOf(link, laid, cross.has(link))),
      headline: headlineOf(whole, map),
      summary: `${map.figure?.name ?? view.title}: ${map.links.map(({ from, phrase, to }) => `${from.entity.name} ${phrase} ${to.entity.name}`).join('; ') || 'nothing is linked yet'}.`,
    }
  },
}

/** So much is laid out while somebody waits. */
const MOST_CONCEPTS = 150
const MOST_LINKS = 240

function headlineOf(whole: ConceptMap, { concepts: drawn, links }: ConceptMap): string {
  const count = (number: number, all: number, one: string) =>
    `${number < all ? `the first ${number} of ` : ''}${all.toLocaleString('en')} ${one}${all === 1 ? '' : 's'}`
  return `${count(drawn.length, whole.concepts.length, 'concept')}, ${count(links.length, whole.links.length, 'link')}`
}

function titleItem({ figure }: ConceptMap, frame: Box): Item | undefined {
  if (!figure) return undefined
  const question = textOf(figure, 'question')
  const size = Math.max(9, Math.min(26, Math.min(frame.width, frame.height) / 22))
  const titles = wrap(figure.name, frame.width, size, 'text700', 2)
  const questions = question === undefined ? [] : wrap(question, frame.width, size * 0.7, 'text400', 2)
  const box = { ...frame, height: titles.length * size * 1.25 + questions.length * size * 0.95 + 2 }
  return {
    id: figure.id,
    facts: [figure.id],
    label: figure.name,
    box,
    marks: [
      ...kit.lines(0, size, size * 1.25, titles, { fill: 'ink', 'font-size': size, 'font-weight': 700 }),
      ...kit.lines(0, titles.length * size * 1.25 + size * 0.7, size * 0.95, questions, {
        fill: 'ink-quiet',
        'font-size': size * 0.7,
      }),
    ],
    texts: [
      {
        part: 'name',
        value: figure.name,
        label: 'Title',
        box: { x: 0, y: 0, width: box.width, height: titles.length * size * 1.25 },
      },
    ],
  }
}

function conceptItem(
  one: Concept,
  { boxes, scale }: MapLaid,
  levels: ReadonlyMap<Concept, number>,
  form: ConceptShape,
): Item {
  const box = boxes.get(one) ?? { x: 0, y: 0, width: 1, height: 1 }
  const { width, height } = box
  const n = (((levels.get(one) ?? 1) - 1) % COLOURS) + 1
  const stroke: Role = `edge-${n}`
  const lines = linesOf(one)
  const step = NAME.line * scale
  const [first] = one.said
  return {
    id: one.id,
    facts: [one.id],
    label: one.entity.name,
    box,
    marks: [
      outlineOf(form, { x: 0, y: 0, width, height }, { fill: `fill-${n}`, stroke, 'stroke-width': 1.2 }),
      ...kit.lines(width / 2, height / 2 - ((lines.length - 1) * step) / 2 + NAME.size * scale * 0.35, step, lines, {
        fill: 'ink',
        'font-size': NAME.size * scale,
        'font-weight': 700,
        'text-anchor': 'middle',
      }),
    ],
    texts: [
      {
        part: 'name',
        value: one.entity.name,
        label: 'Concept',
        box: { x: 1, y: 1, width: width - 2, height: height - 2 },
      },
    ],
    handles: [{ id: 'link', box: { x: width / 2 - 5, y: height - 4, width: 10, height: 8 }, pulls: 'line' }],
    ...(first ? { parent: first.from.id } : {}),
  }
}

const outlineOf = (form: ConceptShape, box: Box, paint: Paint): Mark =>
  form === 'ovals'
    ? kit.path(oval(box), paint)
    : kit.rect(box, { ...paint, ...(form === 'rounded' ? { rx: Math.min(9, box.height / 4) } : {}) })

const HOLD = 14

/** What is said on a line, to be taken hold of and typed into. */
function linkItem(link: Link, { phrases, ways, scale }: MapLaid): readonly Item[] {
  const way = ways.get(link)
  if (!way) return []
  const room = phrases.get(link)
  const at = way[Math.floor(way.length / 2)] ?? { x: 0, y: 0 }
  const box = room ?? { x: at.x - HOLD / 2, y: at.y - HOLD / 2, width: HOLD, height: HOLD }
  const lines = phraseLines(link)
  const step = PHRASE.line * scale
  return [
    {
      id: link.relation.id,
      facts: [link.relation.id],
      label: `${link.from.entity.name} ${link.phrase} ${link.to.entity.name}`,
      box,
      marks: room
        ? kit.lines(
            box.width / 2,
            box.height / 2 - ((lines.length - 1) * step) / 2 + PHRASE.size * scale * 0.35,
            step,
            lines,
            {
              fill: 'ink-quiet',
              'font-size': PHRASE.size * scale,
              'text-anchor': 'middle',
            },
          )
        : [],
      texts: [
        {
          part: 'phrase',
          value: link.phrase,
          label: 'Phrase',
          box: { x: -20, y: -4, width: Math.max(90, box.width + 40), height: Math.max(20, box.height + 8) },
        },
      ],
      parent: link.from.id,
    },
  ]
}

function lineOf(link: Link, { ways, scale }: MapLaid, isCross: boolean): readonly Line[] {
  const way = ways.get(link) ?? []
  if (way.length < 2) return []
  const stroke: Role = isCross ? 'ink' : 'line'
  return [
    {
      id: link.relation.id,
      source: link.from.id as Id,
      target: link.to.id,
      bounds: aroundPoints(way, 12),
      marks: arrowOf(way, stroke, isCross, Math.max(0.5, scale)),
    },
  ]
}

const arrowOf = (way: readonly Point[], stroke: Role, isCross: boolean, scale: number) => {
  const [line, ...rest] = kit.arrow(way, stroke, {
    width: HEAD.width * scale,
    length: HEAD.length * scale,
    half: HEAD.half * scale,
  })
  if (!line || line.tag !== 'path' || !isCross) return line ? [line, ...rest] : []
  return [{ ...line, attrs: { ...line.attrs, 'stroke-dasharray': '6 4' } }, ...rest]
}
