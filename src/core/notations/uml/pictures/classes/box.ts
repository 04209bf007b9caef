import { kit, textWidth, wrap, type Mark } from '../../../../scene'
import type { Classifier } from '../../structure'

/** How the box of a class is drawn: a name, and beneath it compartments (UML 2.5.1, 9.2.4 and 11.4.4). */

const NAME = { size: 12, line: 16 } as const
const WORD = { size: 10, line: 13 } as const
const MEMBER = { size: 10.5, line: 14, pad: 5 } as const
const PAD = { side: 9, top: 7, bottom: 6, strip: 4 } as const
const LEAST_WIDTH = 118
const MOST_WIDTH = 330
/** A compartment shows so many lines, and says how many more there are. */
const MOST_LINES = 40

export interface Choices {
  readonly attributes: boolean
  readonly operations: boolean
  /** Whether private members are shown, too. */
  readonly hidden: boolean
}

interface Line {
  readonly id: Classifier['id'] | undefined
  readonly text: string
  readonly isStatic: boolean
}

/** What stands in a box. */
export interface Content {
  /** Keyword and stereotypes, as the standard writes them. */
  readonly keyword: string
  readonly name: string
  readonly notes: string
  readonly compartments: readonly (readonly Line[])[]
}

const KEYWORDS: Readonly<Record<Classifier['form'], string>> = {
  class: '',
  interface: 'interface',
  enumeration: 'enumeration',
  'data type': 'dataType',
  primitive: 'primitive',
  signal: 'signal',
}

export function contentOf(one: Classifier, choices: Choices): Content {
  const words = [KEYWORDS[one.form], ...one.stereotypes].filter(Boolean)
  const seen = <T extends Classifier['attributes'][number] | Classifier['operations'][number]>(list: readonly T[]) =>
    list.filter(({ visibility }) => choices.hidden || visibility !== 'private')
  const lines = (list: readonly Line[]): readonly Line[] =>
    list.length <= MOST_LINES
      ? list
      : [
          ...list.slice(0, MOST_LINES - 1),
          { id: undefined, text: `… and ${list.length - MOST_LINES + 1} more`, isStatic: false },
        ]
  const literals = one.literals.map(({ id, name }): Line => ({ id, text: name, isStatic: false }))
  return {
    keyword: words.length === 0 ? '' : `«${words.join(', ')}»`,
    name: one.name,
    notes: [one.isAbstract ? 'abstract' : '', one.isLeaf ? 'leaf' : ''].filter(Boolean).join(', '),
    compartments: [
      ...(literals.length > 0 ? [lines(literals)] : []),
      ...(choices.attributes ? [lines(seen(one.attributes).map(lineOfMember))] : []),
      ...(choices.operations ? [lines(seen(one.operations).map(lineOfMember))] : []),
    ].filter((list) => list.length > 0),
  }
}

const lineOfMember = ({
  id,
  text,
  isStatic,
}: Classifier['attributes'][number] | Classifier['operations'][number]): Line => ({
  id,
  // Static members are underlined, so that the word is not needed.
  text: isStatic ? text.replace(/ \{static\}$/, '').replace(/, static\}$/, '}') : text,
  isStatic,
})

const headHeight = ({ keyword, notes }: Content): number =>
  PAD.top + (keyword === '' ? 0 : WORD.line) + NAME.line + (notes === '' ? 0 : WORD.line) + PAD.bottom - 2

export function boxSize(content: Content): { width: number; height: number } {
  const { keyword, name, notes, compartments } = content
  const widths = [
    textWidth(name, NAME.size, 'text700'),
    textWidth(keyword, WORD.size, 'text400'),
    textWidth(`{${notes}}`, WORD.size, 'text400'),
    ...compartments.flat().map(({ text }) => textWidth(text, MEMBER.size, 'mono400')),
  ]
  return {
    width: Math.min(MOST_WIDTH, Math.max(LEAST_WIDTH, Math.ceil(Math.max(...widths)) + 2 * PAD.side + PAD.strip)),
    height:
      headHeight(content) + compartments.reduce((sum, list) => sum + list.length * MEMBER.line + 2 * MEMBER.pad, 0),
  }
}

/** Where a text of a box is typed into. */
export interface Place {
  readonly id: Classifier['id']
  readonly text: string
  readonly y: number
}

export const nameBox = (content: Content, width: number) => ({
  x: PAD.strip + 2,
  y: PAD.top + (content.keyword === '' ? 0 : WORD.line) - 3,
  width: width - PAD.strip - 4,
  height: NAME.line + 4,
})

export const memberBox = (y: number, width: number) => ({
  x: PAD.strip + 2,
  y,
  width: width - PAD.strip - 4,
  height: MEMBER.line,
})

/** Each member that is shown, with where its line begins. */
export function memberPlaces(content: Content): readonly Place[] {
  const places: Place[] = []
  let y = headHeight(content)
  for (const list of content.compartments) {
    y += MEMBER.pad
    for (const { id, text } of list) {
      if (id !== undefined) places.push({ id, text, y })
      y += MEMBER.line
    }
    y += MEMBER.pad
  }
  return places
}

/** A box; `category` is the colour of its package, 0 for none. */
export function boxMarks(
  content: Content,
  { width, height }: { width: number; height: number },
  category: number,
): Mark[] {
  const middle = PAD.strip / 2 + width / 2
  const room = width - 2 * PAD.side - PAD.strip
  const { keyword, name, notes, compartments } = content
  const marks: Mark[] = [
    kit.rect(
      { x: 0.5, y: 0.5, width: width - 1, height: height - 1 },
      { rx: 2, fill: 'plate', stroke: 'outline', 'stroke-width': 1 },
    ),
    kit.rect({ x: 0, y: 0, width: PAD.strip, height }, { rx: 1, fill: `edge-${category}`, stroke: 'none' }),
  ]
  const centred = (y: number, words: string, size: number, weight: number) => {
    const [line = ''] = wrap(words, room, size, weight === 700 ? 'text700' : 'text400', 1)
    marks.push(
      kit.text(middle, y, line, {
        fill: weight === 700 ? 'ink' : 'ink-quiet',
        'font-size': size,
        'font-weight': weight,
        'text-anchor': 'middle',
      }),
    )
  }
  let y: number = PAD.top
  if (keyword !== '') {
    centred(y + 9, keyword, WORD.size, 400)
    y += WORD.line
  }
  centred(y + 12, name, NAME.size, 700)
  y += NAME.line
  if (notes !== '') centred(y + 9, `{${notes}}`, WORD.size, 400)
  y = headHeight(content)
  for (const list of compartments) {
    marks.push(kit.path(`M${PAD.strip} ${y}H${width - 0.5}`, { fill: 'none', stroke: 'outline', 'stroke-width': 1 }))
    y += MEMBER.pad
    for (const { text, isStatic } of list) {
      const [line = ''] = wrap(text, room, MEMBER.size, 'mono400', 1)
      const x = PAD.strip + PAD.side
      marks.push(kit.text(x, y + 10.5, line, { fill: 'ink', 'font-family': 'mono', 'font-size': MEMBER.size }))
      if (isStatic)
        marks.push(
          kit.path(`M${x} ${y + 12.5}H${x + Math.ceil(textWidth(line, MEMBER.size, 'mono400'))}`, {
            fill: 'none',
            stroke: 'ink',
            'stroke-width': 0.8,
          }),
        )
      y += MEMBER.line
    }
    y += MEMBER.pad
  }
  return marks
}
