import { isSquare } from '../core/scene'

/** The faces of Chinese, Japanese and Korean, and where their files are. */
const arriving = () => import('./squareFaces')

let isWanted = false

/** Makes letters of Chinese, Japanese and Korean known to the page from the first text on that has any: their fonts come in some hundred files. */
export function noteLetters(text: string): void {
  if (isWanted || !isSquare(text)) return
  isWanted = true
  void arriving()
    .then(({ showSquare }) => showSquare())
    .catch((error: unknown) => {
      // What could not be fetched is asked for again with the next text; until then the machine’s own fonts show it.
      if (!(error instanceof TypeError)) throw error
      isWanted = false
    })
}

/** @throws TypeError where they cannot be fetched */
export const squareFor = async (text: string) => (isSquare(text) ? await arriving() : undefined)

if (typeof window !== 'undefined') {
  addEventListener('input', ({ target }) => {
    if (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) noteLetters(target.value)
  })
  if (document.readyState === 'loading')
    addEventListener('DOMContentLoaded', () => noteLetters(document.body.textContent))
  else noteLetters(document.body.textContent)
}
