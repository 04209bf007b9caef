import type { Notation } from '../../notation'
import { ldifExport } from './formats/ldif'
import { scimExport } from './formats/scim'
import { staffTable } from './formats/staffTable'
import { vcardExport } from './formats/vcard'
import { handling } from './handling'
import { measuresOf, numbers } from './numbers'
import { directory } from './pictures/directory'
import { tree } from './pictures/tree'
import { units } from './pictures/units'
import { rules } from './rules'
import { starters } from './starters'

/** Who holds which position, and who reports to whom, on any day. */
export const organisation: Notation = {
  ...handling,
  pictures: [tree, units, directory],
  rules,
  numbers,
  measures: measuresOf,
  imports: [staffTable],
  files: [],
  exports: [ldifExport, scimExport, vcardExport],
  starters,
}
