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
  const { figure, all } = linesOn(model, view, day)
  const lines: string[] = []
  // Elements that are open, the outermost first.
  const open: Part[] = []
  const close = (depth: number) => {
    for (let one = open.at(-1); one && one.depth >= depth; one = open.at(-1)) {
      lines.push(`${indentOf(one)}</outline>`)
      open.pop()
    }
  }
  for (const one of all) {
    close(one.depth)
    if (one.parts.length === 0) lines.push(`${indentOf(one)}<outline ${attributesOf(one)}/>`)
    else {
      lines.push(`${indentOf(one)}<outline ${attributesOf(one)}>`)
      open.push(one)
    }
  }
  close(0)
  return `<?xml version="1.0" encoding="UTF-8"?>
<opml version="2.0" xmlns:f="${SPACE}">
  <head>
    <title>${escape(figure?.name ?? view.title)}</title>
  </head>
  <body>
${lines.join('\n')}
  </body>
</opml>
`
}

const indentOf = ({ depth }: Part): string => '  '.repeat(Math.min(depth, MOST_INDENT) + 2)
const MOST_INDENT = 40

function attributesOf({ entity }: Part): string {
  const said = saidOf(entity)
  const line = lineOf(said, '')
  const { link } = said.fields
  return [
    `text="${attribute(entity.name)}"`,
    ...(link === undefined ? [] : ['type="link"', `url="${attribute(String(link))}"`]),
    ...(line === entity.name ? [] : [`f:line="${attribute(line)}"`]),
  ].join(' ')
}

/** Line ends within an attribute are read as spaces unless they stand as numbers. */
const attribute = (text: string): string => escape(text).replace(/[\n\r\t]/g, (sign) => `&#${sign.charCodeAt(0)};`)
