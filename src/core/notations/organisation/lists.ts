import { shareOf, type ListReading } from '../../notation'
import { isTitled, looksLikeName } from './titled'

export const lists: readonly ListReading[] = [
  {
    id: 'people',
    word: 'people',
    title: 'Everyone',
    isWhole: true,
    picture: 'tree',
    likeness: (lines) => shareOf(lines, (line) => isTitled(line) || looksLikeName(line)),
  },
]
