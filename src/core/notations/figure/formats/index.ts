import type { FileExport, FileImport } from '../../../notation'
import { markdownExport } from './markdown'
import { opmlExport } from './opml'
import { textExport } from './text'

export const exports: readonly FileExport[] = [textExport, markdownExport, opmlExport]

export const files: readonly FileImport[] = [
  {
    id: 'text',
    title: 'Text',
    extensions: ['.txt'],
    load: async () => ({ read: (await import('./text')).readText }),
  },
  {
    id: 'markdown',
    title: 'Markdown',
    extensions: ['.md', '.markdown'],
    load: async () => ({ read: (await import('./readMarkdown')).readMarkdown }),
  },
  {
    id: 'opml',
    title: 'OPML',
    extensions: ['.opml', '.xml'],
    load: async () => ({ read: (await import('./readOpml')).readOpml }),
  },
]
