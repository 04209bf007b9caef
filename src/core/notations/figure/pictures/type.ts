import {
  isStyled,
  kit,
  plainOf,
  textWidth,
  wrapStyled,
  type Box,
  type Cut,
  type Mark,
  type Role,
  type Run,
} from '../../../scene'
import type { Id } from '../../../model'
import type { Part } from '../structure'

/** Texts of one rank have one size. */
export type Rank = 'title' | 'head' | 'detail'

/** The size of each rank, in px. */
export type Type = Readonly<Record<Rank, number>>

/** A text of a part. */
export interface Saying {
  /** None for a title that stands in no line. */
  readonly part: Part | undefined
  readonly text: string
  readonly rank: Rank
  /** How far its lines are set in, in steps. */
  readonly inset?: number
  readonly sign?: string
  readonly isStruck?: boolean
  /** Facts that it names, where it is of no part. */
  readonly names?: readonly Id[]
}

/** Where texts stand beneath one another. In the frame's px. */
export interface Slot {
  readonly box: Box
  readonly says: readonly Saying[]
  readonly align?: 'start' | 'middle' | 'end'
  readonly stands?: 'top' | 'middle'
  readonly fill?: Role
}

/** A line of text as it is set, or a stretch of it in one style. */
export interface SetLine {
  readonly saying: Saying
  readonly run: Run
  readonly x: number
  /** Of its baseline. */
  readonly y: number
  readonly width: number
}

export interface SetText {
  readonly lines: readonly SetLine[]
  /** Whether all of it is there, and no word is broken. */
  readonly isWhole: boolean
  readonly height: number
}

const LEADING = 1.26
/** From the top of a line to its baseline, as a share of its size. */
const RISE = 0.94
/** Between texts of a slot, as a share of the size of the one that follows. */
const BETWEEN = 0.22
const STEP = 1.1
const MOST_LINES = 60

const cutOf = (rank: Rank, isStrong = false): Cut => (rank === 'detail' && !isStrong ? 'text400' : 'text700')
const runWidth = ({ words, isStrong }: Run, rank: Rank, size: number): number =>
  textWidth(words, size, cutOf(rank, isStrong))

/** Sizes from the largest to the least, in the steps of a theme's type: as a rule a title is a fifth larger than heads, details three quarters of them. */
export const typeAt = (head: number, steps: number): Type => ({
  title: head * 1.2 ** steps,
  head,
  detail: head * 0.78 ** steps,
})

/** How far the lines of a text are set in, in px. */
const insetOf = ({ inset = 0, sign, rank }: Saying, type: Type): number =>
  (inset * STEP + (sign === undefined ? 0 : 0.9)) * type[rank]

/** How high texts stand in a width. O(letters) */
export function heightOf(says: readonly Saying[], width: number, type: Type): number {
  return says.reduce((sum, saying, at) => {
    const size = type[saying.rank]
    const room = width - insetOf(saying, type)
    const count = Math.max(1, room > 0 ? wrapStyled(saying.text, room, size, cutOf(saying.rank), MOST_LINES).length : 1)
    return sum + count * size * LEADING + (at === 0 ? 0 : size * BETWEEN)
  }, 0)
}

/** The widest word of texts, which a box has to hold. O(letters) */
export const widestOf = (says: readonly Saying[], type: Type): number =>
  says.reduce(
    (most, saying) =>
      Math.max(
        most,
        insetOf(saying, type) +
          plainOf(saying.text)
            .slice(0, 2000)
            .split(/\s+/)
            .reduce(
              (widest, word) =>
                Math.max(widest, textWidth(word, type[saying.rank], cutOf(saying.rank, isStyled(saying.text)))),
              0,
            ),
      ),
    0,
  )

/** Sets texts into a slot: what has no room is left out, the last line that has ends in an ellipsis. O(letters) */
export function setInto(slot: Slot, type: Type): SetText {
  const { box, says, align = 'start', stands = 'middle' } = slot
  const set: { saying: Saying; runs: readonly Run[]; top: number; inset: number }[] = []
  let [y, isWhole] = [0, true]
  for (const saying of says) {
    if (saying.text.trim() === '') continue
    const size = type[saying.rank]
    const begins = set.length === 0 ? y : y + size * BETWEEN
    const inset = insetOf(saying, type)
    const room = box.width - inset
    const most = Math.min(MOST_LINES, Math.floor((box.height - begins + 0.01) / (size * LEADING)))
    if (most < 1 || room < size * 0.6) {
      isWhole = false
      break
    }
    const lines = wrapStyled(saying.text, room, size, cutOf(saying.rank), most)
    const told = lines.flatMap((runs) => runs.map(({ words }) => words)).join('')
    if (told.replace(/\s/g, '') !== plainOf(saying.text).replace(/\s/g, '')) isWhole = false
    if (isWhole && widestOf([saying], type) > box.width + 0.01) isWhole = false
    lines.forEach((runs, at) => set.push({ saying, runs, top: begins + at * size * LEADING, inset }))
    y = begins + lines.length * size * LEADING
  }
  const top = box.y + (stands === 'middle' ? Math.max(0, (box.height - y) / 2) : 0)
  return {
    isWhole,
    height: y,
    lines: set.flatMap(({ saying, runs, top: from, inset }) => {
      const size = type[saying.rank]
      const widths = runs.map((run) => runWidth(run, saying.rank, size))
      const whole = widths.reduce((sum, width) => sum + width, 0)
      const left = box.x + inset
      const room = box.width - inset
      let x = align === 'start' ? left : align === 'end' ? left + room - whole : left + (room - whole) / 2
      return runs.map((run, at): SetLine => {
        const width = widths[at] ?? 0
        x += width
        return { saying, run, x: x - width, y: top + from + size * RISE, width }
      })
    }),
  }
}

/** The box of a set line. */
export const lineBox = ({ saying, x, y, width }: SetLine, type: Type): Box => {
  const size = type[saying.rank]
  return { x, y: y - size * 0.78, width, height: size }
}

/** The marks of set lines, as seen from a corner. */
export const markOf = ({ saying, run, x, y }: SetLine, type: Type, fill: Role, at: Box): Mark =>
  kit.text(x - at.x, y - at.y, run.words, {
    fill,
    'font-size': type[saying.rank],
    ...(cutOf(saying.rank, run.isStrong) === 'text700' ? { 'font-weight': 700 } : {}),
    ...(run.isSlanted ? { 'font-style': 'italic' as const } : {}),
    ...(saying.isStruck ? { 'text-decoration': 'line-through' as const } : {}),
  })

/** So much of the least side of a frame is the largest type, and the least that is tried. */
const LADDER = { share: 1 / 13, most: 34, least: 2.5, step: 0.94 } as const

/** The largest type, in the steps of a theme, in which something is whole: halved between sizes of a ladder. O(log sizes) times what it asks. */
export function largestType(frame: Box, typeSteps: number, isWhole: (type: Type) => boolean): Type {
  const largest = Math.min(LADDER.most, Math.min(frame.width, frame.height) * LADDER.share)
  const steps = Math.ceil(Math.log(LADDER.least / largest) / Math.log(LADDER.step))
  const at = (step: number) => typeAt(Math.round(largest * LADDER.step ** step * 4) / 4, typeSteps)
  let [fits, fails] = [steps, -1]
  while (fits - fails > 1) {
    const middle = (fits + fails) >> 1
    if (isWhole(at(middle))) fits = middle
    else fails = middle
  }
  return at(Math.max(0, fits))
}
