import { dayInWords, type Day, type Id, type Model } from '../../model'
import type { Column, Notation } from '../../notation'
import { actions } from './actions'
import { ldifExport } from './formats/ldif'
import { scimExport } from './formats/scim'
import { staffTable } from './formats/staffTable'
import { vcardExport } from './formats/vcard'
import { scope } from './folds'
import { position, relationKinds } from './kinds'
import { measuresOf, numbers } from './numbers'
import { outline } from './outline'
import { directory } from './pictures/directory'
import { tree } from './pictures/tree'
import { units } from './pictures/units'
import { fills, holder, partOf, registers, reportsTo, unit } from './registers'
import { rules } from './rules'
import { newView, starters } from './starters'
import { structureOn, unitName } from './structure'
import { countOf } from './words'

/** What the margin shows of a kind besides its fields. */
const TIES: Readonly<Record<string, readonly Column[]>> = {
  position: [holder, reportsTo, unit, fills],
  unit: [partOf],
}

/** Who holds which position, and who reports to whom, on any day. */
export const organisation: Notation = {
  id: 'organisation',
  title: 'Organisation',
  chapter: 'People',
  entityKinds: [position],
  relationKinds,
  pictures: [tree, units, directory],
  scope,
  actions,
  rules,
  registers,
  outline,
  numbers,
  measures: measuresOf,
  imports: [staffTable],
  files: [],
  exports: [ldifExport, scimExport, vcardExport],
  starters,
  describe,
  ties: (_model, { kind }) => TIES[kind] ?? [],
  view: newView,
  branch: (root) => ({ root }),
}

function describe(model: Model, id: Id, day: Day): string | undefined {
  const entity = model.entities.get(id)
  if (entity?.kind === 'person') {
    const held = model.leaving(id, 'holds').flatMap(({ target }) => model.entities.get(target)?.name ?? [])
    return held.length > 0 ? held.join(' · ') : 'Holds no position'
  }
  if (entity?.kind !== 'position') return undefined
  const post = structureOn(model, day).posts.get(id)
  if (!post) return `Not in force on ${dayInWords(day)}`
  const who = post.holders.map(({ person }) => person.name).join(' & ') || 'Vacant'
  return [who, unitName(model, post.position), countOf(post.reports.length, 'report')].filter(Boolean).join(' · ')
}
