import { dayInWords, type Day, type Id, type Model } from '../../model'
import { plainView, type Column, type Handling } from '../../notation'
import { actions } from './actions'
import { scope } from './folds'
import { directory, tree, units } from './gestures'
import { position, relationKinds } from './kinds'
import { lists } from './lists'
import { outline } from './outline'
import { fills, holder, partOf, registers, reportsTo, unit } from './registers'
import { structureOn, unitName } from './structure'
import { countOf } from './words'

/** What the margin shows of a kind besides its fields. */
const TIES: Readonly<Record<string, readonly Column[]>> = {
  position: [holder, reportsTo, unit, fills],
  unit: [partOf],
}

/** How it is stated who holds which position, and who reports to whom, on any day. */
export const handling: Handling = {
  id: 'organisation',
  title: 'Organisation',
  chapter: 'People',
  entityKinds: [position],
  relationKinds,
  pictures: [tree, units, directory],
  scope,
  actions,
  registers,
  outline,
  lists,
  describe,
  ties: (_model, { kind }) => TIES[kind] ?? [],
  view: plainView('organisation', 'tree'),
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
