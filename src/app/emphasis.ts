import type { Id, Step, View } from '../core/model'
import { EMPHASES, MOST_RULES, PLAIN, readRule, rulesOf, setView, slugOf, toggled } from '../core/notation'
import { make } from './store/changes'
import { currentView, notify, useWorkspace } from './store/state'

/** Where an emphasis holds: in the view shown, or wherever its fact is drawn. */
export type Reach = 'view' | 'everywhere'

/** Keys of the row of emphases, and what each is. */
export const EMPHASIS_KEYS: ReadonlyMap<string, string> = new Map([
  ['s', 'strong'],
  ['q', 'quiet'],
  ['x', 'crossed out'],
  ...EMPHASES.filter((word) => word.startsWith('category')).map((word) => [word.slice(-1), word] as const),
  ['0', PLAIN],
])

/** Gives all that is selected an emphasis, or takes it away where all of it has it. */
export function emphasise(word: string, reach: Reach): void {
  const { model, selection } = useWorkspace.getState()
  const view = currentView()
  if (!view || selection.length === 0) return
  const [first] = selection
  const only = selection.length === 1 && first !== undefined ? model.entities.get(first)?.name : undefined
  const who = only === undefined ? `${selection.length} facts` : `“${only}”`
  const steps: Step[] =
    reach === 'view'
      ? toggled(view, selection, word).map(({ path, value }) => setView(view.id, path, value))
      : everywhere(word)
  const isTaken = steps.every((step) => 'value' in step && step.value === null)
  make({ label: `${isTaken ? 'No longer ' : ''}${word}: ${who}`, steps })
}

function everywhere(word: string): Step[] {
  const { model, selection } = useWorkspace.getState()
  const facts = selection.flatMap((id) => model.entities.get(id) ?? model.relations.get(id) ?? [])
  const isOn = facts.every(({ fields }) => fields['emphasis'] === word)
  return facts.map(({ id }) => ({
    do: model.entities.has(id) ? 'set-entity' : 'set-relation',
    id,
    path: 'fields.emphasis',
    value: isOn || word === PLAIN ? null : word,
  }))
}

/** Writes a rule at a place of the list, at its end where there is none yet; an empty text takes it away. Answers why not, in words. */
export function writeRule(view: View, at: number, text: string): string | undefined {
  const typed = text.trim().replace(/\s+/g, ' ')
  const rules = rulesOf(view)
  if (typed === (rules[at] ?? '')) return undefined
  if (typed !== '') {
    const read = readRule(typed)
    if ('refused' in read) return read.refused
    if (at >= MOST_RULES) return `A view has ${MOST_RULES} rules at most.`
  }
  const next =
    typed === '' ? rules.filter((_, i) => i !== at) : at < rules.length ? rules.with(at, typed) : [...rules, typed]
  const label = typed === '' ? `No longer “${rules[at] ?? ''}”` : `Emphasis: ${typed}`
  make({ label, steps: [setView(view.id, 'look.rules', next.length > 0 ? next : null)] })
  return undefined
}

export function setLetters(view: View, on: boolean): void {
  make({ label: on ? 'Letters beside colours' : 'No letters', steps: [setView(view.id, 'look.letters', on || null)] })
}

/** The emphases that were given by hand in a view or stand on what it may draw, and what was said that they mean. */
export function meaningsOf(view: View): readonly { readonly word: string; readonly means: string }[] {
  const { entities, relations } = useWorkspace.getState().model
  const isThere = (id: Id) => entities.has(id) || relations.has(id)
  const words = new Set(
    Object.entries(view.look).flatMap(([key, value]) =>
      key.startsWith('emphasis ') && Array.isArray(value) && isThere(key.slice('emphasis '.length) as Id)
        ? (value as readonly string[])
        : [],
    ),
  )
  return EMPHASES.filter((word) => words.has(word)).map((word) => ({
    word,
    means: typeof view.look[`means ${slugOf(word)}`] === 'string' ? String(view.look[`means ${slugOf(word)}`]) : '',
  }))
}

export function setMeaning(view: View, word: string, means: string): void {
  const text = means.trim()
  if (text.length > 400) return notify('A legend’s line has 400 characters at most.', 'refusal')
  make({
    label: text === '' ? `What ${word} means is not said` : `${word}: ${text}`,
    steps: [setView(view.id, `look.means ${slugOf(word)}`, text === '' ? null : text)],
  })
}
