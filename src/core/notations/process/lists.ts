import { shareOf, type ListReading } from '../../notation'
import { isWay, readNode } from './words'

/** Signs that only lines of a process have. */
const isSaid = (line: string): boolean => {
  const { kind, type, lane } = readNode(line)
  return kind !== 'step' || type !== 'task' || typeof lane === 'string' || isWay(line)
}
/** A few words of which some after the first are small, as a doing is written, and no date or duration beside them. */
const isDoing = (line: string): boolean => {
  const words = line.trim().split(/\s+/)
  return (
    words.length >= 2 &&
    words.slice(1).some((word) => /^\p{Ll}/u.test(word)) &&
    !/[—–|\t;]|\d{4}|\d\s?[dwh]\b/.test(line)
  )
}

export const lists: readonly ListReading[] = [
  {
    id: 'steps',
    word: 'steps',
    title: 'How it is done',
    picture: 'lanes',
    likeness: (lines) => {
      const said = shareOf(lines, isSaid)
      return Math.min(1, said > 0 ? 0.55 + said : 0.7 * shareOf(lines, isDoing))
    },
  },
]
