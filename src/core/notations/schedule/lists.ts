import { shareOf, type ListReading } from '../../notation'
import { isDated } from './timelineOutline'
import { readWork } from './words'

/** Whether a line says how long something takes, or what it waits for. */
const isPlanned = (line: string): boolean => {
  const { duration, after, from, by, kind } = readWork(line)
  return duration !== undefined || after !== undefined || from !== undefined || by !== undefined || kind === 'milestone'
}

export const lists: readonly ListReading[] = [
  {
    id: 'tasks',
    word: 'tasks',
    title: 'The plan',
    picture: 'bars',
    likeness: (lines) => Math.min(1, 1.7 * shareOf(lines, isPlanned)),
  },
  {
    id: 'events',
    word: 'events',
    title: 'What happened',
    picture: 'timeline',
    likeness: (lines) => shareOf(lines, isDated),
  },
]
