import { apply, asId, Model, type Day, type Id, type View } from '../../../src/core/model'
import { sheetOf, type Finding, type Outcome, type SheetRow, type Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { outline } from '../../../src/core/notations/network/outline'
import { netShown, type Net } from '../../../src/core/notations/network/structure'
import { foundBy } from '../../../src/core/findings/findings'
import { DAY, numbering } from '../../facts'

/** Networks for tests, stated as their outline: as briefly as they can be read. */

export const networkView = (more: Partial<View> = {}): View => ({
  id: asId('view'),
  notation: 'network',
  picture: 'zones',
  title: 'The network',
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look: {},
  ...more,
})

/** @throws Error with the reason where a line cannot be read. */
export function network(text: string, more: Parameters<typeof Model.of>[0] = {}): Model {
  const view = networkView()
  const begun = Model.of({ ...more, views: [view] })
  const outcome = outline.paste(
    { model: begun, view, day: '2000-01-01' as Day, selection: [], newId: numbering('n') },
    undefined,
    text.replace(/^\n/, ''),
  )
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(begun, outcome.change).model
}

export const netIn = (model: Model, day: Day = DAY): Net => netShown(model, viewIn(model), day)
export const viewIn = (model: Model): View => model.views.get(asId('view')) ?? networkView()

/** The entity of a name, of a kind where it matters. */
export function named(model: Model, name: string, kind?: string): Id {
  const found = [...model.entities.values()].find(
    (one) => one.name === name && (kind === undefined || one.kind === kind),
  )
  if (!found) throw new Error(`nothing is called “${name}”`)
  return found.id
}

/** Identities that no other wish of a test has. */
const fresh = numbering('m')

export const wishIn = (model: Model, selection: readonly string[], more: Partial<Wish> = {}): Wish => ({
  model,
  view: viewIn(model),
  day: DAY,
  selection: selection.map((name) => named(model, name)),
  newId: fresh,
  ...more,
})

/** The facts after an outcome. @throws Error with the refusal. */
export function after(model: Model, outcome: Outcome): Model {
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(model, outcome.change).model
}

/** What one rule finds. */
export function findings(rule: string, model: Model, day: Day = DAY): Finding[] {
  const known = registry.rules.get(rule)
  if (!known) throw new Error(`no rule “${rule}”`)
  return foundBy(known, model, day)
}

/** What one rule finds after the first fix of its first finding. */
export function mended(rule: string, model: Model, fix = 0, day: Day = DAY): Finding[] {
  const [first] = findings(rule, model, day)
  const change = first?.fixes[fix]?.change
  if (!change) throw new Error(`“${rule}” offers no such fix`)
  return findings(rule, apply(model, change).model, day)
}

export const rows = (path: string, model: Model, more: { from?: string; to?: string } = {}): readonly SheetRow[] =>
  sheetOf(registry, path)?.rows(model, DAY, more) ?? []
