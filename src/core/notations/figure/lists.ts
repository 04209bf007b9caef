import { shareOf, type ListReading } from '../../notation'

/** A few lines that are neither people nor steps of a process, nor anything else that a line may state. */
export const lists: readonly ListReading[] = [
  {
    id: 'figure',
    word: 'a figure',
    title: 'Figure',
    picture: 'cards',
    // Whatever reads a list better does: this one takes any.
    likeness: (lines) => 0.34 * shareOf(lines, (line) => line.length < 160),
  },
]
