import type { Id, Step, StepValue, View } from '../core/model'
import { MOST_NOTES, notesIn, noteWords, readRegion, setView, type ViewNote } from '../core/notation'
import type { Point, Scene } from '../core/scene'
import { sendPicture } from './images'
import { make } from './store/changes'
import { newId, notify, useWorkspace } from './store/state'

const setLook = ({ id }: View, path: string, value: StepValue): Step => setView(id, `look.${path}`, value)

/** Something that stands around the picture, or no longer. */
export function setAround(view: View, path: 'heading' | 'asOf' | 'house', label: string, on: boolean): void {
  make({ label: on ? label : `No ${label.toLowerCase()}`, steps: [setLook(view, path, on || null)] })
}

export function setSource(view: View, text: string): void {
  const source = text.trim()
  if (source === (view.look['source'] ?? '')) return
  make({
    label: source === '' ? 'No source' : `Source: ${source.slice(0, 60)}`,
    steps: [setLook(view, 'source', source || null)],
  })
}

export function setGround(view: View, ground: string): void {
  make({ label: `Ground: ${ground}`, steps: [setLook(view, 'ground', ground === 'none' ? null : ground)] })
}

export function setStrength(view: View, strength: number): void {
  const value = Math.min(100, Math.max(1, Math.round(strength)))
  make({ label: `Ground at ${value} %`, steps: [setLook(view, 'strength', value)] }, `strength ${view.id}`)
}

/** Two corners in degrees, or nothing. Answers whether it is a region. */
export function setRegion(view: View, text: string): boolean {
  const region = text.trim()
  if (region !== '' && !readRegion(region)) return false
  if (region !== (view.look['region'] ?? ''))
    make({
      label: region === '' ? 'Map around the sites' : `Map of ${region}`,
      steps: [setLook(view, 'region', region || null)],
    })
  return true
}

/** A picture that lies behind the view. */
export async function takeGround(view: View, file: File): Promise<void> {
  const asset = await sendPicture(file, 'whole')
  if (asset === undefined) return
  make({ label: 'A picture behind it', steps: [setLook(view, 'picture', asset), setLook(view, 'ground', 'picture')] })
}

/** The mark of one’s own house: one for the workspace, shown where a view wants it. */
export async function takeHouse(view: View, file: File): Promise<void> {
  const asset = await sendPicture(file, 'whole')
  if (asset === undefined) return
  make({
    label: 'The mark of the house',
    steps: [{ do: 'set-workspace', path: 'look.mark', value: asset }, setLook(view, 'house', true)],
  })
}

/** A new note for readers, about what is selected, or nothing in particular. Answers its id. */
export function addNote(view: View, words: string, fact: Id | undefined): string | undefined {
  const notes = notesIn(view)
  if (notes.length >= MOST_NOTES) {
    notify(`A view has ${MOST_NOTES} notes at most.`, 'refusal')
    return undefined
  }
  const id = newId()
  const order = (notes.at(-1)?.order ?? 0) + 1
  const value = noteWords({ order, words, ...(fact === undefined ? {} : { fact }) })
  return make({ label: `Note: ${words.slice(0, 60)}`, steps: [setLook(view, `note ${id}`, value)] }) ? id : undefined
}

/** Other words for a note; empty takes it away. */
export function writeNote(view: View, note: ViewNote, words: string): void {
  const text = words.trim()
  if (text === note.words) return
  if (text.length > 400) return notify('A note for readers has 400 characters at most.', 'refusal')
  make({
    label: text === '' ? `No note “${note.words.slice(0, 40)}”` : `Note: ${text.slice(0, 60)}`,
    steps: [setLook(view, `note ${note.id}`, text === '' ? null : noteWords({ ...note, words: text }))],
  })
}

/** What a note is about: a fact, a place, or nothing in particular. */
export function tieNote(
  view: View,
  { id, order, words }: ViewNote,
  about: { fact?: Id; at?: { x: number; y: number } },
): void {
  make({
    label: `What the note is about: ${words.slice(0, 40)}`,
    steps: [setLook(view, `note ${id}`, noteWords({ order, words, ...about }))],
  })
}

export function moveNote(view: View, note: ViewNote, by: -1 | 1): void {
  const notes = notesIn(view)
  const other = notes[notes.findIndex(({ id }) => id === note.id) + by]
  if (!other) return
  make({
    label: `A note ${by < 0 ? 'earlier' : 'later'}`,
    steps: [
      setLook(view, `note ${note.id}`, noteWords({ ...note, order: other.order })),
      setLook(view, `note ${other.id}`, noteWords({ ...other, order: note.order })),
    ],
  })
}

/** What is being pointed at is the place of what is about to be said, and no note’s. */
export const POINTING = 'comment'

/** Ties the note whose place is being pointed at, or what is about to be said, to a point of the scene; answers whether there was one. */
export function placeNote(view: View, { bounds, picture = bounds }: Scene, { x, y }: Point): boolean {
  const { placing } = useWorkspace.getState()
  if (placing === undefined) return false
  const at = { x: x - picture.x, y: y - picture.y }
  if (placing === POINTING) {
    useWorkspace.setState({ placing: undefined, pointed: { x: Math.round(at.x), y: Math.round(at.y) } })
    return true
  }
  useWorkspace.setState({ placing: undefined })
  const note = notesIn(view).find(({ id }) => id === placing)
  if (note) tieNote(view, note, { at })
  return note !== undefined
}
