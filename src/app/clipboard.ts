import { notify } from './store/state'

/** Puts a text on the clipboard and says so, or that the browser does not allow it: over plain HTTP from elsewhere there is none. */
export async function copyText(text: string, said: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text)
    notify(said)
  } catch {
    notify('The browser does not allow copying here.', 'refusal')
  }
}
