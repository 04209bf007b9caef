import type { Day, Model, View } from '../../../model'
import type { FileExport } from '../../../notation'
import { linesOn } from '../structure'
import { lineOf, saidOf } from '../words'

/** Lines as a Markdown list under the title (CommonMark 0.31, task items as many programs write them). */
export const markdownExport = {
  id: 'markdown',
  title: 'Markdown list',
  extension: '.md',
  mediaType: 'text/markdown',
  write: writeMarkdown,
} satisfies FileExport

/** Signs that mean something within a line of Markdown, and those that do at its front. */
const SIGNS = /[\\`*_[\]<>#|~&]/g
const FRONT = /^([-+=]|\d{1,9}(?=[.)]))/
const escaped = (text: string): string =>
  text.replace(SIGNS, (sign) => `\\${sign}`).replace(FRONT, (front) => (/\d/.test(front) ? `${front}\\` : `\\${front}`))

function writeMarkdown(model: Model, view: View, day: Day): string {
  const { figure, all } = linesOn(model, view, day)
  const lines = all.map(({ entity, depth }) => {
    const { name, fields } = saidOf(entity)
    const { done, emphasis, link, ...rest } = fields
    // What Markdown has a sign for stands as that sign.
    const isSigned = emphasis === undefined || emphasis === 'strong' || emphasis === 'quiet'
    const told = lineOf({ name, fields: isSigned ? rest : { ...rest, emphasis } }, '')
    const task = done === true ? '[x] ' : done === false ? '[ ] ' : ''
    const words =
      emphasis === 'strong' ? `**${escaped(told)}**` : emphasis === 'quiet' ? `*${escaped(told)}*` : escaped(told)
    return `${'  '.repeat(depth)}- ${task}${words}${link === undefined ? '' : ` <${String(link)}>`}`
  })
  return `# ${escaped(figure?.name ?? view.title)}\n\n${lines.join('\n')}\n`
}
