import { findingsAbout, tally, type Tally } from '../core/findings/findings'
import { wordsOf, type Day, type Id, type Model, type View } from '../core/model'
import type { Finding, Measure, Notation } from '../core/notation'
import type { Scene } from '../core/scene'
import type { ListDelta, SceneDelta } from './delta'

/** What the page shows of the facts at one moment, apart from their texts. */
export interface Asked {
  readonly view: Id
  /** Another picture than the view’s own, to be looked at before it is taken. */
  readonly picture?: string
  readonly day: Day
  /** A second day that the picture is compared with. */
  readonly compared: Day | undefined
  readonly selection: readonly Id[]
  /** The parts that are wanted now: the picture comes first, what is found and counted follows. */
  readonly wants: { readonly scene?: boolean; readonly findings?: boolean; readonly notes?: boolean }
}

/** What was read off the facts, as far as it was asked for. */
export interface Reading {
  /** What leads from the scene that was drawn last to this one; absent too where the view, or its picture, is not known. */
  readonly scene?: SceneDelta
  /** What leads from the findings before to these. */
  readonly findings?: ListDelta
  readonly notes?: Notes
}

/** What stands beside the page about a view and what is selected in it. */
export interface Notes {
  /** Open findings of everything, and of what the view shows. */
  readonly counts: { readonly all: Tally; readonly view: Tally }
  /** Places in the list of findings: those about what is selected, or else about what the view shows. */
  readonly about: Int32Array
  readonly measures: { readonly of: string; readonly list: readonly Measure[] } | undefined
  /** A line about what is selected. */
  readonly described: string | undefined
  /** What is reckoned of what is selected, by column. */
  readonly reckoned:
    { readonly of: Id; readonly values: Readonly<Record<string, string | number | undefined>> } | undefined
  /** How many rows a register has, where they are not the entities of its kind. */
  readonly rows: Readonly<Record<string, number | string | undefined>>
}

/** O(items + findings), and what the notation’s numbers cost. */
export function notesOn(
  model: Model,
  notation: Notation,
  view: View,
  { day, selection }: Pick<Asked, 'day' | 'selection'>,
  scene: Scene | undefined,
  findings: readonly Finding[],
): Notes {
  const items = scene?.items ?? []
  // What is said of the view itself is said where it is shown.
  const shown = findingsAbout(findings, [view.id, ...items.flatMap(({ facts }) => facts)])
  const place = new Map(findings.map((finding, at) => [finding, at]))
  const about = selection.length === 0 ? shown : findingsAbout(findings, alongside(items, selection))
  const [selected] = selection
  return {
    counts: { all: tally(findings), view: tally(shown) },
    about: Int32Array.from(about, (finding) => place.get(finding) ?? -1),
    measures: measuresOn(() => notation.measures(model, day, selected, view)),
    described: selected === undefined ? undefined : saidOr(() => notation.describe(model, selected, day)),
    reckoned:
      selected === undefined ? undefined : { of: selected, values: reckonedTies(model, notation, selected, day) },
    rows: Object.fromEntries(
      notation.registers.flatMap(({ id, count }) => (count ? [[id, saidOr(() => count(model, view, day))]] : [])),
    ),
  }
}

function reckonedTies(model: Model, notation: Notation, id: Id, day: Day) {
  const entity = model.entities.get(id)
  const ties = entity ? notation.ties(model, entity).filter(({ isReckoned }) => isReckoned) : []
  return Object.fromEntries(ties.map((column) => [column.id, saidOr(() => column.read(model, id, day))]))
}

/** What is selected, with what stands in one item with it. */
function alongside(items: Scene['items'], selection: readonly Id[]): ReadonlySet<Id> {
  const own = new Set(selection)
  const all = new Set(selection)
  for (const { facts } of items) if (facts.some((fact) => own.has(fact))) for (const fact of facts) all.add(fact)
  return all
}

/** Numbers that cannot be computed say why, and stop nothing else. */
function measuresOn(measure: () => Notes['measures']): Notes['measures'] {
  try {
    return measure()
  } catch (error) {
    return { of: 'not computed', list: [{ label: wordsOf(error), value: '–' }] }
  }
}

/** What cannot be told says why, and stops nothing else. */
function saidOr<T>(tell: () => T): T | string {
  try {
    return tell()
  } catch (error) {
    return wordsOf(error)
  }
}

/** The findings that notes speak about, and the others. O(findings) */
export function findingsHere(
  findings: readonly Finding[],
  notes: Pick<Notes, 'about'> | undefined,
): { readonly here: readonly Finding[]; readonly others: readonly Finding[] } {
  const here = [...(notes?.about ?? [])].flatMap((at) => findings[at] ?? [])
  const known = new Set(here)
  return { here, others: findings.filter((finding) => !known.has(finding)) }
}
