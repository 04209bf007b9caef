import type { Day, Model, View } from '../../../model'
import type { FileExport } from '../../../notation'
import { escape } from '../../../scene'
import { linesOn, type Part } from '../structure'
import { lineOf, saidOf } from '../words'

/** Lines as an outline that other programs read: OPML 2.0, with all that a line says in an attribute of our own namespace. */
export const opmlExport = {
  id: 'opml',
  title: 'OPML outline',
  extension: '.opml',
  mediaType: 'text/x-opml',
  write: writeOpml,
} satisfies FileExport

const SPACE = 'urn:skivel:figure'

function writeOpml(model: Model, view: View, day: Day): string {
  const { figure, tops } = linesOn(model, view, day)
  const outline = (one: Part, indent: string): string => {
    const said = saidOf(one.entity)
    const line = lineOf(said, '')
    const { link } = said.fields
    const attributes = [
      `text="${attribute(one.entity.name)}"`,
      ...(link === undefined ? [] : ['type="link"', `url="${attribute(String(link))}"`]),
      ...(line === one.entity.name ? [] : [`f:line="${attribute(line)}"`]),
    ].join(' ')
    if (one.parts.length === 0) return `${indent}<outline ${attributes}/>`
    return `${indent}<outline ${attributes}>\n${one.parts.map((next) => outline(next, `${indent}  `)).join('\n')}\n${indent}</outline>`
  }
  return `<?xml version="1.0" encoding="UTF-8"?>
<opml version="2.0" xmlns:f="${SPACE}">
  <head>
    <title>${escape(figure?.name ?? view.title)}</title>
  </head>
  <body>
${tops.map((one) => outline(one, '    ')).join('\n')}
  </body>
</opml>
`
}

/** Line ends within an attribute are read as spaces unless they stand as numbers. */
const attribute = (text: string): string => escape(text).replace(/[\n\r\t]/g, (sign) => `&#${sign.charCodeAt(0)};`)
