import type { FileExport } from '../../../notation'

/** What writes it reads it back to see what is lost, and comes with a library for that. */
export const xmiExport: FileExport = {
  id: 'xmi',
  title: 'XMI 2.5.1',
  extension: '.xmi',
  mediaType: 'application/vnd.xmi+xml',
  write: async (model, _view, day) => (await import('./xmi')).writeXmi(model, day),
}
