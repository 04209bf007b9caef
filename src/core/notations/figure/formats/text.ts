import { listText, readList, type FileExport, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { outline } from '../outline'
import { figureFrom } from './bring'

/** The outline as it stands. */
export const textExport = {
  id: 'text',
  title: 'Text',
  extension: '.txt',
  mediaType: 'text/plain',
  write: (model, view, day) => `${listText(outline.lines(model, view, day))}\n`,
} satisfies FileExport

export function readText(wish: Wish, text: string): ImportedFile | Refusal {
  const lines = readList(text)
  return 'refused' in lines ? lines : figureFrom(wish, undefined, lines)
}
