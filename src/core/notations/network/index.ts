import type { Notation } from '../../notation'
import { handling } from './handling'
import { measuresOf } from './measures'
import { numbers } from './numbers'
import { zones } from './pictures/zones'
import { rules } from './rules'
import { starters } from './starters'
import { packet } from './trials'

/** What is joined to what, on any day. */
export const network: Notation = {
  ...handling,
  pictures: [zones],
  rules,
  numbers,
  measures: measuresOf,
  imports: [],
  files: [],
  exports: [],
  starters,
  trials: [packet],
}
