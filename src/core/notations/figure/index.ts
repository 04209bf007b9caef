import type { Notation } from '../../notation'
import { exports, files } from './formats'
import { handling } from './handling'
import { measuresOf, numbers } from './numbers'
import { pictures } from './pictures'
import { rules } from './rules'
import { starters } from './starters'

/** A few lines that become a figure, in any arrangement. */
export const figure: Notation = {
  ...handling,
  pictures,
  rules,
  numbers,
  measures: measuresOf,
  imports: [],
  files,
  exports,
  starters,
}
