import { apply, Model, type Day, type Id, type Step, type View } from '../model'
import { clip } from './entry'
import { readList } from './lines'
import type { Handling, ListReading } from './notation'
import type { Refusal } from './wish'

/** A list in all the ways in which it can be read, the likeliest first. */
export interface Likeness {
  readonly reading: ListReading
  readonly notation: Handling
  /** From 0 to 1. */
  readonly score: number
}

/** So many lines tell what a list looks like. */
const MOST_LOOKED_AT = 400
/** Characters of a line that tell it: taking one apart may look at each of them for each other one. */
const MOST_OF_LINE = 400

/** How much a list looks like each of the sorts that the notations know. O(lines looked at). */
export function likenesses(notations: readonly Handling[], text: string): readonly Likeness[] {
  const read = readList(text)
  const lines = 'refused' in read ? [] : read.slice(0, MOST_LOOKED_AT).map((line) => line.text.slice(0, MOST_OF_LINE))
  return notations
    .flatMap((notation) =>
      notation.lists.map((reading) => ({
        notation,
        reading,
        score: lines.length === 0 ? 0 : reading.likeness(lines),
      })),
    )
    .sort((a, b) => b.score - a.score)
}

/** Facts of a list, and what it was read as. */
export interface Begun {
  readonly model: Model
  readonly reading: ListReading
  /** What makes them of the facts that there were, and the view that shows them. */
  readonly steps: readonly Step[]
  readonly view: Id
}

/** All that a list may be read as, in the order of the notations. */
export const waysToRead = (notations: readonly Handling[]): ListWay[] =>
  notations.flatMap(({ lists }) => lists.map(({ id, word }) => ({ id, word })))

export type ListWay = Pick<ListReading, 'id' | 'word'>

/**
 * A list on top of the facts there are, with a view of its own: read as what it looks like, or as what somebody says it is. What it names that is there
 * already is that. An empty list has no facts. O(lines + facts)
 */
export function begunWith(
  notations: readonly Handling[],
  text: string,
  as: string | undefined,
  newId: () => Id,
  day: Day,
  onto = Model.of({ name: NEW_WORKSPACE }),
): Begun | Refusal {
  const all = likenesses(notations, text)
  const taken = all.find(({ reading }) => reading.id === as) ?? all[0]
  if (!taken) return { refused: 'No notation takes a list.' }
  const { notation, reading } = taken
  const named = { ...notation.view(newId, reading.title), picture: reading.picture }
  const view = notation.blank ? { ...named, scope: notation.blank } : named
  const begin: Step = { do: 'add-view', view }
  const { model: empty } = apply(onto, { label: '', steps: [begin] })
  if (text.trim() === '' || !notation.outline) return { model: empty, reading, steps: [begin], view: view.id }
  const outcome = notation.outline.paste({ model: empty, view, day, selection: [], newId }, undefined, text)
  if ('refused' in outcome) return outcome
  const { model: told } = apply(empty, outcome.change)
  const shown = told.views.get(view.id) ?? view
  const title = ownTitle(
    onto.views.values(),
    titleAfter(notation, told, shown, day) ?? reading.title,
    notation,
    shown.picture,
  )
  const call: Step = { do: 'set-view', id: view.id, path: 'title', value: title }
  const { model } = apply(told, { label: '', steps: [call] })
  const steps = [begin, ...outcome.change.steps, call]
  return { model: model.with({ name: nameOf(text, model) }), reading, steps, view: view.id }
}

/** So many facts are asked whether the list begins with them. */
const MOST_ASKED = 50

/** A workspace is called after the fact that its list begins with. */
function nameOf(text: string, model: Model): string {
  const named = [...model.entities.values()]
    .slice(0, MOST_ASKED)
    .map(({ name, kind }) => ({ name, kind, at: text.indexOf(name) }))
    .filter(({ at }) => at >= 0)
    .sort((a, b) => a.at - b.at)
  const [first] = named
  if (!first) return NEW_WORKSPACE
  const more = model.ofKind(first.kind).length - 1
  return more === 0 ? clip(first.name) : `${clip(first.name)} and ${more.toLocaleString('en')} more`
}

const NEW_WORKSPACE = 'New workspace'

/**
 * What a view is called after: the first of what its lines begin with, and how many more there are; where it shows all there is, that. Undefined where it has no
 * lines. O(lines)
 */
export function titleAfter({ outline, lists }: Handling, model: Model, view: View, day: Day): string | undefined {
  const tops = (outline?.lines(model, view, day) ?? []).filter(({ depth }) => depth === 0)
  // What a line does not name, as the start of a process, has no name to speak of.
  const names = tops.flatMap(({ id, text }) => {
    const { name = '' } = model.entities.get(id) ?? {}
    return name !== '' && text.includes(name) ? [name] : []
  })
  const [first] = names
  if (first === undefined) return undefined
  const whole = lists.find(({ isWhole }) => isWhole)
  if (whole) return whole.title
  return names.length === 1 ? clip(first) : `${clip(first)} and ${(names.length - 1).toLocaleString('en')} more`
}

/** A title that no other view of some has: with the picture it shows, else with a number, where one is called so already. */
export function ownTitle(views: Iterable<View>, title: string, { pictures }: Handling, picture: string): string {
  const taken = new Set(Array.from(views, (view) => view.title))
  const shown = pictures.find(({ id }) => id === picture)?.title.toLowerCase()
  const named = taken.has(title) && shown !== undefined ? `${title}, ${shown}` : title
  let [own, count] = [named, 1]
  while (taken.has(own)) own = `${named} ${++count}`
  return own
}

/** The share of lines of which something holds. */
export const shareOf = (lines: readonly string[], holds: (line: string) => boolean): number =>
  lines.filter(holds).length / Math.max(1, lines.length)
