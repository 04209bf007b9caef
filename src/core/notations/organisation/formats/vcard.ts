import type { Day, Model, View } from '../../../model'
import type { FileExport } from '../../../notation'
import { structureOn, unitName, walk } from '../structure'

/** Every holder of a position as a vCard 4.0 (RFC 6350). O(positions). */
export const vcardExport = {
  id: 'vcard',
  title: 'vCard',
  extension: '.vcf',
  mediaType: 'text/vcard',
  write: writeCards,
} satisfies FileExport

function writeCards(model: Model, _view: View, day: Day): string {
  const structure = structureOn(model, day)
  const done = new Set<string>()
  const cards = walk(structure).flatMap(({ id }) => {
    const post = structure.posts.get(id)
    return (post?.holders ?? []).flatMap(({ person }) => {
      if (!post || done.has(person.id)) return []
      done.add(person.id)
      const words = person.name.trim().split(/\s+/)
      const unit = unitName(model, post.position)
      const { email } = person.fields
      const { location } = post.position.fields
      const lines = [
        'BEGIN:VCARD',
        'VERSION:4.0',
        `UID:${escaped(person.id)}`,
        `FN:${escaped(person.name)}`,
        `N:${escaped(words.at(-1) ?? '')};${escaped(words.slice(0, -1).join(' '))};;;`,
        `ORG:${[model.name, ...(unit === undefined ? [] : [unit])].map(escaped).join(';')}`,
        `TITLE:${escaped(post.position.name)}`,
        ...(typeof email === 'string' ? [`EMAIL;TYPE=work:${escaped(email)}`] : []),
        ...(typeof location === 'string' ? [`ADR;TYPE=work:;;;${escaped(location)};;;`] : []),
        'END:VCARD',
      ]
      return lines.map(folded).join('\r\n')
    })
  })
  return cards.map((card) => `${card}\r\n`).join('')
}

const escaped = (text: string): string => text.replace(/[\\,;]/g, '\\$&').replace(/\r\n|\r|\n/g, '\\n')

const FOLD = 75

/** Lines of at most 75 octets; the next one begins with a space. A letter is never cut in two. */
function folded(line: string): string {
  const parts: string[] = []
  let part = ''
  let octets = 0
  for (const letter of line) {
    const size = new TextEncoder().encode(letter).length
    if (octets + size > FOLD) {
      parts.push(part)
      part = ' '
      octets = 1
    }
    part += letter
    octets += size
  }
  return [...parts, part].join('\r\n')
}
