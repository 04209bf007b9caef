import type { Id, View } from '../core/model'
import { isRefusal, pictureOf } from '../core/notation'
import { handlings } from '../core/notations/handling'
import { copyText } from './clipboard'
import { addressesOf, save, slug } from './picture'
import { broughtBy, portionOf, repeating } from './store/asking'
import { carryOut, make } from './store/changes'
import { select, showView } from './store/shown'
import { notify, useWorkspace } from './store/state'
import { ApiError, sendBytes } from './sync/api'

/** Facts as a text that another workspace takes: with what they name, and their pictures. */
async function textOf(view: Id | undefined, ids: readonly Id[]): Promise<{ text: string; facts: number } | undefined> {
  const { id } = useWorkspace.getState()
  const bare = await portionOf(view, ids)
  if (!bare) notify('It is not ready yet. Try again.', 'refusal')
  if (!bare || bare.pictures.length === 0) return bare
  return portionOf(view, ids, Object.fromEntries(await addressesOf(id, bare.pictures)))
}

/** What is larger is read by nobody at once. */
const MOST_BYTES = 40_000_000

const inWords = (facts: number): string => `${facts.toLocaleString('en')} ${facts === 1 ? 'fact' : 'facts'}`

/** Copies what is selected, with all that it names: pasted on the sheet of another workspace, it is there, too. */
export async function copyFacts(ids: readonly Id[]): Promise<void> {
  const told = await textOf(undefined, ids)
  if (told) await copyText(told.text, `${inWords(told.facts)} copied. Paste them on the sheet of another workspace.`)
}

export async function copyView(view: View): Promise<void> {
  const told = await textOf(view.id, [])
  if (told)
    await copyText(
      told.text,
      `“${view.title}” is copied with ${inWords(told.facts)}. Paste it on the sheet of another workspace.`,
    )
}

export async function saveView(view: View): Promise<void> {
  const told = await textOf(view.id, [])
  if (!told) return
  save(new Blob([told.text], { type: 'application/json' }), `${slug(view.title)}.skivel.json`)
  notify(`“${view.title}” is saved with ${inWords(told.facts)}.`)
}

/** Whether a text is that of facts, by its beginning. */
export const isPortion = (text: string): boolean => /^\s*\{\s*"format"\s*:\s*"skivel/.test(text.slice(0, 200))

/** Takes facts of another workspace in, as one change. */
export async function bringIn(text: string): Promise<void> {
  const { id } = useWorkspace.getState()
  if (text.length > MOST_BYTES) return notify('This is more than 40 MB of facts.', 'refusal')
  const brought = await broughtBy(text)
  if (isRefusal(brought)) return notify(brought.refused, 'refusal')
  try {
    for (const address of Object.values(brought.pictures))
      await sendBytes(`/api/workspaces/${id}/assets?shape=kept`, bytesOf(address))
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    // The facts are worth more than their pictures: they come without them.
    notify(`A picture could not be brought along: ${error.message}`, 'refusal')
  }
  if (!make(brought.change)) return
  const [view] = brought.views
  if (view !== undefined) showView(view)
  else select(brought.change.steps.flatMap((step) => (step.do === 'add-entity' ? step.entity.id : [])))
  const known = brought.known > 0 ? `, ${brought.known.toLocaleString('en')} were here already` : ''
  notify(`${inWords(brought.added)} brought in${known}. Ctrl Z takes them back.`)
}

/** What an address holds. The page may not ask for such an address as it asks a server. */
const bytesOf = (address: string): Blob =>
  new Blob([Uint8Array.from(atob(address.slice(address.indexOf(',') + 1)), (letter) => letter.charCodeAt(0))], {
    type: 'image/jpeg',
  })

/** Whether a file may be a picture that carries facts. */
export const isPicture = ({ name, type }: File): boolean =>
  /\.(png|svg|pdf)$/i.test(name) || ['image/png', 'image/svg+xml', 'application/pdf'].includes(type)

/** Takes the facts of a picture; answers whether it carries any. What reads them is loaded when there is something to read. */
export async function takeCarried(file: File): Promise<boolean> {
  const { takePicture } = await import('./carried')
  return takePicture(file, bringIn)
}

/** A file of facts, or a picture that carries them, that was chosen or dropped. */
export async function bringFile(file: File): Promise<void> {
  if (isPicture(file)) {
    if (!(await takeCarried(file))) notify(`“${file.name}” carries no facts.`, 'refusal')
    return
  }
  if (file.size > MOST_BYTES) return notify(`“${file.name}” is larger than 40 MB.`, 'refusal')
  const text = await file.text()
  if (isPortion(text)) await bringIn(text)
  else
    notify(
      `“${file.name}” is no file of facts. These end in “.skivel.json”, or are pictures that carry them.`,
      'refusal',
    )
}

export function chooseFacts(): void {
  const input = document.createElement('input')
  input.type = 'file'
  input.accept = '.json,.png,.svg,.pdf'
  input.onchange = () => {
    const [file] = input.files ?? []
    if (file) void bringFile(file)
  }
  input.click()
}

/** Offers a view as something to begin with, as long as it says so: with a line that says what for. */
export function offerAsStarter(view: View, on: boolean): void {
  const good = view.caption ?? pictureOf(handlings, view)?.good ?? view.title
  const value = on ? good.slice(0, 400) : null
  const label = on ? `Offer “${view.title}” as a starter` : `“${view.title}” is no starter`
  if (make({ label, steps: [{ do: 'set-view', id: view.id, path: 'look.starter', value }] }) && on)
    notify(`“${view.title}” is offered under “New view” from now on.`)
}

/** Begins once more with the facts of a view. */
export async function beginAgain(view: View): Promise<void> {
  carryOut(await repeating(view.id))
}
